"""The one way in of a shop's ways: whatever order a request brings, what it leaves out is filled where it is read.

A job that is saved again keeps the ways that it was planned with, until today's are chosen: ``ways_of`` in the query
says whose they are, a job by its id or ``today``.
"""

from __future__ import annotations

from collections.abc import Callable, Mapping
from typing import Annotated, Any

from django.http import HttpRequest, HttpResponse
from ninja import Query

from ringcraft.planning.ways import ways_from, ways_in
from workshop.api.signed_in import person, shop
from workshop.jobs.models import Job
from workshop.people.preferences import order_ways, preferences_of

TODAY = "today"
#: Whose ways fill an order that asks for the shop's: a job's, by its id, or today's. Read here, for every endpoint.
WaysOf = Annotated[str, Query(max_length=20)]


class ShopWays:
    """Orders that ask for the shop's ways are read with those of the person who asks."""

    def __init__(self, get_response: Callable[[HttpRequest], HttpResponse]) -> None:
        self.get_response = get_response

    def __call__(self, request: HttpRequest) -> HttpResponse:
        """Answer a request; nothing is looked up for one that brings no such order."""
        with ways_from(lambda: _ways(request)):
            return self.get_response(request)


def _ways(request: HttpRequest) -> Mapping[str, object]:
    """Those of the job that is changed, else those in force; raises DoesNotExist for a job of nobody here."""
    ways = order_ways(preferences_of(person(request), shop(request)))
    job_id = _of_job(request)
    if job_id is None:
        return ways
    order: Any = Job.objects.only("order").get(pk=job_id, workshop=shop(request)).order
    return ways_in(order if isinstance(order, dict) else {}, ways)


def _of_job(request: HttpRequest) -> int | None:
    said = request.GET.get("ways_of", "")
    if said and said != TODAY:
        if not (said.isascii() and said.isdecimal() and len(said) < 19):
            raise Job.DoesNotExist
        return int(said)
    own = request.resolver_match.kwargs.get("job_id") if request.resolver_match else None
    return own if request.method == "PUT" and said != TODAY else None
