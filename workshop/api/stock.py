"""The drawer: pieces and their movements, out and in as CSV."""

from __future__ import annotations

from collections.abc import Iterator
from decimal import Decimal
from typing import Any

from django.db.models import Case, Q, QuerySet, When
from django.http import HttpRequest, HttpResponse, StreamingHttpResponse
from django.http.response import HttpResponseBase
from ninja import Router, Schema
from ninja.responses import Status

from ringcraft.errors import BadRequest, CraftError
from ringcraft.metals import METALS
from ringcraft.money.prices import by_metal, read_price
from ringcraft.planning.context import stock_words
from ringcraft.schema import bare_figures_in, read_at, read_request, to_json
from ringcraft.stock.drawer import KINDS, PIECE, AnyPiece, StockPiece
from ringcraft.units import Length
from workshop.api.signed_in import actor, person, shop, typed_in, who_may
from workshop.api.stock_shapes import Drawer, Moves, OneItem
from workshop.core.pages import MOST, check_page, page_of
from workshop.people.keeping import set_preferences
from workshop.people.preferences import overrides_of, preferences_of
from workshop.people.roles import sees_prices
from workshop.stock import actions, bringing, melts, tables
from workshop.stock.cuts import settled_batches, take_back
from workshop.stock.groups import group_key
from workshop.stock.models import MOVES, StockItem

router = Router()
MOST_MOVES = 50  # of a piece that its sheet begins with; the older ones come by pages


class WordsIn(Schema):
    """What a person says of a piece beside what it is."""

    name: str = ""
    lot: str = ""
    place: str = ""
    owner: str = ""
    solder: str = ""
    price: str | float | None = None
    job_id: int | None = None


class ItemIn(WordsIn):
    """A piece that comes in."""

    piece: AnyPiece
    note: str = ""


class EditIn(WordsIn):
    """A piece described anew; ``version`` is the one that was read."""

    version: int | None = None


class MoveIn(Schema):
    """A movement by hand: how much of it, as typed."""

    kind: str
    length_mm: float | str | None = None
    mass_g: float | str | None = None
    note: str = ""
    moves: int | None = None
    typed_in: str | None = None


class CsvIn(Schema):
    """A file's text."""

    text: str


class PiecesIn(CsvIn):
    """Pieces in a file's text; what becomes of those whose number is here already: leave, count or new."""

    known: str = ""


class BroughtIn(Schema):
    """How many rows came in."""

    count: int


class BroughtPieces(BroughtIn):
    """How many pieces came in; of those that were here: how many were counted anew, how many left as they are."""

    counted: int
    left: int


class TakenBack(Schema):
    """How many movements were taken back."""

    count: int


class IntoIn(Schema):
    """What goes into the crucible from a piece [g]."""

    item_id: int
    mass_g: float | str


class MeltIn(Schema):
    """A melt that was made: what went in, what came out of it, what was added [g] for its fineness."""

    into: list[IntoIn]
    poured: list[AnyPiece]
    note: str = ""
    added_g: float | str | None = None


def items_of(request: HttpRequest) -> QuerySet[StockItem]:
    """The pieces of the asker's workshop, and no others."""
    return StockItem.objects.filter(workshop=shop(request)).select_related("job", "came_from")


def item_out(item: StockItem, units: str, priced: bool) -> dict[str, Any]:
    """A piece as the API answers it to a shop of these units; ``priced`` whether its price may be seen."""
    section, metal = item.section, METALS.get(item.metal)
    length = None if item.length_mm is None else float(item.length_mm)
    plain = (
        "id", "number", "called", "name", "kind", "metal", "metal_title", "profile", "state", "poured", "solder",
        "lot", "place", "owner", "job_id", "moves", "version",
    )  # fmt: skip
    return {
        **{name: getattr(item, name) for name in plain},
        "kind_title": KINDS[item.kind].title,
        "family": metal.family if metal else "other",
        "title": stock_words(section, units) if section else item.solder or KINDS[item.kind].title,
        "outline": section.outline if section else (),
        "counted": KINDS[item.kind].counted,
        "price": "" if item.price is None or not priced else format(item.price.normalize(), "f"),
        "job_name": item.job.name if item.job else "",
        "from_id": item.came_from_id,
        "from_called": item.came_from.called if item.came_from else "",
        "length_mm": length,
        "width_mm": section.width_mm if section else None,
        "thickness_mm": section.thickness_mm if section else None,
        "length_text": "" if length is None else f"{Length(length, units):.1f}",
        "mass_g": float(item.mass_g),
        "group": group_key(item) if section and KINDS[item.kind].cut_from else "",
    }


