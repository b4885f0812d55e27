"""Bringing a workshop in from its archive: whole or not at all, with ids of this installation and its own numbers.

Nothing of it is seen before the last row and the last photograph are in and were looked through.
"""

from __future__ import annotations

import hashlib
import json
import re
import time
import uuid
import zipfile
from collections import Counter
from collections.abc import Iterator, Mapping
from dataclasses import dataclass, field
from pathlib import Path
from typing import Any, cast

from django.contrib.auth.hashers import make_password
from django.core.exceptions import ValidationError
from django.core.files.base import ContentFile
from django.core.files.storage import default_storage
from django.db import DatabaseError, connection, models, transaction

from ringcraft.errors import BadRequest
from workshop.people.accounts import USERNAME
from workshop.people.models import OWNER, ROLES, User, Workshop
from workshop.people.preferences import preferences_of
from workshop.photos.models import Photo
from workshop.photos.pictures import MOST_BYTES
from workshop.safekeeping.carried import (
    ALONG,
    FORMAT,
    IN_LINES,
    MANIFEST,
    NAMES_OF_THEIR_OWN,
    NOBODY,
    PHOTOGRAPHS,
    READ_ME,
    ROWS,
    TABLES,
    VERSION,
    columns_of,
    kinds,
    migrations,
    model_of,
)
from workshop.safekeeping.checking import look_through

LONGEST_LINE = 16_000_000  # bytes of one row: a plan has some 30,000
MOST_AT_ONCE = 2_000_000  # bytes of rows in one statement: a server takes 16 MB, and a letter may be four
LONGEST_LIST = 200_000_000  # bytes of the manifest
NOT_OURS = (DatabaseError, ValidationError, ValueError, TypeError, KeyError, OverflowError, RecursionError)
ERASED = re.compile(r"erased-[0-9a-f]{6}")


class ArchiveError(Exception):
    """An archive that cannot be brought in, said in one sentence."""


class TakenNames(ArchiveError):
    """Names to sign in with that somebody else has here: each needs another."""

    def __init__(self, names: list[str]) -> None:
        super().__init__(f"Somebody signs in here already as {', '.join(names)}: each needs another name.")
        self.names = names


@dataclass
class Came:
    """A workshop that came in: how much of it, and what was wrong with it before it went out, in words."""

    workshop: Workshop
    rows: int
    photographs: int
    wrong: list[str]


@dataclass
class _Ids:
    """The ids here of what had others there, by table."""

    of: dict[str, dict[int, int]] = field(default_factory=lambda: {label: {} for label in ALONG})
    batches: dict[str, str] = field(default_factory=dict)

    def batch(self, was: str) -> str:
        return self.batches.setdefault(was, uuid.uuid4().hex) if was else ""


def people_of(path: Path) -> list[str]:
    """The names to sign in with that are in an archive; raises ArchiveError."""
    with _opened(path) as file:
        return [str(row.get("username", "")) for row in _rows(file, "people.User", _manifest(file))]


def bring_in(path: Path, names: Mapping[str, str] | None = None) -> Came:
    """Bring a workshop in; ``names`` says who signs in by another name here. Raises ArchiveError, TakenNames."""
    written: list[str] = []
    try:
        with _opened(path) as file, transaction.atomic():
            cast(Any, connection).sends_in_pieces()
            return _Coming(file, dict(names or {}), written).whole()
    except NOT_OURS as problem:
        _forget(written)
        raise ArchiveError(f"What is in it is no workshop as it is kept here: {str(problem)[:300]}") from None
    except BaseException:
        _forget(written)
        raise


def _forget(written: list[str]) -> None:
    """Files of another storage do not go back with the records."""
    for name in written:
        default_storage.delete(name)


def _opened(path: Path) -> zipfile.ZipFile:
    try:
        return zipfile.ZipFile(path)
    except (OSError, zipfile.BadZipFile) as problem:
        raise ArchiveError(f"{path} is no whole archive: {problem}") from None


def _manifest(file: zipfile.ZipFile) -> dict[str, Any]:
    """What the archive says of itself; raises ArchiveError where that is not for here."""
    try:
        if file.getinfo(MANIFEST).file_size > LONGEST_LIST:
            raise ArchiveError("Its list is too long to be one.")
        said = json.loads(file.read(MANIFEST))
    except (KeyError, ValueError, RecursionError, zipfile.BadZipFile, NotImplementedError, RuntimeError):
        raise ArchiveError(
            "It has no list of what is in it: it is no workshop’s archive, or was cut short."
        ) from None
    if not isinstance(said, dict) or said.get("format") != FORMAT:
        raise ArchiveError("That is no workshop’s archive.")
    if said.get("version") != VERSION or said.get("migrations") != migrations():
        raise ArchiveError(
            f"It is of version {str(said.get('engine'))[:20]}, whose records have another shape: "
            "bring it into that version, and upgrade there."
        )
    shapes = {label: [one.attname for one in columns_of(model_of(label))] for label in ALONG}
    tables = said.get("tables")
    if not isinstance(tables, dict) or not all(isinstance(row, dict) for row in tables.values()):
        raise ArchiveError("Its tables are not those of this version.")
    if {one: row.get("columns") for one, row in tables.items()} != shapes:
        raise ArchiveError("Its tables are not those of this version.")
    listed = {READ_ME, *(f"{TABLES}/{label}.jsonl" for label in ALONG)}
    there = [one.filename for one in file.infolist() if one.filename != MANIFEST]
    files = said.get("files")
    if not isinstance(files, dict) or sorted(there) != sorted(files) or not listed <= set(there):
        raise ArchiveError("What is in it is not what its list says.")
    return said


