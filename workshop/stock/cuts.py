"""The cut plan of a drawer: proposed from what is there and what is wanted, and booked all at once or not at all."""

from __future__ import annotations

import hashlib
import json
from collections.abc import Iterable, Sequence
from dataclasses import dataclass
from datetime import datetime, timedelta

from django.db import IntegrityError, transaction
from django.db.models import Q
from django.utils import timezone

from ringcraft.errors import BadRequest, OutOfRangeError, UnknownNameError, UnreadableError
from ringcraft.metals import BLADES
from ringcraft.stock.cutting.answer import answer_cut
from ringcraft.stock.cutting.asking import (
    MOST_BLANKS,
    MOST_PIECES,
    MOST_SHEETS,
    CutBlank,
    CutRequest,
    StockBar,
    StockSheet,
)
from ringcraft.stock.cutting.shapes import CutPiece, CutPlan, CutStrip, SheetRest
from workshop.core.history import Actor, record
from workshop.jobs.models import Job
from workshop.stock.booking import Booking, hold_drawer, new_item
from workshop.stock.demand import OpenBlank, open_blanks
from workshop.stock.groups import Demand, Group, groups_from, pieces_in, sums_of
from workshop.stock.models import Movement, StockItem, TakenBack

SCRAP_MM = 2.0  # a rest shorter than that serves no insert; our own judgement
STRIP_MM, STRIP_LONG_MM = 1.0, 10.0  # a strip of sheet narrower or shorter than that is scrap; our own judgement
STAYS_MM = 100.0  # a rest of wire as long as that stays on its coil; a shorter one becomes an offcut
COILS = ("wire", "bar")


@dataclass(frozen=True)
class Selection:
    """What is to be cut: from which stock, for which jobs or what is due within so many days, with which saw."""

    group: str
    days: int | None = None
    jobs: tuple[int, ...] | None = None
    blade: str = "4/0"
    sheared: bool = False
    end_trim_mm: float = 0.0
    units: str = "mm"


@dataclass(frozen=True)
class Proposed:
    """A cut plan with what it is of; ``key`` stands for all of it, so that only what was seen is booked.

    ``left_out`` blanks are more than one plan holds, ``unseen`` pieces more than it looks at.
    """

    group: Group
    items: dict[str, StockItem]
    plan: CutPlan
    blanks: dict[str, OpenBlank]
    waiting: tuple[OpenBlank, ...]
    ticked: tuple[OpenBlank, ...]
    left_out: int
    unseen: int
    kerf_mm: float
    key: str


def propose(actor: Actor, chosen: Selection) -> Proposed:
    """The cut plan of a selection; raises BadRequest at its field."""
    sums = sums_of(actor.workshop_id)
    group = next(iter(groups_from([one for one in sums if one.key == chosen.group])), None)
    if group is None:
        raise BadRequest([UnknownNameError("group", "That stock is not in the drawer any more.", "Choose another.")])
    if chosen.blade not in BLADES:
        raise BadRequest(
            [UnknownNameError("blade", "That blade is not known here.", f"It can be {', '.join(BLADES)}.")]
        )
    if not 0 <= chosen.end_trim_mm <= 20:
        raise BadRequest([OutOfRangeError("end_trim_mm", "No end is squared by that.", "Such as 0.5.")])
    jobs = Job.objects.filter(workshop_id=actor.workshop_id, closed_at__isnull=True)
    picked = [blank for blank in Demand(sums, open_blanks(jobs)).of(group) if _chosen(blank, chosen)]
    most = MOST_SHEETS if group.sheet else MOST_PIECES
    pieces = pieces_in(actor.workshop_id, group)[:most]
    return _planned(group, {str(item.pk): item for item in pieces}, picked, chosen)


def _chosen(blank: OpenBlank, chosen: Selection) -> bool:
    if chosen.jobs is not None:
        return blank.job_id in chosen.jobs
    if chosen.days is None:
        return True
    return blank.due is not None and blank.due <= _until(chosen.days)


def _until(days: int) -> datetime:
    return timezone.now() + timedelta(days=min(max(days, 0), 3660))


