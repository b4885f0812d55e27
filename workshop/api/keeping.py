"""How safe the records are, for who sees to the backups."""

from __future__ import annotations

from django.http import HttpRequest, StreamingHttpResponse
from django.http.response import HttpResponseBase
from django.utils import timezone
from ninja import Router

from workshop.api.signed_in import shop, who_may
from workshop.safekeeping.going_out import archive_of
from workshop.safekeeping.status import Keeping, keeping_of

router = Router(auth=who_may("back-up"))


@router.get("", response=Keeping, operation_id="keeping")
def keeping(request: HttpRequest) -> Keeping:
    """The last backup, what would be lost now, and what is wrong with it."""
    return keeping_of(shop(request))


@router.get("/workshop.zip", auth=who_may("export"), operation_id="workshop_archive")
def workshop_archive(request: HttpRequest) -> HttpResponseBase:
    """The whole workshop as one archive, written as it goes by."""
    answer = StreamingHttpResponse(archive_of(shop(request).pk), content_type="application/zip")
    answer["Content-Disposition"] = f'attachment; filename="workshop-{timezone.now():%Y-%m-%d}.zip"'
    return answer
