"""The cut plan of a drawer: proposed from what is there and what is wanted, and booked all at once or not at all."""

from __future__ import annotations

import hashlib
import json
import math
from collections.abc import Sequence
from dataclasses import dataclass
from datetime import datetime, timedelta

from django.db import transaction
from django.utils import timezone

from ringcraft.errors import BadRequest, OutOfRangeError, UnknownNameError, UnreadableError
from ringcraft.metals import BLADES
from ringcraft.stock.cutting.answer import CutPiece, CutPlan, CutStrip, answer_cut
from ringcraft.stock.cutting.asking import (
    MOST_BLANKS,
    MOST_PIECES,
    MOST_SHEETS,
    CutBlank,
    CutRequest,
    StockBar,
    StockSheet,
)
from workshop.core.history import Actor, record
from workshop.jobs.models import Job
from workshop.stock.booking import Booking, new_item
from workshop.stock.demand import OpenBlank, open_blanks
from workshop.stock.groups import Group, groups_of, stock_of, wanted_from
from workshop.stock.models import Movement, StockItem

SCRAP_MM = 2.0  # a rest shorter than that serves no insert; our own judgement
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
    groups = groups_of(list(stock_of(actor.workshop_id)))
    group = next((one for one in groups if one.key == chosen.group), None)
    if group is None:
        raise BadRequest([UnknownNameError("group", "That stock is not in the drawer any more.", "Choose another.")])
    if chosen.blade not in BLADES:
        raise BadRequest(
            [UnknownNameError("blade", "That blade is not known here.", f"It can be {', '.join(BLADES)}.")]
        )
    if not 0 <= chosen.end_trim_mm <= 20:
        raise BadRequest([OutOfRangeError("end_trim_mm", "No end is squared by that.", "Such as 0.5.")])
    jobs = Job.objects.filter(workshop_id=actor.workshop_id, closed_at__isnull=True)
    wanted = wanted_from(group, groups, open_blanks(jobs))
    picked = [blank for blank in wanted if _chosen(blank, chosen)]
    ready = [blank for blank in picked if not blank.waits and not blank.ticked]
    return _planned(group, ready, picked, chosen)


def _chosen(blank: OpenBlank, chosen: Selection) -> bool:
    if chosen.jobs is not None:
        return blank.job_id in chosen.jobs
    if chosen.days is None:
        return True
    return blank.due is not None and blank.due <= _until(chosen.days)


def _until(days: int) -> datetime:
    return timezone.now() + timedelta(days=min(max(days, 0), 3660))


def _planned(group: Group, ready: Sequence[OpenBlank], picked: Sequence[OpenBlank], chosen: Selection) -> Proposed:
    kerf = 0.0 if chosen.sheared else BLADES[chosen.blade]
    ready = sorted(ready, key=lambda one: (one.due is None, one.due, one.number, one.name))
    taken, count = [], 0
    for blank in ready:
        if count + blank.count <= MOST_BLANKS:
            taken.append(blank)
            count += blank.count
    asked = CutRequest(
        kerf_mm=kerf,
        end_trim_mm=chosen.end_trim_mm,
        stock=() if group.sheet else tuple(_bar(item) for item in group.items[:MOST_PIECES]),
        sheets=tuple(_sheet(item) for item in group.items[:MOST_SHEETS]) if group.sheet else (),
        blanks=tuple(_blank(blank, sheet=group.sheet) for blank in taken),
        units=chosen.units,
    )
    plan = answer_cut(asked)
    items = {str(item.pk): item for item in group.items}
    return Proposed(
        group=group,
        plan=plan,
        blanks={blank.key: blank for blank in taken},
        waiting=tuple(blank for blank in picked if blank.waits and not blank.ticked),
        ticked=tuple(blank for blank in picked if blank.ticked),
        left_out=len(ready) - len(taken),
        unseen=max(0, len(group.items) - (MOST_SHEETS if group.sheet else MOST_PIECES)),
        kerf_mm=kerf,
        key=_key(group, plan, items, kerf),
    )


def _key(group: Group, plan: CutPlan, items: dict[str, StockItem], kerf: float) -> str:
    """What a plan is known by: its pieces as they stand, and every cut of it."""
    pieces = [(one.stock_id, items[one.stock_id].moves, one.cuts, one.lengths_mm) for one in plan.pieces]
    strips = [(one.sheet_id, items[one.sheet_id].moves, one.at_mm, one.cuts, one.lengths_mm) for one in plan.strips]
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
        due="" if blank.due is None else blank.due.isoformat(),
    )


