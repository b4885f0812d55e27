"""The logbook: rings as they came out, what they have taught, why one came out wrong."""

from __future__ import annotations

import json
from collections.abc import Iterator
from datetime import datetime
from typing import Any

from django.http import HttpRequest, StreamingHttpResponse
from django.http.response import HttpResponseBase
from django.utils import timezone
from ninja import Body, Router, Schema

from ringcraft.errors import BadRequest
from ringcraft.learning.answer import Drift, LearntGroup
from ringcraft.learning.came_out import StageRead, title_of_group
from ringcraft.learning.causes import KEYS, TITLES
from ringcraft.learning.diagnosing import Diagnosis, answer_diagnose, diagnose
from ringcraft.learning.hands import Hand
from ringcraft.planning.own import GROUPS
from ringcraft.units import Length, day_words
from ringcraft.work.fields import Option
from ringcraft.work.kept import KeptPlanError
from workshop.api.jobs import one_job
from workshop.api.signed_in import actor, person, shop, who_may
from workshop.jobs.models import Job
from workshop.logbook import finding, learning
from workshop.logbook.files import rows_of, written
from workshop.logbook.models import RingRecord
from workshop.logbook.reckoning import newest_finding, waiting
from workshop.logbook.search import SORTS, find_rings, rings
from workshop.people.preferences import preferences_of
from workshop.people.roles import need

router = Router()
MOST_DOTS = 600  # that a picture of one screen can show; the newest


class RingLine(Schema):
    """A ring of the logbook: what it was, how it came out, lengths in mm, ``off_mm`` round."""

    job_id: int
    number: int
    at: datetime
    title: str
    customer_name: str
    work: str
    what: str
    metal_family: str
    size_text: str
    thickness_mm: float
    width_mm: float
    cut_planned_mm: float | None
    cut_read_mm: float | None
    size_planned_mm: float | None
    size_read_mm: float | None
    off_mm: float | None
    off_text: str
    verdict: str
    counts: bool
    person: str
    gauge: str
    came_back: str


class RingLines(Schema):
    """A page of the logbook, and how many rings there are with these words."""

    items: list[RingLine]
    count: int
    sorts: list[Option]


class OneRing(RingLine):
    """A ring opened: each reading beside what was planned there, whether it counts, or was set ``aside`` as gross."""

    z_mm: float | None
    residual_mm: float | None
    in_force_mm: float
    passes_known: bool
    why_not: str
    aside: bool
    odd: str
    minutes: float
    stages: list[StageRead]
    found: list[str]
    found_titles: list[str]
    found_note: str


class LearntOut(Schema):
    """What the rings teach by one look: groups, dots of the newest, drift; ``cuts`` are one's own, in time.

    ``keys`` are by which a group's offer is taken, ``since`` from when its correction is in force, by its name.
    """

    views: list[Option]
    groups: list[LearntGroup]
    keys: dict[str, str]
    since: dict[str, str]
    dots: list[learning.Dot]
    drift: list[Drift]
    scatter: learning.ScatterFound
    hand: Hand
    hand_says: str
    cuts: list[learning.CutDot]
    count: int
    waiting: int
    workshop_version: int
    mine_version: int


class OfferIn(Schema):
    """A yes to what a group has taught: the figure that was offered, and the ways' version that was read."""

    mean_mm: float
    version: int | None = None


class SpreadIn(Schema):
    """A yes to a scatter that was learnt."""

    sd_mm: float
    version: int | None = None


class CauseIn(Schema):
    """What it was in the end, and a word about it."""

    keys: list[str]
    note: str = ""


class DiagnosisOut(Schema):
    """Why a ring came out wrong, the causes that can be named, and what it was found to be."""

    diagnosis: Diagnosis
    causes: list[Option]
    found: list[str]
    found_note: str


def _line(row: RingRecord, units: str) -> dict[str, Any]:
    own = {name: getattr(row, name) for name in RingLine.model_fields if hasattr(row, name)}
    what = row.style.replace("-", " ") if row.work == "make" else "resized"
    return own | {
        "title": row.job.title,
        "customer_name": row.job.customer_name,
        "metal_family": row.family,
        "what": f"{title_of_group(row.group)}, {what}",
        "counts": row.counts,
        "off_text": _off(row, units),
        "person": row.person_name,
    }


def _off(row: RingRecord, units: str) -> str:
    """How it came out, in a word: right, or how much round and to which side."""
    if row.off_mm is None or row.verdict == "right":
        return row.verdict
    return f"{Length(abs(row.off_mm), units):.2f} {row.verdict}"


def _units(request: HttpRequest) -> str:
    return str(preferences_of(person(request), shop(request)).units)


@router.get("", response=RingLines, operation_id="logbook")
def logbook(request: HttpRequest, q: str = "", sort: str = "newest", limit: int = 40, offset: int = 0) -> Any:
    """The rings that have all of the words, sorted, a page at a time."""
    page, units = find_rings(shop(request).pk, q, sort, limit, offset), _units(request)
    return {
        "items": [_line(row, units) for row in page.items],
        "count": page.count,
        "sorts": [Option(key, title) for key, (title, _) in SORTS.items()],
    }


