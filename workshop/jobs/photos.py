"""The photographs of a job: as it came in, and as it went back."""

from __future__ import annotations

from django.db import transaction

from ringcraft.errors import BadRequest, CraftError, OutOfRangeError, UnknownNameError
from workshop.core.history import Actor, record
from workshop.jobs.locking import locked
from workshop.jobs.models import Job, JobPhoto
from workshop.photos.actions import keep_photo
from workshop.photos.pictures import Picture, picture_of

SIDES = ("before", "after")
MOST_PHOTOS = 24


def add_photo(actor: Actor, job: Job | int, side: str, data: bytes) -> Job:
    """Keep a photograph of a job, which is answered; raises BadRequest at its field."""
    if side not in SIDES:
        raise BadRequest([UnknownNameError("side", "It shows the ring before or after.", "before or after.")])
    pk = job if isinstance(job, int) else job.pk
    Job.objects.only("pk").get(pk=pk, workshop_id=actor.workshop_id)
    try:
        picture = picture_of(data)  # before anything is held: a large picture takes its time
    except CraftError as problem:
        raise BadRequest([problem]) from None
    with transaction.atomic():
        return _kept(actor, pk, side, picture)


def _kept(actor: Actor, job_id: int, side: str, picture: Picture) -> Job:
    row = locked(actor, job_id)
    if row.photos.count() >= MOST_PHOTOS:
        raise BadRequest([OutOfRangeError("image", "More photographs than a job needs.", "Take one away.")])
    photo = keep_photo(actor, picture)
    kept = JobPhoto.objects.create(job=row, photo=photo, side=side, turn=row.turns)
    record(actor, row, "photographed", after={"photo": kept.pk, "side": side})
    return row


@transaction.atomic
def remove_photo(actor: Actor, job: Job | int, photo_id: int) -> Job:
    """Take a photograph away, file and all, and answer the job; raises DoesNotExist."""
    row = locked(actor, job)
    kept = JobPhoto.objects.select_related("photo").get(pk=photo_id, job=row)
    photo, side = kept.photo, kept.side
    kept.delete()
    photo.file.delete(save=False)
    photo.delete()
    record(actor, row, "photograph-removed", after={"photo": photo_id, "side": side})
    return row
