"""Photographs of a job: take one in, hand it out, take it away."""

from __future__ import annotations

import base64
import binascii

from django.http import HttpRequest, HttpResponse
from ninja import Router, Schema
from ninja.responses import Status

from ringcraft.errors import BadRequest, UnreadableError
from workshop.api.job_shapes import JobOut
from workshop.api.jobs import answered, one_job
from workshop.api.signed_in import actor, who_may
from workshop.jobs.models import JobPhoto
from workshop.jobs.photos import add_photo, remove_photo

router = Router(by_alias=True)  # a deed of a step has a field called "with"


class PhotoIn(Schema):
    """A photograph as base64, and which side of the work it shows: before or after."""

    side: str
    image: str


@router.post("/{int:job_id}/photos", response={201: JobOut}, operation_id="add_photo")
def take_in(request: HttpRequest, job_id: int, body: PhotoIn) -> Status[object]:
    """Keep a photograph of a job: only what is seen on it survives."""
    try:
        data = base64.b64decode(body.image, validate=True)
    except (binascii.Error, ValueError):
        raise BadRequest([UnreadableError("image", "That is no picture.", "Choose a JPEG, PNG or WebP.")]) from None
    return Status(201, answered(request, add_photo(actor(request), job_id, body.side, data)))


@router.get("/{int:job_id}/photos/{int:photo_id}", operation_id="read_photo")
def hand_out(request: HttpRequest, job_id: int, photo_id: int) -> HttpResponse:
    """One photograph of a job, as JPEG."""
    kept = JobPhoto.objects.select_related("photo").get(pk=photo_id, job=one_job(request, job_id))
    with kept.photo.file.open("rb") as file:
        return HttpResponse(file.read(), content_type="image/jpeg")


@router.delete(
    "/{int:job_id}/photos/{int:photo_id}", auth=who_may("correct"), response=JobOut, operation_id="remove_photo"
)
def take_away(request: HttpRequest, job_id: int, photo_id: int) -> dict[str, object]:
    """Take a photograph away."""
    return answered(request, remove_photo(actor(request), job_id, photo_id))
