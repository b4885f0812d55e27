"""The drawer and its movements as CSV, out and in; prices too. Cells that a spreadsheet would run are defused.

A file comes in whole or not at all: each row that cannot be read is named with its number and its column.
"""

from __future__ import annotations

import csv
import io
import re
from collections.abc import Iterable, Sequence
from decimal import Decimal
from typing import Any

from django.db import transaction

from ringcraft.errors import BadRequest, CraftError, OutOfRangeError, UnreadableError
from ringcraft.metals import METALS
from ringcraft.money.prices import read_price
from ringcraft.reading import tidy
from ringcraft.schema import read_request
from ringcraft.stock.drawer import PIECE, StockPiece
from workshop.core.history import Actor
from workshop.core.text import is_ugly
from workshop.jobs.models import Job
from workshop.stock.actions import ItemWords, take_in
from workshop.stock.models import Movement, StockItem

ITEM_COLUMNS = (
    "number", "name", "kind", "metal", "profile", "thickness_mm", "width_mm", "side_mm", "length_mm", "mass_g",
    "state", "poured", "solder", "lot", "place", "price", "owner", "job",
)  # fmt: skip
MOVE_COLUMNS = ("at", "piece", "movement", "length_mm", "mass_g", "job", "blank", "other", "note", "by")
PRICE_COLUMNS = ("metal", "price")
MOST_ROWS, LONGEST_FILE = 2000, 2_000_000
FIGURES = ("thickness_mm", "width_mm", "side_mm", "length_mm", "mass_g")
_RUNS = ("=", "+", "-", "@", "\t", "\r")
_FIGURE = re.compile(r"-?\d+(\.\d+)?")


def defused(cell: str) -> str:
    """A cell that no spreadsheet takes for a formula; a plain figure stays one.

    >>> defused("=1+1"), defused("-12.5"), defused("-cmd")
    ("'=1+1", '-12.5', "'-cmd")
    """
    return f"'{cell}" if cell.startswith(_RUNS) and not _FIGURE.fullmatch(cell) else cell


def _armed(cell: str) -> str:
    """A cell as it was before it was defused."""
    return cell[1:] if cell[:1] == "'" and cell[1:2] in _RUNS else cell


def _text(value: object) -> str:
    if value is None:
        return ""
    if isinstance(value, bool):
        return "yes" if value else ""
    return format(value.normalize(), "f") if isinstance(value, Decimal) else str(value)


def _written(columns: Sequence[str], rows: Iterable[Sequence[object]]) -> str:
    file = io.StringIO()
    writer = csv.writer(file, lineterminator="\r\n")
    writer.writerow(columns)
    for row in rows:
        writer.writerow([defused(_text(cell)) for cell in row])
    return file.getvalue()


def items_csv(workshop_id: int) -> str:
    """What is in the drawer, one row a piece; what is used up is left out."""
    found = StockItem.objects.filter(workshop_id=workshop_id, mass_g__gt=0).select_related("job").order_by("number")
    plain = ITEM_COLUMNS[:-1]
    return _written(ITEM_COLUMNS, ([*(getattr(i, n) for n in plain), i.job.number if i.job else ""] for i in found))


def movements_csv(workshop_id: int) -> str:
    """Every movement, the oldest first."""
    found = Movement.objects.filter(item__workshop_id=workshop_id).select_related("item", "job", "other", "by")
    rows = (
        (
            m.at.isoformat(), m.item.called, m.kind, m.length_mm, m.mass_g, m.job.number if m.job else "", m.blank,
            m.other.called if m.other else "", m.note, str(m.by or ""),
        )
        for m in found.order_by("id").iterator(1000)
    )  # fmt: skip
    return _written(MOVE_COLUMNS, rows)


def prices_csv(prices: dict[str, Decimal]) -> str:
    """Prices per gram by metal."""
    return _written(PRICE_COLUMNS, ((METALS[key].title, price) for key, price in prices.items()))