def _planned(group: Group, items: dict[str, StockItem], picked: Sequence[OpenBlank], chosen: Selection) -> Proposed:
    kerf = 0.0 if chosen.sheared else BLADES[chosen.blade]
    ready = [blank for blank in picked if not blank.waits and not blank.ticked]
    ready = sorted(ready, key=lambda one: (one.due is None, one.due, one.number, one.name))
    taken, count = [], 0
    for blank in ready:
        if count + blank.count <= MOST_BLANKS:
            taken.append(blank)
            count += blank.count
    asked = CutRequest(
        kerf_mm=kerf,
        end_trim_mm=chosen.end_trim_mm,
        stock=() if group.sheet else tuple(_bar(item) for item in items.values()),
        sheets=tuple(_sheet(item) for item in items.values()) if group.sheet else (),
        blanks=tuple(_blank(blank, sheet=group.sheet) for blank in taken),
        units=chosen.units,
    )
    plan = answer_cut(asked)
    return Proposed(
        group=group,
        items=items,
        plan=plan,
        blanks={blank.key: blank for blank in taken},
        waiting=tuple(blank for blank in picked if blank.waits and not blank.ticked),
        ticked=tuple(blank for blank in picked if blank.ticked),
        left_out=len(ready) - len(taken),
        unseen=max(0, group.sums.pieces - len(items)),
        kerf_mm=kerf,
        key=_key(group, plan, items, kerf),
    )


def _key(group: Group, plan: CutPlan, items: dict[str, StockItem], kerf: float) -> str:
    """What a plan is known by: its pieces as they stand, and every cut of it."""
    pieces = [(one.stock_id, items[one.stock_id].moves, one.cuts, one.lengths_mm) for one in plan.pieces]
    strips = [
        (one.sheet_id, items[one.sheet_id].moves, one.at_mm, one.from_mm, one.turned, one.cuts, one.lengths_mm)
        for one in plan.strips
    ]
    said = json.dumps([group.key, kerf, pieces, strips])
    return hashlib.sha256(said.encode()).hexdigest()[:32]


def _bar(item: StockItem) -> StockBar:
    price = float(item.price or 0) * float(item.mass_g)
    return StockBar(id=str(item.pk), length_mm=float(item.length_mm or 0), cost=min(price, 1e6))


def _sheet(item: StockItem) -> StockSheet:
    return StockSheet(id=str(item.pk), length_mm=float(item.length_mm or 0), width_mm=float(item.width_mm or 0))


def _blank(blank: OpenBlank, *, sheet: bool) -> CutBlank:
    return CutBlank(
        id=blank.key,
        length_mm=blank.length_mm,
        width_mm=blank.section.width_mm if sheet else None,
        count=min(blank.count, 400),
        direction="along" if blank.along else "any",
        due="" if blank.due is None else blank.due.isoformat(),
    )


def confirm(actor: Actor, chosen: Selection, key: str) -> Proposed:
    """Book the plan that was seen: its cuts, its kerfs, its offcuts; all of it or nothing.

    It is planned before anything is held; then what it takes is held, and looked at again. Raises BadRequest where
    the drawer or the jobs are not as they were when it was seen.
    """
    proposed = propose(actor, chosen)
    with transaction.atomic():
        return _book(actor, chosen, key, proposed)


def _changed() -> BadRequest:
    said = "The drawer or the jobs have changed since this plan was made: nothing is booked."
    return BadRequest([OutOfRangeError("key", said, "Look at the plan as it is now.")])


def _book(actor: Actor, chosen: Selection, key: str, proposed: Proposed) -> Proposed:
    if proposed.key != key:
        raise _changed()
    if not (proposed.plan.pieces or proposed.plan.strips):
        raise BadRequest([UnreadableError("group", "Nothing is to be cut from it.", "Choose other jobs or stock.")])
    items = _held_as_planned(actor, proposed)
    booking = Booking(actor)
    for piece in proposed.plan.pieces:
        _book_bar(booking, items[piece.stock_id], piece, proposed, chosen.end_trim_mm)
    for sheet_id in dict.fromkeys(strip.sheet_id for strip in proposed.plan.strips):
        strips = [strip for strip in proposed.plan.strips if strip.sheet_id == sheet_id]
        rests = [rest for rest in proposed.plan.rests if rest.sheet_id == sheet_id]
        _book_sheet(booking, items[sheet_id], strips, rests, proposed)
    return proposed