def _rows(file: zipfile.ZipFile, label: str, said: dict[str, Any]) -> Iterator[dict[str, Any]]:
    """The rows of a table, one after another; raises ArchiveError where they are not those that went out."""
    name = f"{TABLES}/{label}.jsonl"
    digest, count = hashlib.sha256(), 0
    columns = set(said["tables"][label]["columns"])
    try:
        with file.open(name) as lines:
            while line := lines.readline(LONGEST_LINE):
                digest.update(line)
                row = json.loads(line)
                if not isinstance(row, dict) or set(row) != columns:
                    raise ArchiveError(f"Row {count + 1} of {label} is not as the list says.")
                count += 1
                yield row
    except (zipfile.BadZipFile, ValueError, RecursionError, NotImplementedError, RuntimeError, EOFError) as problem:
        raise ArchiveError(f"{name} cannot be read: {str(problem)[:200]}") from None
    if count != said["tables"][label]["rows"] or digest.hexdigest() != said["files"][name]:
        raise ArchiveError(f"{name} is not what went out.")


class _Coming:
    """One archive on its way in."""

    def __init__(self, file: zipfile.ZipFile, names: dict[str, str], written: list[str]) -> None:
        self.file, self.names, self.written = file, names, written
        self.said, self.ids, self.kinds = _manifest(file), _Ids(), kinds()
        self.photographs = 0

    def whole(self) -> Came:
        """All of it, looked through."""
        self._name_people()
        rows = sum(self._table(label) for label in ALONG)
        shops = list(self.ids.of["people.Workshop"].values())
        if len(shops) != 1:
            raise ArchiveError("It is not one workshop.")
        shop = Workshop.objects.get(pk=shops[0])
        self._rename_in_ways(shop)
        self._read_ways(shop)
        if not User.objects.filter(workshop=shop, role=OWNER, is_active=True).exists():
            raise ArchiveError("Nobody in it is the owner.")
        return Came(shop, rows, self.photographs, look_through(workshop_id=shop.pk).wrong)

    def _read_ways(self, shop: Workshop) -> None:
        """Ways that cannot be read would let nobody in."""
        shop.refresh_from_db()
        try:
            for user in User.objects.filter(workshop=shop):
                preferences_of(user, shop)
        except (BadRequest, AttributeError) as problem:
            raise ArchiveError(f"The ways in it cannot be read: {str(problem)[:200]}") from None

    def _name_people(self) -> None:
        there = [str(row["username"]) for row in _rows(self.file, "people.User", self.said)]
        asked = {was: self._new_token() if ERASED.fullmatch(was) else self.names.get(was, was) for was in there}
        for wrong in sorted(name for name in asked.values() if not USERNAME.fullmatch(name)):
            raise ArchiveError(f"“{wrong[:60]}” is no name to sign in with: letters and figures, at most 60.")
        here = set(User.objects.filter(username__in=asked.values()).values_list("username", flat=True))
        lower = {name.lower() for name in here}
        often = Counter(name.lower() for name in asked.values())
        taken = sorted(was for was, name in asked.items() if name.lower() in lower or often[name.lower()] > 1)
        if taken:
            raise TakenNames(taken)
        self.names = asked

    def _new_token(self) -> str:
        return f"erased-{uuid.uuid4().hex[:6]}"

    def _table(self, label: str) -> int:
        model, waiting, count = model_of(label), list[tuple[int, models.Model]](), 0
        size = 0
        for row in _rows(self.file, label, self.said):
            waiting.append((row[_key(model)], self._row(model, row)))
            count, size = count + 1, size + _size(row)
            if len(waiting) >= ROWS or size >= MOST_AT_ONCE or _to_itself(model):
                self._write(model, waiting)
                waiting, size = [], 0
        self._write(model, waiting)
        return count

    def _write(self, model: type[models.Model], waiting: list[tuple[int, models.Model]]) -> None:
        """Write rows as they are: no time of theirs is set to now."""
        if not waiting:
            return
        own = isinstance(model._meta.pk, models.AutoField)
        fields = [one for one in model._meta.concrete_fields if not (own and one.primary_key)]
        key = model._meta.pk
        made = model._base_manager._insert(  # type: ignore[attr-defined]
            [row for _, row in waiting],
            fields=fields,
            using="default",
            raw=True,
            returning_fields=[key] if own else None,
        )
        known = self.ids.of[model._meta.label]
        for (was, row), new in zip(waiting, made if own else [(one.pk,) for _, one in waiting], strict=True):
            if not isinstance(was, int) or was in known:
                raise ArchiveError(f"{model._meta.label} has a row twice, or one without an id.")
            known[was] = new[0]
            row.pk = new[0]

    def _row(self, model: type[models.Model], row: dict[str, Any]) -> models.Model:
        label = model._meta.label
        values = {one.attname: self._value(label, one, row[one.attname]) for one in columns_of(model)}
        if isinstance(model._meta.pk, models.AutoField):
            values.pop(_key(model))
        made = model(**values)
        if isinstance(made, User):
            made.username, made.password = self.names[str(row["username"])], make_password(None)
            if made.role not in ROLES:
                raise ArchiveError(f"“{made.role[:30]}” is no part to play here.")
        elif isinstance(made, Workshop):
            made.came_in = int(time.time())
        elif isinstance(made, Photo):
            self._photograph(made, row)
        elif label == "core.Event":
            self._line(made)
        return made

    def _value(self, label: str, one: models.Field[Any, Any], value: Any) -> Any:
        if isinstance(one, models.ForeignKey):
            return self._there(one.related_model._meta.label, value)
        if (label, one.attname) in NAMES_OF_THEIR_OWN:
            return self.ids.batch(str(value))
        if one.primary_key or isinstance(one, models.JSONField):
            return value
        if value is None and not one.null:
            raise ArchiveError(f"{label} has a row without {one.attname}.")
        if isinstance(one, models.TextField | models.CharField) and not isinstance(value, str | None):
            raise ArchiveError(f"{one.attname} of {label} is no text.")
        clean = one.to_python(value)
        one.run_validators(clean)
        return clean

    def _there(self, label: str, was: Any) -> int | None:
        """The id here of a row that another points to; it came in before."""
        if was is None:
            return None
        new = self.ids.of.get(label, {}).get(was)
        if new is None:
            raise ArchiveError(f"A row points to one of {label} that is not in it.")
        return new

    def _photograph(self, photo: Photo, row: dict[str, Any]) -> None:
        name = f"{PHOTOGRAPHS}/{row['id']}.jpg"
        if row["id"] in self.said.get("missing", []):
            photo.file.name = f"photos/{photo.workshop_id}/missing-{uuid.uuid4().hex}.jpg"
            return
        try:
            if self.file.getinfo(name).file_size > MOST_BYTES:
                raise ArchiveError(f"{name} is too large to be a photograph.")
            content = self.file.read(name)
        except (KeyError, zipfile.BadZipFile, NotImplementedError, RuntimeError, EOFError):
            raise ArchiveError(f"{name} is missing or broken.") from None
        if hashlib.sha256(content).hexdigest() != self.said["files"].get(name):
            raise ArchiveError(f"{name} is not what went out.")
        kept = default_storage.save(f"photos/{photo.workshop_id}/{uuid.uuid4().hex}.jpg", ContentFile(content))
        self.written.append(kept)
        photo.file.name = kept
        self.photographs += 1

    def _line(self, line: Any) -> None:
        """A line of the history means its things by id; one that is not there any more has none."""
        line.thing_id = self.ids.of.get(self.kinds.get(line.kind, ""), {}).get(line.thing_id, NOBODY)
        line.before, line.after = self._said(line.before), self._said(line.after)

    def _said(self, side: Any) -> Any:
        if not isinstance(side, dict):
            return side
        return {
            name: self.ids.of[IN_LINES[name]].get(value, NOBODY)
            if name in IN_LINES and isinstance(value, int) and not isinstance(value, bool)
            else value
            for name, value in side.items()
        }

    def _rename_in_ways(self, shop: Workshop) -> None:
        """Hours of somebody who signs in by another name here."""
        hours = shop.preferences.get("work_days") if isinstance(shop.preferences, dict) else None
        if not isinstance(hours, list):
            return
        lower = {was.lower(): name for was, name in self.names.items()}
        for row in hours:
            if isinstance(row, dict) and str(row.get("person", "")).lower() in lower:
                row["person"] = lower[str(row["person"]).lower()]
        Workshop.objects.filter(pk=shop.pk).update(preferences=shop.preferences)


def _size(row: dict[str, Any]) -> int:
    """About how many bytes a row is: what the database is sent at once has an end."""
    return sum(
        len(json.dumps(value)) if isinstance(value, dict | list) else len(value) if isinstance(value, str) else 8
        for value in row.values()
    )


def _key(model: type[models.Model]) -> str:
    key = model._meta.pk
    assert key is not None
    return key.attname


def _to_itself(model: type[models.Model]) -> bool:
    """Whether its rows point to rows of the same table, which have to be in before them."""
    return any(one.related_model is model for one in model._meta.concrete_fields)
