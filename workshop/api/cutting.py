"""What to cut from what: groups of stock, cut plans, their papers, their booking; inserts for a resize."""

from __future__ import annotations

from collections.abc import Iterable, Sequence
from typing import Any

from django.http import HttpRequest, HttpResponse
from ninja import Body, Query, Router, Schema
from ninja.responses import Response, Status

from ringcraft.errors import BadRequest, CraftError
from ringcraft.metals import ALL_METALS, BLADES
from ringcraft.schema import read_at
from ringcraft.sections import Stock, section_of
from ringcraft.units import Length
from workshop.api.signed_in import actor, person, shop, who_may
from workshop.api.stock_shapes import GroupsOut, MissingOut, OffersOut, ProposedOut
from workshop.jobs.models import Job
from workshop.paper.cuts import plan_pdf
from workshop.people.preferences import Preferences, preferences_of
from workshop.stock.cuts import Proposed, Selection, confirm, propose
from workshop.stock.demand import OpenBlank, open_blanks, unreckoned
from workshop.stock.groups import Demand, Group
from workshop.stock.offers import DrawerNow
from workshop.stock.words import (
    NOTHING_WAITS,
    good_for,
    mark_text,
    scribe,
    sheet_stays,
    stays,
    stock_words_of,
    strip_words,
    unseen,
)

router = Router()
MOST_MISSING = 12
MOST_SHOWN = 200
MOST_GROUPS = 40  # stocks that are answered with what is wanted of them: all that are wanted, then others


class ChosenIn(Schema):
    """What is to be cut: the stock, the jobs or how many days ahead, the saw or the shears."""

    group: str
    days: int | None = None
    jobs: list[int] | None = None
    blade: str = ""
    sheared: bool = False
    end_trim_mm: float | str = 0.0


class ConfirmIn(ChosenIn):
    """A plan that was seen, by its key."""

    key: str


def _ways(request: HttpRequest) -> Preferences:
    return preferences_of(person(request), shop(request))


def _selection(request: HttpRequest, body: ChosenIn) -> Selection:
    ways = _ways(request)
    return Selection(
        group=body.group,
        days=body.days,
        jobs=None if body.jobs is None else tuple(body.jobs),
        blade=body.blade or ways.blade,
        sheared=body.sheared,
        end_trim_mm=read_at("end_trim_mm", body.end_trim_mm, ways.units),
        units=ways.units,
    )


def wanted_out(blank: OpenBlank, units: str, why: str = "") -> dict[str, Any]:
    """A blank as the API answers it."""
    return {
        "key": blank.key,
        "job_id": blank.job_id,
        "job_name": blank.job_name,
        "title": blank.title,
        "due": blank.due,
        "length_text": f"{Length(blank.length_mm, units):.1f}",
        "count": blank.count,
        "why": why,
    }


def _group_out(group: Group, wanted: Iterable[OpenBlank], units: str) -> dict[str, Any]:
    listed = list(wanted)
    return {
        "key": group.key,
        "title": group.title(units),
        "metal": group.metal,
        "family": ALL_METALS[group.metal].family if group.metal in ALL_METALS else "other",
        "sheet": group.sheet,
        "owner": group.owner,
        "pieces": group.sums.pieces,
        "length_mm": group.sums.length_mm,
        "length_text": f"{Length(group.sums.length_mm, units):.1f}",
        "mass_g": group.sums.mass_g,
        "wanted": [wanted_out(blank, units) for blank in listed[:MOST_SHOWN]],
        "wanted_count": len(listed),
        "says": good_for(group, listed),
    }


@router.get("/groups", response=GroupsOut, operation_id="stock_groups")
def groups(request: HttpRequest) -> HttpResponse:
    """What can be cut from what, and how many blanks no piece serves.

    Written as it is put together: a validator between would take longer than the database.
    """
    ways, where = _ways(request), shop(request)
    drawer = DrawerNow(where.pk, BLADES[ways.blade], ways.units)
    jobs = Job.objects.filter(workshop=where, closed_at__isnull=True)
    blanks = [blank for blank in open_blanks(jobs) if not blank.ticked]
    demand, wanted = Demand(drawer.sums, blanks), drawer.look_for(blanks)
    others = [one for one in drawer.sums if one.key not in wanted][: max(0, MOST_GROUPS - len(wanted))]
    shown = sorted((*(one for one in drawer.sums if one.key in wanted), *others), key=lambda one: one.key)
    return Response(
        {
            "groups": [_group_out(group, demand.of(group), ways.units) for group in drawer.groups(shown)],
            "group_count": len(drawer.sums),
            "others_say": NOTHING_WAITS,
            "missing_count": len(_missing(drawer, blanks)),
            "unreckoned": unreckoned(jobs).count(),
        }
    )


def _missing(drawer: DrawerNow, blanks: Sequence[OpenBlank]) -> list[OpenBlank]:
    """The blanks that no piece is large enough for, the first that is due first."""
    found = [blank for blank in blanks if not drawer.is_there(blank)]
    return sorted(found, key=lambda one: (one.due is None, one.due, one.number, one.name))