def _held_as_planned(actor: Actor, proposed: Proposed) -> dict[str, StockItem]:
    """The pieces that a plan opens, the drawer held; raises BadRequest where something is not as it was."""
    plan = proposed.plan
    opened = {one.stock_id for one in plan.pieces} | {one.sheet_id for one in plan.strips}
    cut = {name for one in plan.pieces for name in one.cuts} | {name for one in plan.strips for name in one.cuts}
    jobs = {proposed.blanks[name].job_id for name in cut}
    hold_drawer(actor, {*jobs, proposed.group.sums.job_id})
    rows = StockItem.objects.filter(pk__in=opened, workshop_id=actor.workshop_id)
    items = {str(item.pk): item for item in rows}
    stands = {blank.key: blank for blank in open_blanks(Job.objects.filter(pk__in=jobs, closed_at__isnull=True))}
    if any(key not in items or items[key].moves != proposed.items[key].moves for key in opened) or any(
        stands.get(name) != proposed.blanks[name] for name in cut
    ):
        raise _changed()
    return items


def _jobs_of(proposed: Proposed) -> dict[int, Job]:
    ids = {blank.job_id for blank in proposed.blanks.values()}
    return {job.pk: job for job in Job.objects.filter(pk__in=ids)}


def _book_bar(booking: Booking, item: StockItem, piece: CutPiece, proposed: Proposed, trim_mm: float) -> None:
    """The blanks of a bar, its kerfs to the filings, its rest to where it belongs."""
    per_mm = item.g_per_mm
    jobs = _jobs_of(proposed)
    for name, length in zip(piece.cuts, piece.lengths_mm, strict=True):
        blank = proposed.blanks[name]
        booking.move(item, "cut", -length * per_mm, -length, job=jobs[blank.job_id], blank=blank.name)
    left = float(item.length_mm or 0)
    kerf = min(left, proposed.kerf_mm * piece.sawn + trim_mm)
    if left - kerf < piece.offcut_mm or piece.offcut_mm == 0:
        kerf = max(0.0, left - piece.offcut_mm)
    booking.to_lot(item, "filings", kerf, kerf * per_mm, "sawn" if proposed.kerf_mm else "squared")
    _book_rest(booking, item, per_mm)
    record(booking.actor, item, "moved", after={"move": "cut", "blanks": len(piece.cuts), "rest_mm": piece.offcut_mm})


def _book_rest(booking: Booking, item: StockItem, per_mm: float) -> None:
    """A rest too short to serve goes to the scrap; one of a coil that is shorter than a coil becomes an offcut."""
    rest = float(item.length_mm or 0)
    fate = fate_of(item, rest)
    if fate == "scrap":
        booking.to_lot(item, "scrap", rest, rest * per_mm, "too short to serve")
    elif fate == "an offcut":
        _offcut(booking, item, rest, rest * per_mm)


def fate_of(item: StockItem, rest_mm: float) -> str:
    """What becomes of the rest of a piece: nothing, scrap, an offcut of its own, or it stays what it is."""
    if rest_mm <= 0:
        return "nothing"
    if rest_mm < SCRAP_MM:
        return "scrap"
    return "an offcut" if item.kind in COILS and rest_mm < STAYS_MM else "stays"


def rest_fate(long_mm: float, wide_mm: float) -> str:
    """What becomes of what is left of a sheet: a sheet of its own, a strip, or scrap."""
    narrow, long = min(long_mm, wide_mm), max(long_mm, wide_mm)
    if narrow >= SCRAP_MM:
        return "sheet"
    return "strip" if narrow >= STRIP_MM and long >= STRIP_LONG_MM else "scrap"


def _offcut(
    booking: Booking, item: StockItem, length_mm: float, mass_g: float, width_mm: float | None = None, kind: str = ""
) -> StockItem:
    """A piece of its own from what is left of another; the drawer's sums stay what they are."""
    width = item.width_mm if width_mm is None else StockItem._meta.get_field("width_mm").to_python(f"{width_mm:.4f}")
    made = new_item(
        booking.actor,
        StockItem(
            kind=kind or "offcut",
            metal=item.metal,
            profile=item.profile,
            thickness_mm=item.thickness_mm,
            width_mm=width,
            side_mm=item.side_mm,
            state=item.state,
            poured=item.poured,
            lot=item.lot,
            place=item.place,
            price=item.price,
            owner=item.owner,
            job=item.job,
            came_from=item,
            density_g_cm3=item.density_g_cm3,
            length_mm=0,
        ),
    )
    gone = booking.move(item, "offcut", -mass_g, None if item.kind == "sheet" else -length_mm, other=made)
    booking.move(made, "offcut", float(-gone.mass_g), length_mm, other=item)
    record(booking.actor, made, "created", after={"from": item.called, "mass_g": round(mass_g, 4)})
    return made


