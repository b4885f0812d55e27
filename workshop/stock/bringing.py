"""Pieces that come in from a file: all of them or none, and what is in the drawer already is asked about.

The file is read before anything is held; what is kept of it is kept in a few statements, so that nobody waits.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from typing import Any

from django.db import transaction
from django.db.models import Max

from ringcraft.errors import BadRequest, CraftError, OutOfRangeError, UnknownNameError, UnreadableError
from ringcraft.money.prices import read_price
from ringcraft.schema import read_request
from ringcraft.stock.drawer import KINDS, PIECE, PieceFigures, StockPiece, same_section
from workshop.core.history import Actor, event, record
from workshop.core.models import Event
from workshop.core.text import is_figure
from workshop.jobs.models import Job
from workshop.stock.actions import ItemWords, came_in, described
from workshop.stock.booking import Booking, first_movement, hold_drawer
from workshop.stock.models import Movement, StockItem
from workshop.stock.tables import AT_ONCE, FIGURES, ITEM_COLUMNS, is_count, rows_of

MOST_ERRORS = 20
MOST_NAMED = 12
#: What becomes of the rows whose number is in the drawer already.
KNOWN = {"leave": "they stay as they are", "count": "they are counted anew", "new": "they are new pieces"}


@dataclass(frozen=True)
class Brought:
    """How many pieces of a file came in, how many were counted anew, how many were left as they are."""

    count: int
    counted: int = 0
    left: int = 0


@dataclass(frozen=True)
class _Row:
    """A row of the file as it was read: its place, the piece it describes, how often that had moved then."""

    place: int
    number: int | None
    moves: int | None
    item: StockItem
    figures: PieceFigures
    said: dict[str, Any]


def bring_in(actor: Actor, text: str, known: str = "", units: str = "mm") -> Brought:
    """Take in the pieces of a CSV file, all of them or none; raises BadRequest with each bad row and column.

    ``known`` says what becomes of pieces whose number is here already (:data:`KNOWN`); where there are any and
    nothing is said, that is asked at ``known``.
    """
    if known and known not in KNOWN:
        raise BadRequest([UnknownNameError("known", "That is not done with them.", f"It can be {', '.join(KNOWN)}.")])
    rows = _read(actor, text, units)
    with transaction.atomic():
        hold_drawer(actor, {row.item.job_id for row in rows})
        numbers = [row.number for row in rows if row.number is not None]
        held = StockItem.objects.filter(workshop_id=actor.workshop_id, number__in=numbers)
        here = {item.number: item for item in held}
        if here and not known:
            raise BadRequest([_asked(sorted(here), len(rows))])
        if known == "new":
            here = {}
        fresh: list[_Row] = []
        again: list[_Row] = []
        for row in rows:
            (again if row.number in here else fresh).append(row)
        counted = _count_anew(actor, again, here) if known == "count" else 0
        _keep(actor, fresh)
    return Brought(len(fresh), counted, len(again) - counted)


def _asked(numbers: Sequence[int], rows: int) -> CraftError:
    named = ", ".join(map(str, numbers[:MOST_NAMED])) + (" and more" if len(numbers) > MOST_NAMED else "")
    are, what = ("is", "number") if len(numbers) == 1 else ("are", "numbers")
    said = f"{len(numbers)} of {rows} {are} in the drawer already: {what} {named}."
    return UnreadableError("known", said, "Leave what is here, count it anew by the file, or take in new pieces.")


def _read(actor: Actor, text: str, units: str) -> list[_Row]:
    """The rows of a file; raises BadRequest with each bad one."""
    errors: list[CraftError] = []
    out: list[_Row] = []
    seen: set[int] = set()
    listed = rows_of(text, ("kind", "metal"), ITEM_COLUMNS)
    jobs = _jobs(actor, {row.get("job", "") for row in listed})
    for place, row in enumerate(listed, 1):
        try:
            number = int(row["number"]) if is_count(row.get("number", "")) else None
            if number is not None and number in seen:
                raise BadRequest([UnreadableError("number", f"Number {number} stands here twice.", "Once.")])
            seen.add(number or 0)
            moves = int(row["moves"]) if is_count(row.get("moves", "")) else None
            out.append(_Row(place, number, moves, *described(actor, _piece(row, units), _words(row, jobs))))
        except BadRequest as problem:
            errors += [one.at(f"rows.{place}.{one.field}") for one in problem.errors]
        if len(errors) >= MOST_ERRORS:
            break
    if not listed:
        errors.append(UnreadableError("text", "There is no piece in it.", "One row a piece."))
    if errors:
        raise BadRequest(errors)
    return out


def _jobs(actor: Actor, numbers: set[str]) -> dict[str, int]:
    """The jobs that a file names, by their numbers."""
    known = {int(number) for number in numbers if is_count(number)}
    found = Job.objects.filter(workshop_id=actor.workshop_id, number__in=known).values_list("number", "pk")
    keys = dict(found)
    return {number: keys[int(number)] for number in numbers if is_count(number) and int(number) in keys}


def _piece(row: dict[str, str], units: str) -> StockPiece:
    said: dict[str, Any] = {"kind": row["kind"], "metal": row["metal"], "units": units}
    for name in FIGURES:
        if row.get(name):
            said[name] = f"{row[name]} mm" if name.endswith("_mm") and is_figure(row[name]) else row[name]
    said |= {name: row[name] for name in ("profile", "state", "price", "lot", "place", "solder") if row.get(name)}
    said["poured"] = row.get("poured", "").lower() in ("yes", "y", "true", "1")
    piece: StockPiece = read_request(PIECE, said)
    return piece


def _words(row: dict[str, str], jobs: dict[str, int]) -> ItemWords:
    number = row.get("job", "")
    if number and number not in jobs:
        raise BadRequest([UnreadableError("job", f"There is no job {number[:20]} here.", "Its number, or nothing.")])
    try:
        price = read_price(row["price"]) if row.get("price") else None
    except CraftError as problem:
        raise BadRequest([problem.at("price")]) from None
    texts = {name: row.get(name, "") for name in ("name", "lot", "place", "owner", "solder")}
    return ItemWords(**texts, price=price, job_id=jobs.get(number))


def _count_anew(actor: Actor, rows: Sequence[_Row], here: dict[int, StockItem]) -> int:
    """Set what is there to what the file says, each as a count; how many that changed. Raises BadRequest."""
    errors: list[CraftError] = []
    booking, counted = Booking(actor), 0
    for row in rows:
        item = here[row.number or 0]
        try:
            _same(row, item)
            mass = row.figures.mass_g - float(item.mass_g)
            length = None if item.length_mm is None else (row.figures.length_mm or 0.0) - float(item.length_mm)
            if abs(mass) > 0.00005 or abs(length or 0.0) > 0.00005:
                booking.move(item, "correct", mass, length, note="counted from a file")
                record(actor, item, "moved", after={"move": "correct", "mass_g": round(row.figures.mass_g, 4)})
                counted += 1
        except BadRequest as problem:
            errors += [one.at(f"rows.{row.place}.{one.field}") for one in problem.errors]
    if errors:
        raise BadRequest(errors[:MOST_ERRORS])
    return counted


def _same(row: _Row, item: StockItem) -> None:
    """Raise BadRequest unless a row describes the piece that has its number here, as it stands."""
    here, told = item.section, row.figures.section
    if item.metal != row.item.metal or (here is None) != (told is None) or (here and told and _other(here, told)):
        said = f"Number {item.number} here is {item.metal_title} {KINDS[item.kind].title}: another piece."
        raise BadRequest([UnreadableError("number", said, "Leave its number out, or take it in as a new one.")])
    if row.moves is not None and row.moves != item.moves:
        said = f"{item.called} was used since this file was written: what it says is older."
        field = "mass_g" if item.length_mm is None else "length_mm"
        raise BadRequest([OutOfRangeError(field, said, "Count it again.")])


def _other(here: Any, told: Any) -> bool:
    return here.profile != told.profile or not same_section(here, told)


def _keep(actor: Actor, rows: Sequence[_Row]) -> None:
    """Keep new pieces with the movements that they came in by, in the order of the file."""
    last = StockItem.objects.filter(workshop_id=actor.workshop_id).aggregate(last=Max("number"))["last"] or 0
    booking, events, moves = Booking(actor), [], []
    for number, row in enumerate(rows, last + 1):
        row.item.workshop_id, row.item.number, row.item.stock = actor.workshop_id, number, row.item.stock_key()
        first_movement(row.item, row.figures)
    StockItem.objects.bulk_create([row.item for row in rows], batch_size=AT_ONCE)
    for row in rows:
        moves.append(booking.came_in(row.item, "from a file"))
        events.append(event(actor, row.item, "created", after=came_in(row.figures, row.said)))
    Movement.objects.bulk_create(moves, batch_size=AT_ONCE)
    Event.objects.bulk_create(events, batch_size=AT_ONCE)