@router.get("/learnt", response=LearntOut, operation_id="what_is_learnt")
def learnt(request: HttpRequest, by: str = "group") -> Any:
    """What the rings teach, by profile and metal or by another look at them."""
    user, where = person(request), shop(request)
    ways = preferences_of(user, where)
    alone = str(user) if ways.see_hands == "own" else None
    found = learning.what_is_learnt(where, by, ways.units, alone)
    cuts = learning.cuts_of(where, user)
    hand = learning.hand_in_cutting(cuts, ways.cutting_spread_mm)
    since = {title_of_group(key): day_words(one.since) for key, one in found.in_force.items() if one.since}
    return {
        "views": [Option(key, title) for key, title in learning.VIEWS.items()],
        "groups": sorted(found.learnt.groups, key=lambda one: -one.n),
        "keys": {title: key for key, title in GROUPS.items()} if by == "group" else {},
        "since": since if by == "group" else {},
        "dots": found.dots[-MOST_DOTS:],
        "drift": found.whole.drift,
        "scatter": learning.scatter_found(found, ways.truing_spread_mm, ways.units),
        "hand": hand,
        "hand_says": learning.hand_words(hand, ways.units),
        "cuts": cuts[-learning.MOST_CUTS_DRAWN :],
        "count": found.count,
        "waiting": waiting(where.pk),
        "workshop_version": where.preferences_version,
        "mine_version": user.preferences_version,
    }


@router.put("/learnt/{path:group}", auth=who_may("ways"), response=LearntOut, operation_id="take_offer")
def take_offer(request: HttpRequest, group: str, body: OfferIn) -> Any:
    """Put what a group has taught in force as the shop's own correction, dated today; or take it back by its test."""
    units, today = _units(request), timezone.localdate()
    learning.take_offer(actor(request), shop(request), group, body.mean_mm, body.version, today, units)
    return learnt(request)


@router.put("/spread/{kind}", response=LearntOut, operation_id="take_spread")
def take_spread(request: HttpRequest, kind: str, body: SpreadIn) -> Any:
    """Put a scatter that was learnt in force: of truing for the shop, of cutting for oneself."""
    where, user = shop(request), person(request)
    if kind == "truing":
        need(user, "ways")
    learning.take_spread(actor(request), where, user, kind, body.sd_mm, body.version, _units(request))
    return learnt(request)


@router.get("/rings.csv", auth=who_may("export"), operation_id="logbook_csv")
def as_csv(request: HttpRequest, q: str = "") -> HttpResponseBase:
    """The rings that have all of the words, as CSV."""
    return _file(written(rows_of(rings(shop(request).pk, q))), "text/csv; charset=utf-8", "logbook.csv")


@router.get("/rings.json", auth=who_may("export"), operation_id="logbook_json")
def as_json(request: HttpRequest, q: str = "") -> HttpResponseBase:
    """The rings that have all of the words, as JSON."""

    def text() -> Iterator[str]:
        yield '{"format": "plain-shank-logbook", "version": 1, "rings": ['
        for place, row in enumerate(rows_of(rings(shop(request).pk, q))):
            yield ("" if place == 0 else ",\n") + json.dumps(row, ensure_ascii=False)
        yield "]}\n"

    return _file(text(), "application/json", "logbook.json")


def _file(text: Iterator[str], kind: str, name: str) -> HttpResponseBase:
    answer = StreamingHttpResponse(text, content_type=kind)
    answer["Content-Disposition"] = f'attachment; filename="{name}"'
    return answer


@router.get("/{int:job_id}", response=OneRing, operation_id="one_ring")
def one_ring(request: HttpRequest, job_id: int) -> Any:
    """One ring of the logbook: each reading beside what was planned there."""
    job = one_job(request, job_id)
    row = finding.record_of(job)
    if row is None:
        raise RingRecord.DoesNotExist
    found = newest_finding(job)
    keys = found.keys if found else []
    own = {name: getattr(row, name) for name in OneRing.model_fields if hasattr(row, name)}
    own["aside"] = row.counts and learning.is_aside(shop(request), row.pk)
    return own | _line(row, _units(request)) | {
        "found": keys,
        "found_titles": [TITLES[key] for key in keys if key in TITLES],
        "found_note": found.note if found else "",
    }  # fmt: skip


@router.post("/diagnose", response=Diagnosis, operation_id="diagnose")
def diagnose_bare(request: HttpRequest, body: Body[dict[str, Any]]) -> Diagnosis:
    """Why a ring came out wrong, from bare figures; the shop's own odds lean on what it found so far."""
    body.pop("found", None)
    return diagnose(body | {"found": finding.found_so_far(shop(request).pk)})


@router.get("/{int:job_id}/why", response=DiagnosisOut, operation_id="why_wrong")
def why_wrong(request: HttpRequest, job_id: int, key: str = "") -> Any:
    """Why a job's ring came out as it did, with all that is known of it."""
    job = one_job(request, job_id)
    return _why(request, job, key)


def _why(request: HttpRequest, job: Job, key: str = "") -> dict[str, Any]:
    found = newest_finding(job)
    try:
        asked = finding.question_of(job, key, _units(request))
    except KeptPlanError as problem:
        raise BadRequest([problem.at("key")]) from None
    return {
        "diagnosis": answer_diagnose(asked),
        "causes": [Option(one, TITLES[one]) for one in KEYS],
        "found": found.keys if found else [],
        "found_note": found.note if found else "",
    }


@router.put("/{int:job_id}/cause", response=DiagnosisOut, operation_id="keep_cause")
def keep_cause(request: HttpRequest, job_id: int, body: CauseIn) -> Any:
    """Keep what it was in the end; no keys say that what was kept does not hold."""
    finding.keep_finding(actor(request), one_job(request, job_id), body.keys, body.note)
    return _why(request, one_job(request, job_id))
