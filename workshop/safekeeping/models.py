"""The backups that were made, and the restores that the records have been through."""

from __future__ import annotations

from django.db import models


class Backup(models.Model):
    """One backup that was made and checked: of when, what it is called, how large, what was found in it.

    ``last_event`` is the newest line of the history that is in it: what came after would be lost now.
    """

    at = models.DateTimeField()
    name = models.CharField(max_length=120)
    size = models.BigIntegerField()
    rows = models.BigIntegerField()
    last_event = models.BigIntegerField(default=0)
    encrypted = models.BooleanField(default=False)
    same_device = models.BooleanField(default=False)
    said = models.JSONField(default=list)

    class Meta:
        indexes = [models.Index(fields=["at"], name="backup_by_time")]

    def __str__(self) -> str:
        return self.name


class Restored(models.Model):
    """The records were set back to a backup: of when it was, and when that was done."""

    of = models.DateTimeField()
    at = models.DateTimeField(auto_now_add=True)

    def __str__(self) -> str:
        return f"{self.of:%Y-%m-%d %H:%M}"
