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
from ringcraft.learning.answer import Drift
from ringcraft.learning.came_out import StageRead, title_of_group
from ringcraft.learning.causes import KEYS, TITLES
from ringcraft.learning.diagnosing import Diagnosis, answer_diagnose, diagnose
from ringcraft.learning.hands import Hand, hand_of
from ringcraft.planning.own import GROUPS
from ringcraft.units import Length, day_words
from ringcraft.work.fields import Option
from ringcraft.work.kept import KeptPlanError
from workshop.api.jobs import one_job
from workshop.api.signed_in import actor, person, shop
from workshop.jobs.models import Job
from workshop.logbook import finding, learning
from workshop.logbook.files import rows_of, written
from workshop.logbook.models import RingRecord
from workshop.logbook.reckoning import newest_finding, waiting
from workshop.logbook.search import SORTS, find_rings, rings
from workshop.people.preferences import preferences_of

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
    sorts: list[str]


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


class LearntGroupOut(Schema):
    """What a group of rings teaches, by its key; ``key`` is empty where it is only a view."""

    key: str
    group: str
    n: int
    set_aside: int
    mean_mm: float
    low_mm: float
    high_mm: float
    in_force_mm: float
    since: str
    suggest: bool
    offer: str
    offer_mm: float
    lead: str
    between: str
    says: str


class DotOut(Schema):
    """A ring that counts, as the picture shows it."""

    job_id: int
    number: int
    at: datetime
    label: str
    z_mm: float
    residual_mm: float
    aside: bool


class ScatterOut(Schema):
    """How far rings scatter here [mm round], beside the truing that is in force; whether it is offered."""

    sd_mm: float
    in_force_mm: float
    suggest: bool
    says: str


class CutOut(Schema):
    """A cut of one's own: when, and how far it was off [mm]."""

    at: datetime
    z_mm: float


class LearntOut(Schema):
    """What the rings teach by one look: groups, dots of the newest, drift; ``cuts`` are one's own, in time."""

    by: str
    views: list[str]
    groups: list[LearntGroupOut]
    dots: list[DotOut]
    drift: list[Drift]
    scatter: ScatterOut
    hand: Hand
    hand_says: str
    cuts: list[CutOut]
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
        "sorts": list(SORTS),
    }


@router.get("/learnt", response=LearntOut, operation_id="what_is_learnt")
def learnt(request: HttpRequest, by: str = "group") -> Any:
    """What the rings teach, by profile and metal or by another look at them."""
    user, where = person(request), shop(request)
    ways = preferences_of(user, where)
    alone = str(user) if ways.see_hands == "own" else None
    found = learning.what_is_learnt(where, by, ways.units, alone)
    keys = {title: key for key, title in GROUPS.items()} if by == "group" else {}
    cuts = learning.cuts_of(where, user)
    hand = hand_of([off for _, off in cuts], ways.cutting_spread_mm)
    return {
        "by": by,
        "views": list(learning.VIEWS),
        "groups": [
            {**vars(one), "key": keys.get(one.group, ""), "since": _since(found, keys.get(one.group, ""))}
            for one in sorted(found.learnt.groups, key=lambda one: -one.n)
        ],
        "dots": [vars(dot) for dot in found.dots[-MOST_DOTS:]],
        "drift": list(found.learnt.drift),
        "scatter": learning.scatter_words(found, ways.truing_spread_mm, ways.units),
        "hand": hand,
        "hand_says": learning.hand_words(hand, ways.units),
        "cuts": [{"at": at, "z_mm": off} for at, off in cuts[: learning.MOST_CUTS_DRAWN][::-1]],
        "count": found.count,
        "waiting": waiting(shop(request).pk),
        "workshop_version": where.preferences_version,
        "mine_version": user.preferences_version,
    }


def _since(found: learning.WhatIsLearnt, key: str) -> str:
    since = found.in_force[key].since if key in found.in_force else ""
    return day_words(since) if since else ""


@router.put("/learnt/{path:group}", response=LearntOut, operation_id="take_offer")
def take_offer(request: HttpRequest, group: str, body: OfferIn) -> Any:
    """Put what a group has taught in force as the shop's own correction, dated today; or take it back by its test."""
    units, today = _units(request), timezone.localdate()
    learning.take_offer(actor(request), shop(request), group, body.mean_mm, body.version, today, units)
    return learnt(request)


@router.put("/spread/{kind}", response=LearntOut, operation_id="take_spread")
def take_spread(request: HttpRequest, kind: str, body: SpreadIn) -> Any:
    """Put a scatter that was learnt in force: of truing for the shop, of cutting for oneself."""
    where, user = shop(request), person(request)
    learning.take_spread(actor(request), where, user, kind, body.sd_mm, body.version, _units(request))
    return learnt(request)


@router.get("/rings.csv", operation_id="logbook_csv")
def as_csv(request: HttpRequest, q: str = "") -> HttpResponseBase:
    """The rings that have all of the words, as CSV."""
    return _file(written(rows_of(rings(shop(request).pk, q))), "text/csv; charset=utf-8", "logbook.csv")


@router.get("/rings.json", operation_id="logbook_json")
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
    user, where = person(request), shop(request)
    units = preferences_of(user, where).units
    found = newest_finding(job)
    try:
        asked = finding.question_of(job, key, learning.scatter_in_force(where, user), units)
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
