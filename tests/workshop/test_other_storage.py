"""Photographs that another storage than the database holds: copied into a backup, and put back."""

from __future__ import annotations

import base64
import io
import json
from pathlib import Path

import pytest
from django.core.files.storage import storages
from django.core.management import CommandError, call_command
from pytest_django import Settings

from tests.resizes import picture
from tests.workshop.conftest import Shop
from workshop.jobs.photos import add_photo
from workshop.photos.models import Photo, StoredFile
from workshop.safekeeping.checking import NAMES, look_through


@pytest.fixture
def elsewhere(settings: Settings, tmp_path: Path) -> Path:
    """A storage on a disk of its own."""
    folder = tmp_path / "elsewhere"
    folder.mkdir()
    backend = {"BACKEND": "django.core.files.storage.FileSystemStorage", "OPTIONS": {"location": str(folder)}}
    settings.STORAGES = {**settings.STORAGES, "default": backend}
    assert str(folder) in str(getattr(storages["default"], "location", ""))
    return folder


def test_they_are_copied_counted_and_put_back(ours: Shop, elsewhere: Path, tmp_path: Path) -> None:
    photo = add_photo(ours.actor, ours.job(), "before", base64.b64decode(picture())).photos.get().photo
    assert StoredFile.objects.count() == 0
    content = (elsewhere / str(photo.file.name)).read_bytes()
    copied = tmp_path / "copied"
    copied.mkdir()
    said = io.StringIO()
    call_command("copy_files", copied, stdout=said)
    assert json.loads(said.getvalue()) == {"files": 1}
    assert look_through(copied).wrong == []
    (elsewhere / str(photo.file.name)).unlink()
    assert len(look_through().wrong) == 1
    call_command("copy_files", copied, "--back", stdout=io.StringIO())
    assert (elsewhere / str(photo.file.name)).read_bytes() == content
    assert look_through().wrong == []


def test_one_that_the_storage_does_not_give_stops_a_backup(ours: Shop, elsewhere: Path, tmp_path: Path) -> None:
    photo = add_photo(ours.actor, ours.job(), "before", base64.b64decode(picture())).photos.get().photo
    (elsewhere / str(photo.file.name)).unlink()
    with pytest.raises(CommandError, match="does not give"):
        call_command("copy_files", tmp_path, stdout=io.StringIO())


def test_what_is_not_what_was_written_is_not_put_back(ours: Shop, elsewhere: Path, tmp_path: Path) -> None:
    add_photo(ours.actor, ours.job(), "before", base64.b64decode(picture()))
    copied = tmp_path / "copied"
    copied.mkdir()
    call_command("copy_files", copied, stdout=io.StringIO())
    name = next(iter(json.loads((copied / NAMES).read_text()).values()))[0]
    (copied / name).write_bytes(b"another")
    assert len(look_through(copied).wrong) == 1
    (elsewhere / str(Photo.objects.get().file.name)).unlink()
    with pytest.raises(CommandError, match="not what was written"):
        call_command("copy_files", copied, "--back", stdout=io.StringIO())
