"""A piece of stock: how long, how heavy, how it is called. Length and mass give each other through the section."""

from __future__ import annotations

from dataclasses import dataclass
from functools import lru_cache
from typing import Annotated, Any

from pydantic import BeforeValidator, Field, TypeAdapter

from ringcraft.errors import BadRequest, CraftError, OutOfRangeError, UnreadableError
from ringcraft.metals import METALS, Metal, MetalKey
from ringcraft.money.prices import read_price
from ringcraft.planning.context import stock_words
from ringcraft.planning.own import OwnFigures
from ringcraft.schema import IN_OWN_UNITS, PositiveMm, UnitKey, name_of, read_figure, request
from ringcraft.sections import PROFILES, ProfileKey, Section, Stock, section_of
from ringcraft.stock.melt.mixing import StateKey

SHORTEST_MM, LIGHTEST_G = 0.1, 0.001
HEAVIEST_G, LONGEST_MM = 20_000.0, 10_000.0
WIDEST_SHEET_MM = 1000.0
APART = 0.08  # of mass: further apart length and mass are not of one piece; as for a ring that was weighed
SAME_MM = 0.02  # sections nearer than this are one: a hair less than a caliper tells apart


@dataclass(frozen=True)
class Kind:
    """A kind of stock: how it is told: by its length, by its length and width, or by its mass alone."""

    title: str
    counted: str
    cut_from: bool


KINDS: dict[str, Kind] = {
    "wire": Kind("wire", "length", True),
    "sizing": Kind("sizing stock", "length", True),
    "bar": Kind("bar", "length", True),
    "offcut": Kind("offcut", "length", True),
    "sheet": Kind("sheet", "sheet", True),
    "solder": Kind("solder", "mass", False),
    "scrap": Kind("scrap", "mass", False),
    "filings": Kind("filings", "mass", False),
}
KindKey = name_of("kind of stock", KINDS, {one.title: key for key, one in KINDS.items()})


def _grams(value: object) -> float:
    said = read_figure(value, ("grams", "gram", "g"), "In grams, such as 12.5.", "That is no mass.")
    if not LIGHTEST_G <= said <= HEAVIEST_G:
        raise OutOfRangeError("", f"{said:g} g lie in no drawer.", f"From {LIGHTEST_G:g} to {HEAVIEST_G:g} g.")
    return said


def _price(value: object) -> float | None:
    return None if value is None or value == "" else float(read_price(value))


Grams = Annotated[float, BeforeValidator(_grams)]
Paid = Annotated[float | None, BeforeValidator(_price)]
Words = Annotated[str, Field(max_length=80)]


@request
class StockPiece:
    """A piece as it goes into the drawer: what it is, its section, its length [mm] or its mass [g], or both.

    ``sheet_mm`` is a sheet's width across; ``solder`` names a solder; ``state`` is how scrap is; ``poured``: it was
    melted and poured here. ``price`` is what a gram of it cost.
    """

    kind: KindKey
    metal: MetalKey
    profile: ProfileKey | None = None
    thickness_mm: PositiveMm | None = None
    width_mm: PositiveMm | None = None
    side_mm: PositiveMm | None = None
    length_mm: PositiveMm | None = None
    mass_g: Grams | None = None
    state: StateKey = "clean"
    poured: bool = False
    solder: Words = ""
    lot: Words = ""
    place: Words = ""
    price: Paid = None
    own: OwnFigures = OwnFigures()
    units: UnitKey = "mm"


@dataclass(frozen=True)
class PieceFigures:
    """What a piece comes to: its section (None for what is told by mass alone), its length [mm] and mass [g]."""

    section: Section | None
    length_mm: float | None
    mass_g: float
    title: str


AnyPiece = Annotated[StockPiece, IN_OWN_UNITS]
PIECE: TypeAdapter[Any] = TypeAdapter(AnyPiece)