@router.get("/missing", response=MissingOut, operation_id="stock_missing")
def missing(request: HttpRequest) -> dict[str, Any]:
    """The blanks that no piece serves, the first of them with what would do, and what pieces could do for them."""
    ways, where = _ways(request), shop(request)
    drawer = DrawerNow(where.pk, BLADES[ways.blade], ways.units)
    jobs = Job.objects.filter(workshop=where, closed_at__isnull=True)
    blanks = [blank for blank in open_blanks(jobs) if not blank.ticked]
    drawer.look_for(blanks)
    missing = _missing(drawer, blanks)
    lacks = [(one, drawer.stock_for(one)) for one in missing[:MOST_MISSING]]
    could: dict[int, str] = {}
    for one, stock in lacks:
        drawer.serves(stock, one, could)
    return {
        "missing": [
            {
                "blank": wanted_out(one, ways.units, stock_words_of(one, ways.units)),
                "stock": stock,
            }
            for one, stock in lacks
        ],
        "could": could,
        "missing_count": len(missing),
    }


@router.post("/plan", response=ProposedOut, operation_id="propose_cuts")
def plan(request: HttpRequest, body: ChosenIn) -> dict[str, Any]:
    """The cut plan of a stock for some jobs; nothing is booked."""
    return _proposed_out(propose(actor(request), _selection(request, body)), _ways(request).units)


@router.post("/cuts", auth=who_may("book"), response={201: ProposedOut}, operation_id="book_cuts")
def book(request: HttpRequest, body: ConfirmIn) -> Status[Any]:
    """Book the plan that was seen: all of it or nothing."""
    made = confirm(actor(request), _selection(request, body), body.key)
    return Status(201, _proposed_out(made, _ways(request).units))


def _proposed_out(made: Proposed, units: str) -> dict[str, Any]:
    names = made.items
    left = [wanted_out(blank, units, f"waits for {blank.waits}") for blank in made.waiting]
    left += [wanted_out(blank, units, "cut at the bench already, not booked") for blank in made.ticked]
    unplaced = dict.fromkeys(made.plan.unplaced)
    sure = made.plan.unplaced_proven
    why = "cannot be cut from what is there" if sure else "no way was found among those that were looked at"
    left += [wanted_out(made.blanks[key], units, why) for key in unplaced]
    lines = [
        {
            "id": one.stock_id,
            "called": names[one.stock_id].called,
            "stays": stays(made, one.stock_id, one.offcut_mm, units),
        }
        for one in made.plan.pieces
    ]
    sheets = [
        {
            "id": key,
            "called": names[key].called,
            "stays": sheet_stays(made, key, units),
            "long_mm": float(names[key].length_mm or 0),
            "wide_mm": float(names[key].width_mm or 0),
        }
        for key in dict.fromkeys(strip.sheet_id for strip in made.plan.strips)
    ]
    marks = {one.stock_id: [mark_text(at, units) for at in one.marks_mm] for one in made.plan.pieces}
    marks |= {
        f"{strip.sheet_id}/{place}": [mark_text(at, units) for at in strip.marks_mm]
        for place, strip in enumerate(made.plan.strips)
    }
    return {
        "key": made.key,
        "group": _group_out(made.group, made.blanks.values(), units),
        "plan": made.plan,
        "says": [*made.plan.says, *unseen(made)],
        "lines": lines,
        "blanks": [wanted_out(blank, units) for blank in made.blanks.values()],
        "marks": marks,
        "sheets": sheets,
        "told": {
            f"{strip.sheet_id}/{place}": strip_words(strip, made.plan.strips, units)
            for place, strip in enumerate(made.plan.strips)
        },
        "scribe": scribe(made),
        "left_out": left[:MOST_SHOWN],
        "left_out_count": len(left) + made.left_out,
        "kerf_text": f"{Length(made.kerf_mm, units):.2f}" if made.kerf_mm else "",
    }


@router.get("/plan.pdf", operation_id="cuts_pdf")
def plan_as_pdf(request: HttpRequest, chosen: Query[ChosenIn]) -> HttpResponse:
    """The cut plan at true size."""
    made = propose(actor(request), _selection(request, chosen))
    answer = HttpResponse(plan_pdf(made, _ways(request).units), content_type="application/pdf")
    answer["Content-Disposition"] = 'inline; filename="cuts.pdf"'
    return answer


class InsertIn(Schema):
    """The shank that an insert is for, and how long it is to be."""

    metal: str
    profile: str
    thickness_mm: float | str
    width_mm: float | str | None = None
    side_mm: float | str | None = None
    need_mm: float
    job_id: int | None = None


@router.post("/inserts", response=OffersOut, operation_id="offer_inserts")
def offer_inserts(request: HttpRequest, body: Body[InsertIn]) -> dict[str, Any]:
    """Pieces of the drawer that could be an insert, the one that suits best first."""
    ways = _ways(request)
    lengths = {
        name: None if (said := getattr(body, name)) in (None, "") else read_at(name, said, ways.units)
        for name in ("thickness_mm", "width_mm", "side_mm")
    }
    if body.metal not in ALL_METALS or not 0 <= body.need_mm <= 1000:
        return {"items": []}
    try:
        side = lengths["side_mm"] if body.profile in ("d", "court") else None
        shank = section_of(
            Stock(
                profile=body.profile,
                thickness_mm=lengths["thickness_mm"] or 0.0,
                width_mm=lengths["width_mm"],
                side_mm=side,
            ),
            "shank",
        )
    except (CraftError, KeyError) as problem:
        if isinstance(problem, CraftError):
            raise BadRequest([problem.in_units(ways.units)]) from None
        return {"items": []}
    drawer = DrawerNow(shop(request).pk, BLADES[ways.blade], ways.units)
    found = drawer.inserts(body.metal, shank, body.need_mm, body.job_id)
    return {"items": found}