def _one(request: HttpRequest, item_id: int) -> dict[str, Any]:
    item = items_of(request).get(pk=item_id)
    units = preferences_of(person(request), shop(request)).units
    return {**item_out(item, units, sees_prices(person(request))), "movements": _moves(item, MOST_MOVES, 0, units)}


def _moves(item: StockItem, limit: int, offset: int, units: str) -> list[dict[str, Any]]:
    """Movements of a piece, the newest first; they are numbered, so that a deep page is found by its numbers."""
    newest = item.moves - offset
    rows = item.movements.filter(nth__lte=newest, nth__gt=newest - limit).select_related("job", "other", "by")
    listed = list(rows.order_by("-nth"))
    settled = settled_batches(row.batch for row in listed)
    return [
        {
            "nth": row.nth,
            "kind": row.kind,
            "title": MOVES.get(row.kind, row.kind),
            "length_text": "" if row.length_mm is None else f"{Length(float(row.length_mm), units):+.1f}",
            "mass_g": float(row.mass_g),
            "job_id": row.job_id,
            "job_name": row.job.name if row.job else "",
            "blank": row.blank,
            "other_id": row.other_id,
            "other": row.other.called if row.other else "",
            "note": row.note,
            "batch": row.batch,
            "may_go_back": row.kind != "in" and row.batch not in settled,
            "at": row.at,
            "by": str(row.by or ""),
        }
        for row in listed
    ]


def _words(body: WordsIn) -> actions.ItemWords:
    price: Decimal | None = None
    if body.price not in (None, ""):
        try:
            price = read_price(body.price)
        except CraftError as problem:
            raise BadRequest([problem.at("price")]) from None
    plain = ("name", "lot", "place", "owner", "solder", "job_id")
    return actions.ItemWords(**{name: getattr(body, name) for name in plain}, price=price)


@router.get("", response=Drawer, operation_id="list_stock")
def list_stock(request: HttpRequest, q: str = "", gone: bool = False, limit: int = MOST, offset: int = 0) -> Any:
    """What is in the drawer, a page at a time; ``gone`` shows what was used up, ``q`` finds by name, lot, place."""
    found = items_of(request)
    ever = found.exists()
    found = found if gone else found.filter(mass_g__gt=0)
    found = found.annotate(rank=Case(*(When(kind=key, then=at) for at, key in enumerate(KINDS)), default=len(KINDS)))
    for word in q[:80].split():
        found = found.filter(
            Q(name__icontains=word)
            | Q(lot__icontains=word)
            | Q(place__icontains=word)
            | Q(owner__icontains=word)
            | Q(metal__icontains=word)
            | Q(profile__icontains=word)
            | Q(kind__icontains=word)
        )
    units = preferences_of(person(request), shop(request)).units
    priced = sees_prices(person(request))
    page = page_of(found, ("rank", "metal", "number"), limit, offset).map(lambda item: item_out(item, units, priced))
    return {"items": page.items, "count": page.count, "ever": ever}


@router.post("", auth=who_may("book"), response={201: OneItem}, operation_id="take_in_stock")
def take_in(request: HttpRequest, body: ItemIn) -> Status[Any]:
    """A new piece in the drawer."""
    item = actions.take_in(actor(request), _with_own(request, body.piece), _words(body), body.note)
    return Status(201, _one(request, item.pk))


def _with_own(request: HttpRequest, piece: StockPiece) -> StockPiece:
    """The piece with the shop's own densities, where it brings none."""
    metals = preferences_of(person(request), shop(request)).metal_figures
    if piece.own.metals or not metals:
        return piece
    made: StockPiece = read_request(PIECE, to_json(piece) | {"own": {"metals": metals}})
    return made


@router.get("/items.csv", auth=who_may("export"), operation_id="stock_csv")
def stock_as_csv(request: HttpRequest) -> HttpResponseBase:
    """The drawer as CSV."""
    return _csv(tables.items_csv(shop(request).pk), "drawer.csv")


@router.post("/items.csv", auth=who_may("book"), response={201: BroughtPieces}, operation_id="bring_in_stock")
def bring_in(request: HttpRequest, body: PiecesIn) -> Status[Any]:
    """Pieces from a CSV file: all of them or none; those whose number is here already are asked about."""
    return Status(201, bringing.bring_in(actor(request), body.text, body.known))


@router.get("/movements.csv", auth=who_may("export"), operation_id="movements_csv")
def movements_as_csv(request: HttpRequest) -> HttpResponseBase:
    """Every movement as CSV, sent as it is read."""
    return _csv(tables.movements_csv(shop(request).pk), "movements.csv")