def section_of_piece(piece: StockPiece) -> Section | None:
    """The section of a piece; None for what is told by its mass alone. Raises CraftError at its field."""
    if KINDS[piece.kind].counted == "mass":
        return None
    if piece.thickness_mm is None:
        raise UnreadableError("thickness_mm", "How thick is it?", "Write mm, 17 ga or 3/64 in.")
    profile = "sheet" if piece.kind == "sheet" else piece.profile
    if profile is None:
        raise UnreadableError("profile", "Which profile is it?", f"It can be {', '.join(PROFILES)}.")
    if piece.kind == "sheet":
        return _sheet(piece)
    try:
        return _section(profile, piece.thickness_mm, piece.width_mm, piece.side_mm)
    except CraftError as problem:
        raise problem.at(problem.field.removeprefix("stock.")) from None


@lru_cache(maxsize=4096)
def _section(profile: str, thickness_mm: float, width_mm: float | None, side_mm: float | None) -> Section:
    return section_of(Stock(profile=profile, thickness_mm=thickness_mm, width_mm=width_mm, side_mm=side_mm), "stock")


def _sheet(piece: StockPiece) -> Section:
    """A sheet's section across its width, which may be wider than any band."""
    thick, wide = piece.thickness_mm, piece.width_mm
    assert thick is not None
    if wide is None:
        raise UnreadableError("width_mm", "How wide is the sheet?", "Across; its length is the other way.")
    if wide > WIDEST_SHEET_MM or thick > WIDEST_SHEET_MM / 20:
        raise OutOfRangeError("width_mm", "No sheet of a bench is that large.", "In millimetres.")
    outline = ((wide / 2, 0.0), (wide / 2, thick), (-wide / 2, thick), (-wide / 2, 0.0))
    return Section("sheet", "sheet", wide, thick, wide * thick, thick / 2, outline, "")


def figures_of(piece: StockPiece) -> PieceFigures:
    """A piece's length and mass, each from the other where one is missing; raises BadRequest naming the field."""
    metal = piece.own.metal(METALS[piece.metal])
    try:
        section = section_of_piece(piece)
        if section is None:
            return _by_mass(piece, metal)
        return _by_section(piece, metal, section)
    except CraftError as problem:
        raise BadRequest([problem.in_units(piece.units)]) from None


def _by_mass(piece: StockPiece, metal: Metal) -> PieceFigures:
    if piece.mass_g is None:
        raise UnreadableError("mass_g", "What does it weigh?", "In grams, such as 12.5.")
    what = piece.solder if piece.kind == "solder" and piece.solder else KINDS[piece.kind].title
    return PieceFigures(None, None, piece.mass_g, f"{metal.title} {what}")


def _by_section(piece: StockPiece, metal: Metal, section: Section) -> PieceFigures:
    per_mm = metal.mass_g(section.area_mm2)
    length, mass = piece.length_mm, piece.mass_g
    if length is None and mass is None:
        raise UnreadableError("length_mm", "How long is it, or what does it weigh?", "One gives the other.")
    if length is None:
        assert mass is not None
        length = mass / per_mm
    elif mass is None:
        mass = length * per_mm
    elif abs(mass / (length * per_mm) - 1) > APART:
        raise UnreadableError(
            "mass_g",
            f"Its length says {length * per_mm:.2f} g, the scale says {mass:.2f} g.",
            "Measure it again: section, length, or another metal?",
        )
    if length < SHORTEST_MM or mass < LIGHTEST_G:
        raise OutOfRangeError("length_mm", "That is dust, no stock.", "In millimetres, or in grams.")
    if length > LONGEST_MM or mass > HEAVIEST_G:
        raise OutOfRangeError("length_mm", "That is longer than any drawer.", "In millimetres.")
    title = f"{metal.title} {stock_words(section, piece.units)}"
    return PieceFigures(section, length, mass, title)


def same_section(one: Section, other: Section) -> bool:
    """Whether two sections are one and the same stock."""
    return (
        _family(one) == _family(other)
        and abs(one.thickness_mm - other.thickness_mm) <= SAME_MM
        and abs(one.width_mm - other.width_mm) <= SAME_MM
        and abs(one.side_mm - other.side_mm) <= SAME_MM
    )


def _family(section: Section) -> str:
    """A strip of sheet and a rectangle are one stock, and so are a half-round and a D with hardly any sides."""
    if section.profile == "d" and section.side_mm <= SAME_MM:
        return "half-round"
    return "rectangle" if section.profile in ("sheet", "rectangle", "square") else section.profile
