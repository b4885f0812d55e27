"""A photograph of a workshop, and the files that are kept in the database where no other storage is configured."""

from __future__ import annotations

from django.conf import settings
from django.db import models

from workshop.people.models import Workshop


class StoredFile(models.Model):
    """The content of one file by its name: on every machine behind a balancer, in every backup."""

    name = models.CharField(max_length=200, unique=True)
    content = models.BinaryField()
    size = models.PositiveIntegerField()
    at = models.DateTimeField(auto_now_add=True)

    def __str__(self) -> str:
        return self.name


class Photo(models.Model):
    """One photograph as it is kept: its file, its size in pixels, when and by whom it was taken in."""

    workshop = models.ForeignKey(Workshop, on_delete=models.PROTECT, related_name="photos")
    file = models.FileField(max_length=200)
    width = models.PositiveIntegerField()
    height = models.PositiveIntegerField()
    at = models.DateTimeField(auto_now_add=True)
    by = models.ForeignKey(settings.AUTH_USER_MODEL, null=True, on_delete=models.SET_NULL, related_name="+")

    def __str__(self) -> str:
        return self.file.name or ""
