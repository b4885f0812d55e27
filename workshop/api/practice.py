"""Practice: its rounds so far, and one's own scatter taken from them."""

from __future__ import annotations

from django.http import HttpRequest
from ninja import Router, Schema

from ringcraft.practice.judging import Rounds
from workshop.api.jobs import one_job
from workshop.api.signed_in import actor, person, shop
from workshop.jobs.practising import rounds_so_far, take_hand
from workshop.people.preferences import preferences_of

router = Router()


class HandIn(Schema):
    """A yes to a scatter that a practice has shown, and the version of one's own ways that was read."""

    sd_mm: float
    version: int | None = None


class PracticeOut(Schema):
    """The rounds of a practice so far, and the version of the asker's own ways."""

    so_far: Rounds
    mine_version: int


def _out(request: HttpRequest, job_id: int) -> PracticeOut:
    user = person(request)
    so_far = rounds_so_far(one_job(request, job_id), user, shop(request))
    return PracticeOut(so_far=so_far, mine_version=user.preferences_version)


@router.get("/{int:job_id}/practice", response=PracticeOut, operation_id="practice")
def practice(request: HttpRequest, job_id: int) -> PracticeOut:
    """What a practice has come to so far."""
    return _out(request, job_id)


@router.put("/{int:job_id}/practice/hand", response=PracticeOut, operation_id="take_hand")
def take_a_hand(request: HttpRequest, job_id: int, body: HandIn) -> PracticeOut:
    """Put one's own scatter in cutting in force, as this practice has shown it."""
    user, where = person(request), shop(request)
    units = preferences_of(user, where).units
    take_hand(actor(request), where, user, job_id, body.sd_mm, body.version, units)
    user.refresh_from_db()
    return _out(request, job_id)