@transaction.atomic
def confirm(actor: Actor, chosen: Selection, key: str) -> Proposed:
    """Book the plan that was seen: its cuts, its kerfs, its offcuts; all of it or nothing.

    Raises BadRequest where the drawer or the jobs are not as they were when it was seen.
    """
    ids = list(stock_of(actor.workshop_id).values_list("pk", flat=True))
    list(StockItem.objects.select_for_update().filter(pk__in=ids).order_by("pk").values_list("pk", flat=True))
    proposed = propose(actor, chosen)
    if proposed.key != key:
        said = "The drawer or the jobs have changed since this plan was made: nothing is booked."
        raise BadRequest([OutOfRangeError("key", said, "Look at the plan as it is now.")])
    if not (proposed.plan.pieces or proposed.plan.strips):
        raise BadRequest([UnreadableError("group", "Nothing is to be cut from it.", "Choose other jobs or stock.")])
    items = {str(item.pk): item for item in proposed.group.items}
    booking = Booking(actor)
    for piece in proposed.plan.pieces:
        _book_bar(booking, items[piece.stock_id], piece, proposed, chosen.end_trim_mm)
    for sheet_id in dict.fromkeys(strip.sheet_id for strip in proposed.plan.strips):
        strips = [strip for strip in proposed.plan.strips if strip.sheet_id == sheet_id]
        _book_sheet(booking, items[sheet_id], strips, proposed)
    return proposed


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


def strip_fate(rest_mm: float) -> str:
    """What becomes of the end of a strip: nothing, scrap, or an offcut of its own."""
    if rest_mm <= 0:
        return "nothing"
    return "scrap" if rest_mm < SCRAP_MM else "an offcut"


def beside_strips(item: StockItem, strips: Sequence[CutStrip], kerf_mm: float) -> float:
    """How wide a sheet stays beside its strips [mm]."""
    across = math.fsum(strip.width_mm for strip in strips) + kerf_mm * len(strips)
    return max(0.0, float(item.width_mm or 0) - across)


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


def _book_sheet(booking: Booking, item: StockItem, strips: Sequence[CutStrip], proposed: Proposed) -> None:
    """The strips of a sheet: their blanks, the ends of each strip, the sheet beside them; the sheet itself goes."""
    length = float(item.length_mm or 0)
    wide, jobs, kerf = float(item.width_mm or 0), _jobs_of(proposed), proposed.kerf_mm
    area_g = float(item.mass_g) / (wide * length) if wide * length else 0.0
    for strip in strips:
        for name, mm in zip(strip.cuts, strip.lengths_mm, strict=True):
            blank = proposed.blanks[name]
            mass = mm * strip.width_mm * area_g
            booking.move(item, "cut", -mass, 0.0, job=jobs[blank.job_id], blank=blank.name)
        if strip_fate(strip.offcut_mm) == "an offcut":
            mass = strip.offcut_mm * strip.width_mm * area_g
            _offcut(booking, item, strip.offcut_mm, mass, strip.width_mm)
    rest = beside_strips(item, strips, kerf)
    if rest >= SCRAP_MM:
        mass = rest * length * area_g
        _offcut(booking, item, length, mass, rest, "sheet")
    booking.to_lot(
        item, "filings" if kerf else "scrap", length, float(item.mass_g), "sawn" if kerf else "sheared off"
    )
    if item.length_mm:
        booking.move(item, "used", -float(item.mass_g), -float(item.length_mm), note="cut up")
    record(booking.actor, item, "moved", after={"move": "cut", "strips": len(strips)})


@transaction.atomic
def take_back(actor: Actor, batch: str) -> int:
    """Take back what was booked together, where all of it is still there; answers how many movements that were.

    Raises BadRequest where something of it was used meanwhile, or it was taken back already.
    """
    rows = list(
        Movement.objects.filter(batch=batch, item__workshop_id=actor.workshop_id).order_by("-id") if batch else []
    )
    if not rows:
        raise BadRequest([UnknownNameError("batch", "Nothing was booked under that.", "")])
    if any(row.kind == "in" for row in rows):
        raise BadRequest([UnknownNameError("batch", "What came in is counted again, not taken back.", "")])
    back = f"back {batch}"[:32]
    if Movement.objects.filter(batch=back).exists():
        raise BadRequest([OutOfRangeError("batch", "That was taken back already.", "")])
    held = {
        item.pk: item
        for item in StockItem.objects.select_for_update().filter(pk__in={row.item_id for row in rows}).order_by("pk")
    }
    booking = Booking(actor, batch=back)
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