@router.get("/prices.csv", auth=who_may("prices"), operation_id="prices_csv")
def prices_as_csv(request: HttpRequest) -> HttpResponseBase:
    """The shop's metal prices as CSV."""
    prices = preferences_of(person(request), shop(request)).metal_prices
    return _csv(tables.prices_csv(by_metal(prices)), "prices.csv")


@router.post("/prices.csv", auth=who_may("ways"), response=BroughtIn, operation_id="bring_in_prices")
def bring_in_prices(request: HttpRequest, body: CsvIn) -> dict[str, int]:
    """Metal prices from a CSV file, in place of those of the workshop's ways."""
    prices, where = tables.read_prices(body.text), shop(request)
    said = [{"metal": key, "price": f"{price:f}"} for key, price in prices.items()]
    level = overrides_of({**where.preferences, "metal_prices": said})
    set_preferences(actor(request), where, where.preferences_version, level)
    return {"count": len(prices)}


def _csv(text: str | Iterator[str], name: str) -> HttpResponseBase:
    kind = "text/csv; charset=utf-8"
    whole = isinstance(text, str)
    answer = HttpResponse(text, content_type=kind) if whole else StreamingHttpResponse(text, content_type=kind)
    answer["Content-Disposition"] = f'attachment; filename="{name}"'
    return answer


@router.post("/melts", auth=who_may("book"), response={201: OneItem}, operation_id="book_melt")
def book_melt(request: HttpRequest, body: MeltIn) -> Status[Any]:
    """Book a melt that was made."""
    into = [
        melts.Into(one.item_id, read_mass(f"into.{place}.mass_g", one.mass_g)) for place, one in enumerate(body.into)
    ]
    added = None if body.added_g in (None, "") else melts.Added(read_mass("added_g", body.added_g))
    poured = [_with_own(request, one) for one in body.poured]
    item = melts.book_melt(actor(request), into, poured, body.note, added)
    return Status(201, _one(request, item.pk))


def read_mass(field: str, value: object) -> float:
    """A mass as typed [g]; raises BadRequest at its field."""
    from ringcraft.stock.melt.mixing import read_grams

    try:
        return read_grams(value)
    except CraftError as problem:
        raise BadRequest([problem.at(field)]) from None


@router.post("/back/{batch}", auth=who_may("correct"), response=TakenBack, operation_id="take_back_stock")
def back(request: HttpRequest, batch: str) -> dict[str, int]:
    """Take back what was booked together."""
    return {"count": take_back(actor(request), batch)}


@router.get("/{int:item_id}", response=OneItem, operation_id="read_stock")
def read_item(request: HttpRequest, item_id: int) -> dict[str, Any]:
    """One piece with its movements."""
    return _one(request, item_id)


@router.get("/{int:item_id}/moves", response=Moves, operation_id="stock_moves")
def moves_of(request: HttpRequest, item_id: int, limit: int = MOST, offset: int = 0) -> dict[str, Any]:
    """The movements of a piece, the newest first, a page at a time."""
    check_page(limit, offset)
    item = items_of(request).get(pk=item_id)
    units = preferences_of(person(request), shop(request)).units
    return {"items": _moves(item, limit, offset, units), "count": item.moves}


@router.put("/{int:item_id}", auth=who_may("book"), response=OneItem, operation_id="edit_stock")
def edit_item(request: HttpRequest, item_id: int, body: EditIn) -> dict[str, Any]:
    """Describe a piece anew; a stale version is refused with theirs."""
    actions.describe(actor(request), item_id, body.version, _words(body), priced=sees_prices(person(request)))
    return _one(request, item_id)


@router.post("/{int:item_id}/moves", auth=who_may("book"), response=OneItem, operation_id="move_stock")
def move_item(request: HttpRequest, item_id: int, body: MoveIn) -> dict[str, Any]:
    """Book a movement by hand."""
    units = typed_in(body.typed_in, preferences_of(person(request), shop(request)).units)
    with bare_figures_in(units):
        length = None if body.length_mm in (None, "") else read_at("length_mm", body.length_mm, units)
    mass = None if body.mass_g in (None, "") else read_mass("mass_g", body.mass_g)
    said = actions.ByHand(body.kind, length, mass, body.note, body.moves)
    try:
        actions.move_by_hand(actor(request), item_id, said)
    except BadRequest as problem:
        raise problem.in_units(units) from None
    return _one(request, item_id)
