"""The ways that are lists, as tables: what stands in a row, and our own figures beside those of a shop."""

from __future__ import annotations

from collections import Counter
from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from typing import Any, Literal

from ringcraft.day.ways import BATHS, DAYS, OPEN_FIELDS, WEEKDAYS, YES_NO, our_opening, our_pots, our_tumblers
from ringcraft.metals import FAMILIES, FORMS, METALS, SOLDERS
from ringcraft.planning.own import BEARS, GROUPS, STONE_KINDS
from ringcraft.planning.own_steps import CHANGES, DEED_TITLES, STATIONS
from ringcraft.routes.sense import plain_title
from ringcraft.schema import to_json
from ringcraft.styles import STYLES
from ringcraft.tables import rows
from ringcraft.units import capital, write_length
from ringcraft.work.fields import Option


@dataclass(frozen=True)
class Column:
    """A cell of each row: its name in the row, its head, what it can be set to where it is chosen,
    whether it is a line of words."""

    name: str
    title: str
    choices: tuple[Option, ...] = ()
    wide: bool = False


@dataclass(frozen=True)
class OurRow:
    """What we start with: the row's key and title, our figure in each cell, and where it is from."""

    key: str
    title: str
    cells: Mapping[str, str]
    source: str


@dataclass(frozen=True)
class Table:
    """A way that is a list. ``key`` is the cell that names a row; the shop's own row of a name goes before ours.

    ``head`` is what a row is called; ``names`` what it can be, empty where it is named freely; ``more`` whether a
    shop has several of a name, ``shown`` as what the screen shows it. Cells that hold only
    ``together`` are all the shop's where one of them is.
    """

    key: str
    head: str
    columns: tuple[Column, ...]
    ours: tuple[OurRow, ...]
    names: tuple[Option, ...] = ()
    more: bool = False
    shown: Literal["table", "steps"] = "table"
    together: tuple[str, ...] = ()


def _titles(titles: Mapping[str, str]) -> tuple[Option, ...]:
    return tuple(Option(key, title) for key, title in titles.items())


def _plain(keys: Sequence[str]) -> tuple[Option, ...]:
    return tuple(Option(key, key) for key in keys)


def _figure(value: float | None) -> str:
    return "" if value is None else f"{value:g}"


METAL_NAMES = _titles({key: one.title for key, one in METALS.items()})

SOLDER_TABLE = Table(
    key="grade",
    head="solder",
    columns=(
        Column("title", "which"),
        Column("melts_c", "melts"),
        Column("flows_c", "flows"),
        Column("form", "form", _plain(tuple(FORMS))),
    ),
    ours=tuple(
        OurRow(
            one.key,
            one.title,
            {"title": "", "melts_c": _figure(one.melts_c), "flows_c": _figure(one.flows_c), "form": one.form},
            one.source,
        )
        for one in SOLDERS.values()
        if one.flows_c is not None or one.series in {metal.solder.rpartition("-")[0] for metal in METALS.values()}
    ),
    names=_titles({key: one.title for key, one in SOLDERS.items()}),
    more=True,
    together=("melts_c", "flows_c"),
)
METAL_TABLE = Table(
    key="metal",
    head="metal",
    columns=(
        Column("solidus_c", "begins to melt"),
        Column("liquidus_c", "is molten"),
        Column("density_g_cm3", "g/cm³"),
    ),
    ours=tuple(
        OurRow(
            one.key,
            one.title,
            {
                "solidus_c": _figure(one.solidus_c),
                "liquidus_c": _figure(one.liquidus_c),
                "density_g_cm3": _figure(one.density_g_cm3),
            },
            one.source,
        )
        for one in METALS.values()
    ),
    names=METAL_NAMES,
)
TORCH_TABLE = Table(
    key="title",
    head="torch",
    columns=(
        Column("done", "has", _plain(("flowed", "melted"))),
        Column("mass_g", "grams"),
        Column("metal", "of", METAL_NAMES),
    ),
    ours=(),
    more=True,
)
STONE_TABLE = Table(
    key="kind",
    head="stone",
    columns=(Column("bears", "bears", _plain(BEARS)),),
    ours=tuple(
        OurRow(row["key"], row["title"], {"bears": row["heat"]}, f"{capital(row['why'])}; {row['source']}")
        for row in rows("stones")
    ),
    names=_titles(STONE_KINDS),
)
PAPER_TABLE = Table(
    key="family",
    head="metals",
    columns=(Column("papers", "papers and compounds", wide=True),),
    ours=tuple(
        OurRow(one.key, one.title, {"papers": ", ".join(one.papers)}, one.source)
        for one in FAMILIES.values()
        if any(metal.family == one.key for metal in METALS.values())
    ),
    names=_titles({key: one.title for key, one in FAMILIES.items()}),
)


_STEPS = tuple(row for table in ("steps", "resize-steps") for row in rows(table, "step"))
_STEP_TITLES = Counter(plain_title(row["title"]) for row in _STEPS)


def _step_name(row: Mapping[str, Any]) -> str:
    """How a step is called in the list: by its title, with its short name where two are called so."""
    title = plain_title(row["title"])
    return title if _STEP_TITLES[title] == 1 and "…" not in title else f"{title} ({row['key'].replace('-', ' ')})"


