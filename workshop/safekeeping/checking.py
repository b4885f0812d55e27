"""Is a copy of the records whole? Every photograph is opened, every piece balanced, every plan read."""

from __future__ import annotations

import hashlib
import io
import json
from dataclasses import dataclass, field
from pathlib import Path

from django.db.models import Sum
from PIL import Image

from ringcraft.errors import CraftError
from workshop.core.pages import by_key
from workshop.jobs.models import Job
from workshop.jobs.plans import kept_plan
from workshop.photos.models import Photo
from workshop.stock.models import StockItem

AT_ONCE, MOST_SAID = 200, 20
NAMES = "names.json"  # beside files of another storage: their names as they are kept, and their sums


@dataclass
class Found:
    """What was looked at, how much of it, and what is wrong with it in words (the first of each)."""

    photographs: int = 0
    pieces: int = 0
    plans: int = 0
    wrong: list[str] = field(default_factory=list)

    def say(self, words: str) -> None:
        """Something is wrong."""
        if len(self.wrong) < MOST_SAID:
            self.wrong.append(words)


def look_through(files: Path | None = None, workshop_id: int | None = None) -> Found:
    """Look through all of it, whatever its size, or through one workshop; raises nothing for what it finds.

    ``files`` is where the photographs' files lie that another storage than the database holds.
    """
    found = Found()
    of = {} if workshop_id is None else {"workshop": workshop_id}
    names = json.loads((files / NAMES).read_text(encoding="utf8")) if files else {}
    for photo in by_key(Photo.objects.filter(**of), AT_ONCE):
        found.photographs += 1
        try:
            Image.open(io.BytesIO(_content(photo, files, names))).verify()
        except (OSError, SyntaxError, ValueError, KeyError) as problem:
            found.say(f"photograph {photo.pk} cannot be opened: {problem}")
    sums = {"mass": Sum("movements__mass_g"), "length": Sum("movements__length_mm")}
    pieces = StockItem.objects.filter(**of).annotate(**sums).only("pk", "number", "mass_g", "length_mm")
    for item in by_key(pieces, AT_ONCE):
        found.pieces += 1
        mass, length = getattr(item, "mass", None) or 0, getattr(item, "length", None) or 0
        if mass != item.mass_g or (item.length_mm is not None and length != item.length_mm):
            found.say(f"piece {item.number} is not the sum of its movements")
    for job in by_key(Job.objects.filter(**of).only("pk", "number", "work", "plan"), AT_ONCE):
        found.plans += 1
        try:
            kept_plan(job)
        except CraftError as problem:
            found.say(f"the plan of job {job.number} cannot be read: {problem.message}")
    return found


def _content(photo: Photo, files: Path | None, names: dict[str, list[str]]) -> bytes:
    """A photograph's file, wherever it lies; raises OSError, KeyError or ValueError."""
    if files is None:
        with photo.file.open("rb") as file:
            return bytes(file.read())
    plain, was = names[str(photo.file.name)]
    content = (files / plain).read_bytes()
    if hashlib.sha256(content).hexdigest() != was:
        raise ValueError("it is not what was written")
    return content
