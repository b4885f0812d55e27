"""How safe the records are, for who sees to the backups."""

from __future__ import annotations

from django.http import HttpRequest
from ninja import Router

from workshop.api.signed_in import shop, who_may
from workshop.safekeeping.status import Keeping, keeping_of

router = Router(auth=who_may("back-up"))


@router.get("", response=Keeping, operation_id="keeping")
def keeping(request: HttpRequest) -> Keeping:
    """The last backup, what would be lost now, and what is wrong with it."""
    return keeping_of(shop(request))
