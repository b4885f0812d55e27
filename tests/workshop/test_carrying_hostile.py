"""What comes in as an archive and is none: refused in a sentence, and nothing of it is left."""

from __future__ import annotations

import hashlib
import json
import zipfile
from collections.abc import Callable
from pathlib import Path
from typing import Any

import pytest
from django.db import transaction

from tests.full import full_shop
from tests.workshop.conftest import PASSWORD
from tests.workshop.test_carrying import others
from tests.workshop.test_erasing import everything
from workshop.safekeeping.carried import MANIFEST
from workshop.safekeeping.coming_in import ArchiveError, bring_in
from workshop.safekeeping.going_out import archive_of


def made_anew(path: Path, change: Callable[[dict[str, bytes]], None], *, mend: bool = True) -> Path:
    """The archive with other files, its sums made to fit: what a hostile hand would send."""
    with zipfile.ZipFile(path) as file:
        files = {name: file.read(name) for name in file.namelist()}
    change(files)
    if mend and MANIFEST in files:
        said = json.loads(files[MANIFEST])
        said["files"] = {n: hashlib.sha256(data).hexdigest() for n, data in files.items() if n != MANIFEST}
        for label, row in said["tables"].items():
            row["rows"] = files.get(f"tables/{label}.jsonl", b"").count(b"\n")
        files[MANIFEST] = json.dumps(said).encode()
    with zipfile.ZipFile(path, "w") as file:
        for name, data in files.items():
            file.writestr(name, data)
    return path


def first_row(label: str, **values: Any) -> Callable[[dict[str, bytes]], None]:
    """Its first row with other values."""

    def change(files: dict[str, bytes]) -> None:
        name = f"tables/{label}.jsonl"
        head, _, rest = files[name].partition(b"\n")
        files[name] = json.dumps(json.loads(head) | values).encode() + b"\n" + rest

    return change


@pytest.fixture(scope="module")
def archive(django_db_setup: None, django_db_blocker: Any) -> bytes:
    """The archive of a full workshop that is not here any more."""
    with django_db_blocker.unblock(), transaction.atomic():
        whole = b"".join(archive_of(full_shop(PASSWORD).workshop.pk))
        transaction.set_rollback(True)
    return whole


@pytest.fixture
def out(archive: bytes, db: None, tmp_path: Path) -> Path:
    (tmp_path / "out.zip").write_bytes(archive)
    return tmp_path / "out.zip"


def test_as_it_is_it_comes_in(out: Path) -> None:
    assert bring_in(out).wrong == []


@pytest.mark.parametrize("keep", [0, 100, 0.3, 0.9, 0.999])
def test_what_was_cut_short_is_refused(out: Path, keep: float) -> None:
    whole = out.read_bytes()
    out.write_bytes(whole[: int(keep * len(whole)) if keep < 1 else int(keep)])
    before = everything()
    with pytest.raises(ArchiveError):
        bring_in(out, {})
    assert everything() == before


def deep(files: dict[str, bytes]) -> None:
    files["tables/jobs.Job.jsonl"] = b'{"id": ' + b"[" * 200_000 + b"\n"


def no_picture(files: dict[str, bytes]) -> None:
    name = next(one for one in files if one.endswith(".jpg"))
    del files[name]


def beside(files: dict[str, bytes]) -> None:
    files["../../etc/passwd"] = b"x"


def another_sum(files: dict[str, bytes]) -> None:
    files["tables/jobs.Job.jsonl"] = files["tables/jobs.Job.jsonl"].replace(b"the", b"a")


@pytest.mark.parametrize(
    ("change", "mend"),
    [
        (deep, True),
        (no_picture, True),
        (beside, False),
        (another_sum, False),
        (lambda files: files.pop(MANIFEST), False),
        (lambda files: files.update({MANIFEST: b"[" * 200_000}), False),
        (lambda files: files.update({MANIFEST: b'{"format": "plain-shank-workshop", "tables": 7}'}), False),
        (lambda files: files.pop("tables/people.User.jsonl"), True),
        (first_row("jobs.Job", customer_id=10**30), True),
        (first_row("jobs.Job", customer_id=[]), True),
        (first_row("jobs.Job", number=-1), True),
        (first_row("jobs.Job", number=None), True),
        (first_row("jobs.Job", title="\ud800"), True),
        (first_row("jobs.Job", title="x" * 10_000), True),
        (first_row("jobs.Job", title=7), True),
        (first_row("jobs.Job", inside_mm=float("nan")), True),
        (first_row("jobs.Job", due="yesterday"), True),
        (first_row("jobs.Job", id="1"), True),
        (first_row("jobs.Job", nothing="of ours"), True),
        (first_row("people.User", role="king"), True),
        (first_row("people.User", preferences={"units": "furlongs"}), True),
        (first_row("people.Workshop", preferences={"units": []}), True),
        (first_row("people.Workshop", preferences=7), True),
        (first_row("people.User", workshop_id=None), True),
        (first_row("stock.Movement", mass_g="NaN"), True),
        (first_row("core.Event", after={"job_id": 10**40}, kind=[]), True),
    ],
)
def test_what_is_no_workshop_is_refused_and_leaves_nothing(
    out: Path, change: Callable[[dict[str, bytes]], None], mend: bool
) -> None:
    names = others(out)
    before = everything()
    made_anew(out, change, mend=mend)
    with pytest.raises(ArchiveError):
        bring_in(out, names)
    assert everything() == before


def test_an_archive_of_another_version_says_where_to_bring_it(out: Path) -> None:
    def older(files: dict[str, bytes]) -> None:
        said = json.loads(files[MANIFEST])
        files[MANIFEST] = json.dumps(said | {"migrations": said["migrations"][:-1], "engine": "0.0.9"}).encode()

    made_anew(out, older)
    with pytest.raises(ArchiveError, match=r"0\.0\.9.*upgrade there"):
        bring_in(out, {})
