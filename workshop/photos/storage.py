"""Django's storage in the database: no state on a local disk, files go where the records go."""

from __future__ import annotations

from typing import Any

from django.core.files.base import ContentFile, File
from django.core.files.storage import Storage
from django.utils.deconstruct import deconstructible

from workshop.photos.models import StoredFile


@deconstructible
class DatabaseStorage(Storage):
    """Files as rows. Nothing of it has an address: what is kept is handed out by the API alone."""

    def _open(self, name: str, mode: str = "rb") -> File[bytes]:
        row = StoredFile.objects.filter(name=name).first()
        if row is None:
            raise FileNotFoundError(name)
        return ContentFile(bytes(row.content), name=name)

    def _save(self, name: str, content: Any) -> str:
        data = content.read()
        StoredFile.objects.create(name=name, content=data, size=len(data))
        return name

    def exists(self, name: str) -> bool:
        """Whether there is such a file."""
        return StoredFile.objects.filter(name=name).exists()

    def delete(self, name: str) -> None:
        """Delete a file; one that is not there is deleted already."""
        StoredFile.objects.filter(name=name).delete()

    def size(self, name: str) -> int:
        """How many bytes a file has."""
        return StoredFile.objects.only("size").get(name=name).size
