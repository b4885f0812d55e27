"""Photographs: only what is seen on them survives, and what is none is refused."""

from __future__ import annotations

import base64
import contextlib
import io
from typing import Any

import pytest
from PIL import Image, ImageChops, ImageOps, ImageStat

from ringcraft.errors import CraftError
from tests.resizes import picture
from tests.workshop.conftest import Shop
from workshop.jobs.models import JobPhoto
from workshop.photos import pictures
from workshop.photos.models import Photo, StoredFile


def send(shop: Shop, job: Any, image: str, side: str = "before") -> Any:
    return shop.send("post", f"/jobs/{job.pk}/photos", {"side": side, "image": image})


def with_camera_data() -> str:
    exif = Image.Exif()
    exif[0x010F], exif[0x0110], exif[0x0112] = "A Camera", "Model 7", 6  # maker, model, and turned a quarter
    exif.get_ifd(0x8825)[2] = (52.0, 30.0, 0.0)  # where it was taken
    file = io.BytesIO()
    Image.new("RGB", (80, 50), "#b8a58a").save(file, "JPEG", exif=exif, comment=b"secret place")
    return base64.b64encode(file.getvalue()).decode()


def test_a_photograph_is_kept_drawn_anew_and_handed_out(ours: Shop) -> None:
    job = ours.job()
    answer = send(ours, job, with_camera_data())
    assert answer.status_code == 201
    kept = answer.json()["photos"][0]
    assert (kept["side"], kept["width"], kept["height"]) == ("before", 50, 80)  # turned upright
    shown = ours.send("get", f"/jobs/{job.pk}/photos/{kept['id']}")
    assert shown["Content-Type"] == "image/jpeg"
    assert shown["Cache-Control"] == "no-store"
    opened = Image.open(io.BytesIO(shown.content))
    assert opened.format == "JPEG"
    assert not opened.getexif()
    assert b"secret" not in shown.content
    assert b"Camera" not in shown.content


def test_a_picture_with_something_behind_it_is_only_a_picture_after(ours: Shop) -> None:
    job = ours.job()
    data = base64.b64decode(picture()) + b"<script>alert(1)</script>"
    kept = send(ours, job, base64.b64encode(data).decode()).json()["photos"][0]
    assert b"script" not in ours.send("get", f"/jobs/{job.pk}/photos/{kept['id']}").content


@pytest.mark.parametrize("kind", ["PNG", "JPEG", "WEBP"])
def test_what_cameras_and_screens_make_is_read(ours: Shop, kind: str) -> None:
    assert send(ours, ours.job(), picture(kind=kind)).status_code == 201


def test_a_large_one_is_made_small_enough(ours: Shop) -> None:
    kept = send(ours, ours.job(), picture(3000, 1500)).json()["photos"][0]
    assert (kept["width"], kept["height"]) == (1600, 800)


def _cut_short() -> str:
    return base64.b64encode(base64.b64decode(picture(400, 300, "JPEG"))[:-300]).decode()


def _script() -> str:
    return base64.b64encode(b"#!/bin/sh\nrm -rf /\n" * 20).decode()


REFUSED = [
    (_script, "no picture"),
    (_cut_short, "broken or cut short"),
    (lambda: picture(10_000, 10_000), "100 megapixels"),
    (lambda: picture(20, 20), "so small"),
    (lambda: picture(kind="GIF"), "no picture"),
    (lambda: base64.b64encode(b"<svg xmlns='http://www.w3.org/2000/svg'/>").decode(), "no picture"),
    (lambda: "not base64!", "no picture"),
    (lambda: "", "nothing in that file"),
]


@pytest.mark.parametrize(("made", "said"), REFUSED, ids=[said for _, said in REFUSED])
def test_what_is_no_picture_is_refused_and_nothing_is_kept(ours: Shop, made: Any, said: str) -> None:
    answer = send(ours, ours.job(), made())
    assert answer.status_code == 422
    assert answer.json()["errors"][0]["field"] == "image"
    assert said in answer.json()["errors"][0]["message"]
    assert not Photo.objects.exists()
    assert not StoredFile.objects.exists()


