"""``manage.py copy_files FOLDER``: every photograph that another storage than the database holds, into a folder."""

from __future__ import annotations

import hashlib
import json
from pathlib import Path
from typing import Any

from django.core.files.base import ContentFile
from django.core.files.storage import default_storage
from django.core.management.base import BaseCommand, CommandError, CommandParser

from workshop.photos.models import Photo
from workshop.safekeeping.checking import AT_ONCE, NAMES


class Command(BaseCommand):
    """Copy the files of the photographs, or put them back; their names as they are kept are in a list beside them."""

    help = "Copy every photograph's file into a folder, or put those of a folder back (--back)."

    def add_arguments(self, parser: CommandParser) -> None:
        """Into which folder."""
        parser.add_argument("folder", type=Path)
        parser.add_argument("--back", action="store_true", help="put them back into the storage")

    def handle(self, *args: Any, **options: Any) -> None:
        """Copy them; says how many, as JSON."""
        folder: Path = options["folder"]
        if options["back"]:
            self.stdout.write(json.dumps({"files": _back(folder)}))
            return
        names: dict[str, list[str]] = {}
        for nth, photo in enumerate(Photo.objects.order_by("pk").iterator(AT_ONCE)):
            name = str(photo.file.name)
            try:
                with default_storage.open(name, "rb") as file:
                    content = file.read()
            except OSError as problem:
                raise CommandError(f"The storage does not give {name}: {problem}") from None
            (folder / f"{nth:08d}").write_bytes(content)
            names[name] = [f"{nth:08d}", hashlib.sha256(content).hexdigest()]
        (folder / NAMES).write_text(json.dumps(names), encoding="utf8")
        self.stdout.write(json.dumps({"files": len(names)}))


def _back(folder: Path) -> int:
    names: dict[str, list[str]] = json.loads((folder / NAMES).read_text(encoding="utf8"))
    for name, (plain, was) in names.items():
        content = (folder / plain).read_bytes()
        if hashlib.sha256(content).hexdigest() != was:
            raise CommandError(f"{name} is not what was written.")
        if not default_storage.exists(name) and default_storage.save(name, ContentFile(content)) != name:
            raise CommandError(f"The storage keeps {name} under another name.")
    return len(names)