MINUTE_TABLE = Table(
    key="step",
    head="step",
    columns=(Column("hands_min", "minutes of hands"), Column("wait_min", "of waiting")),
    ours=tuple(
        OurRow(
            row["key"],
            _step_name(row),
            {"hands_min": _figure(row["hands_min"]), "wait_min": _figure(row.get("wait_min", 0))},
            "our own judgement",
        )
        for row in _STEPS
    ),
    names=_titles({row["key"]: row["key"].replace("-", " ") for row in _STEPS}),
)
PRICE_TABLE = Table(
    key="metal",
    head="metal",
    columns=(Column("price", "a gram"),),
    ours=tuple(OurRow(one.key, one.title, {"price": ""}, "no price yet") for one in METALS.values()),
    names=METAL_NAMES,
)


CORRECTION_TABLE = Table(
    key="group",
    head="rings of",
    columns=(
        Column("round_mm", "large round"),
        Column("since", "since"),
        Column("rings", "rings"),
        Column("low_mm", "95 % from"),
        Column("high_mm", "to"),
    ),
    ours=(),
    names=_titles(GROUPS),
)


STEPS_TABLE = Table(
    key="style",
    head="style",
    columns=(
        Column("change", "is", _titles(CHANGES)),
        Column("step", "step"),
        Column("after", "after"),
        Column("title", "its name"),
        Column("says", "what is done", wide=True),
        Column("station", "station", _plain(STATIONS)),
        Column("hands_min", "minutes of hands"),
        Column("wait_min", "of waiting"),
        Column("deed", "does", _titles(DEED_TITLES)),
    ),
    ours=(),
    names=_titles({key: style.title for key, style in STYLES.items()}),
    more=True,
    shown="steps",
)

_DAY_SOURCE = "our own starting value"
OPENING_TABLE = Table(
    key="weekday",
    head="on",
    columns=tuple(Column(name, title) for name, title in OPEN_FIELDS.items()),
    ours=tuple(
        OurRow(
            one.weekday,
            one.weekday,
            {name: getattr(one, name) or ("closed" if name == "opens" else "") for name in OPEN_FIELDS},
            _DAY_SOURCE,
        )
        for one in our_opening()
    ),
    names=_plain(WEEKDAYS),
)
CLOSED_TABLE = Table(key="day", head="day", columns=(Column("why", "why", wide=True),), ours=(), more=True)
WORKS_TABLE = Table(
    key="person",
    head="who signs in as",
    columns=(
        Column("weekday", "on", _titles(DAYS)),
        Column("begins", "from"),
        Column("ends", "to"),
        Column("torch", "torch", _titles(YES_NO)),
    ),
    ours=(),
    more=True,
)
POT_TABLE = Table(
    key="name",
    head="pot",
    columns=(Column("bath", "of", _titles(BATHS)), Column("holds", "holds")),
    ours=tuple(
        OurRow(one.name, one.name, {"bath": one.bath, "holds": str(one.holds)}, _DAY_SOURCE) for one in our_pots()
    ),
    more=True,
)
TUMBLER_TABLE = Table(
    key="name",
    head="tumbler",
    columns=(Column("holds", "holds"),),
    ours=tuple(OurRow(one.name, one.name, {"holds": str(one.holds)}, _DAY_SOURCE) for one in our_tumblers()),
    more=True,
)

#: The ways that are lists, by their names.
TABLES: dict[str, Table] = {
    "corrections": CORRECTION_TABLE,
    "solders": SOLDER_TABLE,
    "metal_figures": METAL_TABLE,
    "torches": TORCH_TABLE,
    "stones_bear": STONE_TABLE,
    "papers": PAPER_TABLE,
    "step_minutes": MINUTE_TABLE,
    "own_steps": STEPS_TABLE,
    "metal_prices": PRICE_TABLE,
    "opening": OPENING_TABLE,
    "closed_days": CLOSED_TABLE,
    "work_days": WORKS_TABLE,
    "pots": POT_TABLE,
    "tumblers": TUMBLER_TABLE,
}


def cells_of(row: object, units: str = "mm") -> dict[str, str]:
    """A row as its cells show it in a shop of these units."""
    return {
        name: write_length(value, units) if name.endswith("_mm") and value is not None else _cell(value)
        for name, value in to_json(row).items()
    }


def _cell(value: object) -> str:
    if isinstance(value, (list, tuple)):
        return ", ".join(map(str, value))
    return "" if value is None else f"{value:g}" if isinstance(value, float) else str(value)


def rows_of_cells(said: object) -> object:
    """The rows that a form sends: what is empty in them is left out, what is no table is left to be refused."""
    if not isinstance(said, (list, tuple)):
        return said
    return [{k: v for k, v in row.items() if v not in ("", None)} if isinstance(row, dict) else row for row in said]


def over(own: Sequence[Any], base: Sequence[Any], key: str) -> tuple[Any, ...]:
    """A level's own rows before those of the level above, whose rows of the same names they replace."""
    named = {getattr(one, key) for one in own}
    return (*own, *(one for one in base if getattr(one, key) not in named))