def _rows(text: str, needed: Sequence[str], known: Sequence[str]) -> list[dict[str, str]]:
    """The rows of a CSV text by their columns; raises BadRequest where it is none."""
    if len(text) > LONGEST_FILE:
        raise BadRequest(
            [OutOfRangeError("text", "That file is too long for a drawer.", "At most 2 million letters.")]
        )
    if is_ugly(text.replace("\x00", "\ud800")):
        raise BadRequest([UnreadableError("text", "This is no text file.", "Save it as CSV, in UTF-8.")])
    first = text.lstrip("\ufeff").split("\n", 1)[0]
    between = ";" if first.count(";") > first.count(",") else ","
    try:
        reader = csv.DictReader(io.StringIO(text.lstrip("\ufeff")), delimiter=between, strict=True)
        columns = [tidy(name or "").replace(" ", "_") for name in reader.fieldnames or []]
        listed = [dict(zip(columns, row.values(), strict=False)) for row in _cells(reader)]
    except (csv.Error, CraftError, ValueError):
        raise BadRequest([UnreadableError("text", "This cannot be read as CSV.", "One row a piece.")]) from None
    missing = [name for name in needed if name not in columns]
    strange = [name for name in columns if name not in known]
    if missing or strange or len(set(columns)) < len(columns):
        what = (
            f"It has no column {missing[0]}." if missing else f"“{(strange or columns)[0][:40]}” is no column here."
        )
        raise BadRequest([UnreadableError("text", what, f"Columns: {', '.join(known)}.")])
    if len(listed) > MOST_ROWS:
        raise BadRequest([OutOfRangeError("text", "Too many rows for one file.", f"At most {MOST_ROWS}.")])
    return [{name: _armed((cell or "").strip()) for name, cell in row.items()} for row in listed]


def _cells(reader: csv.DictReader[str]) -> Iterable[dict[str, str]]:
    for row in reader:
        if None in row:
            raise csv.Error("more cells than columns")
        if any((cell or "").strip() for cell in row.values()):
            yield row


@transaction.atomic
def bring_in(actor: Actor, text: str, units: str = "mm") -> int:
    """Take in the pieces of a CSV file, all of them or none; raises BadRequest with each bad row and column."""
    rows = _rows(text, ("kind", "metal"), ITEM_COLUMNS)
    errors: list[CraftError] = []
    for place, row in enumerate(rows):
        try:
            with transaction.atomic():
                take_in(actor, _piece(row, units), _words(actor, row), "from a file")
        except BadRequest as problem:
            errors += [one.at(f"rows.{place + 1}.{one.field}") for one in problem.errors]
        if len(errors) >= 20:
            break
    if not rows:
        errors.append(UnreadableError("text", "There is no piece in it.", "One row a piece."))
    if errors:
        raise BadRequest(errors)
    return len(rows)


def _piece(row: dict[str, str], units: str) -> StockPiece:
    said: dict[str, Any] = {"kind": row["kind"], "metal": row["metal"], "units": units}
    for name in FIGURES:
        if row.get(name):
            said[name] = f"{row[name]} mm" if name.endswith("_mm") and _FIGURE.fullmatch(row[name]) else row[name]
    said |= {name: row[name] for name in ("profile", "state", "price", "lot", "place", "solder") if row.get(name)}
    said["poured"] = row.get("poured", "").lower() in ("yes", "y", "true", "1")
    piece: StockPiece = read_request(PIECE, said)
    return piece


def _words(actor: Actor, row: dict[str, str]) -> ItemWords:
    number, job = row.get("job", ""), None
    if number:
        found = Job.objects.filter(workshop_id=actor.workshop_id, number=int(number) if _is_count(number) else 0)
        job = found.values_list("pk", flat=True).first()
        if job is None:
            raise BadRequest(
                [UnreadableError("job", f"There is no job {number[:20]} here.", "Its number, or nothing.")]
            )
    try:
        price = read_price(row["price"]) if row.get("price") else None
    except CraftError as problem:
        raise BadRequest([problem.at("price")]) from None
    texts = {name: row.get(name, "") for name in ("name", "lot", "place", "owner", "solder")}
    return ItemWords(**texts, price=price, job_id=job)


def _is_count(text: str) -> bool:
    return text.isascii() and text.isdecimal() and len(text) < 10


def read_prices(text: str) -> dict[str, Decimal]:
    """Prices per gram from a CSV file; raises BadRequest with each bad row."""
    rows = _rows(text, PRICE_COLUMNS, PRICE_COLUMNS)
    titles = {tidy(metal.title): key for key, metal in METALS.items()} | {key: key for key in METALS}
    errors: list[CraftError] = []
    out: dict[str, Decimal] = {}
    for place, row in enumerate(rows, 1):
        metal = titles.get(row["metal"].lower()[:80])
        if metal is None:
            errors.append(
                UnreadableError(f"rows.{place}.metal", f"“{row['metal'][:40]}” is no metal known here.", "")
            )
            continue
        if metal in out:
            errors.append(UnreadableError(f"rows.{place}.metal", "That metal stands here twice.", "Once."))
            continue
        try:
            out[metal] = read_price(row["price"])
        except CraftError as problem:
            errors.append(problem.at(f"rows.{place}.price"))
    if not rows:
        errors.append(UnreadableError("text", "There is no price in it.", "One row a metal."))
    if errors:
        raise BadRequest(errors[:20])
    return out
