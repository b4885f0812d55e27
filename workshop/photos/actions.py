"""Taking a photograph in."""

from __future__ import annotations

import uuid

from django.core.files.base import ContentFile

from workshop.core.history import Actor
from workshop.photos.models import Photo
from workshop.photos.pictures import picture_of


def keep_photo(actor: Actor, data: bytes) -> Photo:
    """Keep a photograph, drawn anew; raises CraftError at ``image``."""
    picture = picture_of(data)
    photo = Photo(workshop_id=actor.workshop_id, by_id=actor.user_id, width=picture.width, height=picture.height)
    photo.file.save(f"photos/{actor.workshop_id}/{uuid.uuid4().hex}.jpg", ContentFile(picture.jpeg), save=True)
    return photo