def _book_sheet(
    booking: Booking, item: StockItem, strips: Sequence[CutStrip], rests: Sequence[SheetRest], proposed: Proposed
) -> None:
    """The blanks of a sheet, what is left of it as the plan says it, and what the saw took; the sheet itself goes."""
    length, jobs = float(item.length_mm or 0), _jobs_of(proposed)
    wide = float(item.width_mm or 0)
    area_g = float(item.mass_g) / (wide * length) if wide * length else 0.0
    for strip in strips:
        for name, mm in zip(strip.cuts, strip.lengths_mm, strict=True):
            blank = proposed.blanks[name]
            mass = mm * strip.width_mm * area_g
            booking.move(item, "cut", -mass, 0.0, job=jobs[blank.job_id], blank=blank.name)
    for rest in rests:
        mass, fate = rest.long_mm * rest.wide_mm * area_g, rest_fate(rest.long_mm, rest.wide_mm)
        if fate == "sheet":
            _offcut(booking, item, rest.long_mm, mass, rest.wide_mm, "sheet")
        elif fate == "strip":
            sides = sorted((rest.long_mm, rest.wide_mm))
            _offcut(booking, item, sides[1], mass, sides[0])
        else:
            booking.to_lot(item, "scrap", 0.0, mass, "too narrow to serve")
    sawn = bool(proposed.kerf_mm)
    booking.to_lot(
        item, "filings" if sawn else "scrap", length, float(item.mass_g), "sawn" if sawn else "sheared off"
    )
    if item.length_mm:
        booking.move(item, "used", -float(item.mass_g), -float(item.length_mm), note="cut up")
    record(booking.actor, item, "moved", after={"move": "cut", "strips": len(strips)})


def settled_batches(batches: Iterable[str]) -> set[str]:
    """Those of some batches that are not taken back (again): they were already, or took something back themselves."""
    asked = set(batches)
    found = TakenBack.objects.filter(Q(batch__in=asked) | Q(by_batch__in=asked)).values_list("batch", "by_batch")
    return {one for pair in found for one in pair} | {""}


@transaction.atomic
def take_back(actor: Actor, batch: str) -> int:
    """Take back what was booked together, where all of it is still there; answers how many movements that were.

    Raises BadRequest where something of it was used meanwhile, or it was taken back already.
    """
    rows = list(
        Movement.objects.filter(batch=batch, item__workshop_id=actor.workshop_id)
        .select_related("item")
        .order_by("-at", "-id")
        if batch
        else []
    )
    if not rows:
        raise BadRequest([UnknownNameError("batch", "Nothing was booked under that.", "")])
    if any(row.kind == "in" for row in rows):
        raise BadRequest([UnknownNameError("batch", "What came in is counted again, not taken back.", "")])
    if TakenBack.objects.filter(by_batch=batch).exists():
        raise BadRequest([UnknownNameError("batch", "That took something back itself.", "Book it anew.")])
    hold_drawer(actor, {pk for row in rows for pk in (row.job_id, row.item.job_id)})
    booking = Booking(actor)
    try:
        with transaction.atomic():  # the database lets one row in for a batch, whoever asks at the same time
            TakenBack.objects.create(
                batch=batch, by_batch=booking.batch, workshop_id=actor.workshop_id, by_id=actor.user_id
            )
    except IntegrityError:
        raise BadRequest([OutOfRangeError("batch", "That was taken back already.", "")]) from None
    held = {item.pk: item for item in StockItem.objects.filter(pk__in={row.item_id for row in rows})}
    for row in rows:
        length = None if row.length_mm is None else -float(row.length_mm)
        item = held[row.item_id]
        booking.move(
            item,
            row.kind,
            -float(row.mass_g),
            length,
            job=row.job,
            blank=row.blank,
            other=row.other,
            note="taken back",
        )
    for item in held.values():
        record(actor, item, "moved", after={"move": "taken back"})
    return len(rows)
