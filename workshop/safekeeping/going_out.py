"""A workshop as one archive of open formats: a ZIP of JSON lines, a table each, its photographs, a list of it all.

It is written as it goes by, from one state of the records: nothing is held but a few rows, and what is cut short on
its way has no end and is refused where it is brought in.
"""

from __future__ import annotations

import hashlib
import io
import json
import zipfile
from collections.abc import Iterator
from contextlib import contextmanager
from datetime import date, datetime
from decimal import Decimal
from typing import Any

from django.db import connection, transaction
from django.utils import timezone

from ringcraft import __version__
from workshop.photos.models import Photo
from workshop.safekeeping.carried import (
    ALONG,
    BEHIND,
    FORMAT,
    MANIFEST,
    PHOTOGRAPHS,
    READ_ME,
    TABLES,
    VERSION,
    columns_of,
    migrations,
    model_of,
    rows_of,
)

AT_ONCE = 256_000  # bytes handed on together
ALWAYS = (1980, 1, 1, 0, 0, 0)  # a ZIP's own first day: the same records make the same files
TOLD = """A workshop's records, whole, without passwords, second factors and what is one installation's alone.

tables/*.jsonl    one table each, one row a line, as JSON (RFC 8259) in UTF-8; times are ISO 8601 in UTC,
                  figures with a fixed number of places are strings, ids say which row means which
photographs/      JPEG, by the id of their row in photos.Photo.jsonl
manifest.json     how many rows and which columns each table has, SHA-256 of every file, of which version it is,
                  which photographs the storage did not give

"plain-shank workshop-in FILE" brings it into another installation of the same version.
"""


@contextmanager
def one_state() -> Iterator[None]:
    """The records as they are at one moment, whatever is written meanwhile."""
    if not connection.in_atomic_block:  # a test's own transaction sees its own state
        with connection.cursor() as cursor:
            cursor.execute("SET TRANSACTION ISOLATION LEVEL REPEATABLE READ")
    with transaction.atomic():
        yield


def archive_of(workshop_id: int) -> Iterator[bytes]:
    """The archive of a workshop, piece by piece."""
    out = _Passing()
    with one_state(), zipfile.ZipFile(out, "w", zipfile.ZIP_DEFLATED) as file:
        sums: dict[str, str] = {}
        tables: dict[str, Any] = {}
        missing: list[int] = []
        _whole(file, READ_ME, TOLD.encode(), sums)
        for label in ALONG:
            name = f"{TABLES}/{label}.jsonl"
            digest, rows = hashlib.sha256(), 0
            columns = columns_of(model_of(label))
            with file.open(_entry(name), "w", force_zip64=True) as entry:
                for row in rows_of(workshop_id, label):
                    line = (json.dumps({one.attname: _plain(row, one.attname) for one in columns}) + "\n").encode()
                    digest.update(line)
                    entry.write(line)
                    rows += 1
                    if out.waiting >= AT_ONCE:
                        yield out.taken()
            sums[name] = digest.hexdigest()
            tables[label] = {"rows": rows, "columns": [one.attname for one in columns]}
        for photo in rows_of(workshop_id, "photos.Photo"):
            assert isinstance(photo, Photo)
            try:
                with photo.file.open("rb") as kept:
                    content = kept.read()
            except OSError:
                missing.append(photo.pk)  # its storage does not give it: that is said, and all the rest goes out
                continue
            _whole(file, f"{PHOTOGRAPHS}/{photo.pk}.jpg", content, sums)
            yield out.taken()
        said = {
            "format": FORMAT,
            "version": VERSION,
            "engine": __version__,
            "made_at": timezone.now().isoformat(),
            "migrations": migrations(),
            "tables": tables,
            "left_behind": BEHIND,
            "missing": missing,
            "files": sums,
        }
        file.writestr(_entry(MANIFEST), json.dumps(said, indent=1))
    yield out.taken()


class _Passing(io.RawIOBase):
    """Where the ZIP is written: it is handed on, and cannot be gone back in."""

    def __init__(self) -> None:
        super().__init__()
        self.parts: list[bytes] = []
        self.waiting = 0

    def writable(self) -> bool:
        return True

    def write(self, data: Any) -> int:
        piece = bytes(data)
        self.parts.append(piece)
        self.waiting += len(piece)
        return len(piece)

    def taken(self) -> bytes:
        """What was written since."""
        whole, self.parts, self.waiting = b"".join(self.parts), [], 0
        return whole


def _entry(name: str) -> zipfile.ZipInfo:
    entry = zipfile.ZipInfo(name, ALWAYS)
    entry.compress_type = zipfile.ZIP_STORED if name.endswith(".jpg") else zipfile.ZIP_DEFLATED
    entry.external_attr = 0o600 << 16
    return entry


def _whole(file: zipfile.ZipFile, name: str, content: bytes, sums: dict[str, str]) -> None:
    sums[name] = hashlib.sha256(content).hexdigest()
    file.writestr(_entry(name), content)


def _plain(row: Any, name: str) -> Any:
    value = getattr(row, name)
    if isinstance(value, Decimal):
        return str(value)
    if isinstance(value, datetime | date):
        return value.isoformat()
    if name == "file":
        return f"{PHOTOGRAPHS}/{row.pk}.jpg"
    return value
