"""The drawer and its movements as CSV, out and in; prices too. Cells that a spreadsheet would run are defused.

A file comes in whole or not at all: each row that cannot be read is named with its number and its column.
"""

from __future__ import annotations

import csv
import io
from collections.abc import Iterable, Iterator, Sequence
from decimal import Decimal
from typing import Any

from ringcraft.errors import BadRequest, CraftError, OutOfRangeError, UnreadableError
from ringcraft.metals import METALS
from ringcraft.money.prices import read_price
from ringcraft.reading import tidy
from workshop.core.text import armed, defused, is_ugly
from workshop.people.models import name_of_person
from workshop.stock.models import Movement, StockItem, called_of

ITEM_COLUMNS = (
    "number", "name", "kind", "metal", "profile", "thickness_mm", "width_mm", "side_mm", "length_mm", "mass_g",
    "state", "poured", "solder", "lot", "place", "price", "owner", "job", "moves",
)  # fmt: skip
MOVE_COLUMNS = ("at", "piece", "movement", "length_mm", "mass_g", "job", "blank", "other", "note", "by")
PRICE_COLUMNS = ("metal", "price")
MOST_ROWS, LONGEST_FILE = 6000, 2_000_000
AT_ONCE = 500  # rows of a file that are written, or kept, together
FIGURES = ("thickness_mm", "width_mm", "side_mm", "length_mm", "mass_g")


def _text(value: object) -> str:
    if value is None:
        return ""
    if isinstance(value, bool):
        return "yes" if value else ""
    return format(value.normalize(), "f") if isinstance(value, Decimal) else str(value)


def _written(columns: Sequence[str], rows: Iterable[Sequence[object]]) -> str:
    file = io.StringIO()
    writer = csv.writer(file, lineterminator="\r\n")
    if columns:
        writer.writerow(columns)
    for row in rows:
        writer.writerow([defused(_text(cell)) for cell in row])
    return file.getvalue()


def items_csv(workshop_id: int) -> str:
    """What is in the drawer, one row a piece; what is used up is left out."""
    found = StockItem.objects.filter(workshop_id=workshop_id, mass_g__gt=0).select_related("job").order_by("number")
    plain = ITEM_COLUMNS[:-2]
    return _written(
        ITEM_COLUMNS, ([*(getattr(i, n) for n in plain), i.job.number if i.job else "", i.moves] for i in found)
    )


def movements_csv(workshop_id: int) -> Iterator[str]:
    """Every movement, the oldest first: a piece of the file after the other, however long it becomes."""
    found = Movement.objects.filter(item__workshop_id=workshop_id).values_list(*_MOVED)
    last = 0
    columns: Sequence[str] = MOVE_COLUMNS
    while True:
        some = list(found.filter(pk__gt=last).order_by("pk")[:AT_ONCE])
        yield _written(columns, map(_moved, some))
        if len(some) < AT_ONCE:
            return
        last, columns = some[-1][0], ()


_NAMED = ("name", "kind", "number")
_MOVED = (
    "pk", "at", "kind", "length_mm", "mass_g", "job__number", "blank", "note",
    "by__first_name", "by__last_name", "by__username", *(f"item__{one}" for one in _NAMED),
    *(f"other__{one}" for one in _NAMED),
)  # fmt: skip


def _moved(row: Sequence[Any]) -> Sequence[object]:
    """A movement as a row of the file, read without a model for each of its pieces."""
    _, at, kind, length, mass, job, blank, note, first, last, username, *named = row
    item, other = named[:3], named[3:]
    by = name_of_person(first or "", last or "", username or "")
    return (
        at.isoformat(), called_of(*item), kind, length, mass, job or "", blank,
        called_of(*other) if other[1] else "", note, by,
    )  # fmt: skip


def prices_csv(prices: dict[str, Decimal]) -> str:
    """Prices per gram by metal."""
    return _written(PRICE_COLUMNS, ((METALS[key].title, price) for key, price in prices.items()))


def rows_of(text: str, needed: Sequence[str], known: Sequence[str]) -> list[dict[str, str]]:
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
    return [{name: armed((cell or "").strip()) for name, cell in row.items()} for row in listed]


def _cells(reader: csv.DictReader[str]) -> Iterable[dict[str, str]]:
    for row in reader:
        if None in row:
            raise csv.Error("more cells than columns")
        if any((cell or "").strip() for cell in row.values()):
            yield row


def is_count(text: str) -> bool:
    """Whether a cell is a plain whole number."""
    return text.isascii() and text.isdecimal() and len(text) < 10


def read_prices(text: str) -> dict[str, Decimal]:
    """Prices per gram from a CSV file; raises BadRequest with each bad row."""
    rows = rows_of(text, PRICE_COLUMNS, PRICE_COLUMNS)
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
