"""Taking a photograph in."""

from __future__ import annotations

import uuid

from django.core.files.base import ContentFile

from workshop.core.history import Actor
from workshop.photos.models import Photo
from workshop.photos.pictures import Picture


def keep_photo(actor: Actor, picture: Picture) -> Photo:
    """Keep a photograph that was drawn anew (``picture_of``)."""
    photo = Photo(workshop_id=actor.workshop_id, by_id=actor.user_id, width=picture.width, height=picture.height)
    photo.file.save(f"photos/{actor.workshop_id}/{uuid.uuid4().hex}.jpg", ContentFile(picture.jpeg), save=True)
    return photo