def test_too_many_bytes_are_refused_before_they_are_looked_at(monkeypatch: pytest.MonkeyPatch) -> None:
    monkeypatch.setattr(pictures, "MOST_BYTES", 10)
    with pytest.raises(ValueError, match="too large"):
        pictures.picture_of(base64.b64decode(picture()))


def test_a_body_beyond_the_door_is_413(ours: Shop) -> None:
    assert send(ours, ours.job(), "A" * 2_100_000).status_code == 413


def test_one_that_is_taken_away_is_gone_file_and_all(ours: Shop) -> None:
    job = ours.job()
    kept = send(ours, job, picture(), "after").json()["photos"][0]
    answer = ours.send("delete", f"/jobs/{job.pk}/photos/{kept['id']}")
    assert answer.json()["photos"] == []
    assert not StoredFile.objects.exists()
    assert ours.send("get", f"/jobs/{job.pk}/photos/{kept['id']}").status_code == 404


def test_only_two_sides_and_so_many(ours: Shop, monkeypatch: pytest.MonkeyPatch) -> None:
    job = ours.job()
    assert send(ours, job, picture(), "beside").json()["errors"][0]["field"] == "side"
    monkeypatch.setattr("workshop.jobs.photos.MOST_PHOTOS", 1)
    assert send(ours, job, picture()).status_code == 201
    assert "than a job needs" in send(ours, job, picture()).json()["errors"][0]["message"]


def test_a_photograph_of_another_job_is_not_handed_out(ours: Shop) -> None:
    one, other = ours.job(), ours.job()
    kept = send(ours, one, picture()).json()["photos"][0]
    assert ours.send("get", f"/jobs/{other.pk}/photos/{kept['id']}").status_code == 404
    assert ours.send("delete", f"/jobs/{other.pk}/photos/{kept['id']}").status_code == 404
    assert JobPhoto.objects.count() == 1


@pytest.mark.parametrize("turn", range(1, 9))
def test_every_way_a_camera_is_held_comes_out_upright(turn: int) -> None:
    """Against Pillow's own turning, as a reference library."""
    drawn = Image.new("RGB", (64, 40), "white")
    drawn.paste("black", (0, 0, 20, 10))
    exif = Image.Exif()
    exif[pictures.ORIENTATION] = turn
    file = io.BytesIO()
    drawn.save(file, "PNG", exif=exif)
    ours = Image.open(io.BytesIO(pictures.picture_of(file.getvalue()).jpeg))
    theirs = ImageOps.exif_transpose(Image.open(io.BytesIO(file.getvalue()))).convert("RGB")
    assert ours.size == theirs.size
    assert ImageStat.Stat(ImageChops.difference(ours, theirs)).mean[0] < 3


def test_damaged_notes_of_a_camera_break_nothing(ours: Shop) -> None:
    """Each byte of the notes changed in turn: the picture is kept or refused, never a fault."""
    whole = base64.b64decode(with_camera_data())
    begin = whole.index(b"Exif")
    for at in range(begin, begin + 160):
        for value in (0, 255, whole[at] ^ 0x10):
            hurt = whole[:at] + bytes([value]) + whole[at + 1 :]
            with contextlib.suppress(CraftError):
                made = pictures.picture_of(hurt)
                assert {made.width, made.height} == {80, 50}


def test_a_picture_is_drawn_before_its_job_is_held(ours: Shop, monkeypatch: pytest.MonkeyPatch) -> None:
    from workshop.jobs import photos

    order: list[str] = []
    draw, hold = photos.picture_of, photos.locked
    monkeypatch.setattr(photos, "picture_of", lambda data: order.append("drawn") or draw(data))
    monkeypatch.setattr(photos, "locked", lambda *args: order.append("held") or hold(*args))
    assert send(ours, ours.job(), picture()).status_code == 201
    assert order == ["drawn", "held"]


def test_a_strangers_job_draws_nothing(ours: Shop, theirs: Shop, monkeypatch: pytest.MonkeyPatch) -> None:
    from workshop.jobs import photos

    monkeypatch.setattr(photos, "picture_of", lambda data: pytest.fail("it was drawn"))
    assert send(theirs, ours.job(), picture()).status_code == 404
