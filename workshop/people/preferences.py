"""How a workshop does things, and how each person in it differs: units, scale, rule, policy, blade, scatter.

:class:`Preferences` is the one declaration: a field with its type, its default and how the form asks for it. What one
level sets itself (:data:`Overrides`), the form and every text of them are made from it.
"""

from __future__ import annotations

from collections.abc import Iterable, Mapping
from dataclasses import Field, field, fields, make_dataclass, replace
from typing import Annotated, Any, get_args, get_type_hints

from pydantic import ConfigDict, TypeAdapter

from ringcraft.day.ways import ClosedDays, Lighting, OpenDays, Pots, ShopDay, TorchCount, Tumblers, WorkDays, Zone
from ringcraft.heat.torch import Torches
from ringcraft.measure.asking import ScaleKey
from ringcraft.measure.sizes import SCALES
from ringcraft.metals import BLADES, BladeKey
from ringcraft.money.prices import REFINER_KEEPS, Currency, Decimals, MetalPrices, Price, Prices
from ringcraft.planning.own import OwnCorrections, OwnFamilyPapers, OwnMetals, OwnStepMinutes, OwnStones
from ringcraft.planning.own_steps import OwnSteps
from ringcraft.planning.request import LEAVE, LeaveKey
from ringcraft.planning.rules import RULES, RuleKey
from ringcraft.planning.solders import OwnSolders
from ringcraft.planning.surfaces import FINISH_WITH, FinishWithKey
from ringcraft.planning.tolerance import scatter_of
from ringcraft.resize.asking import SCHOOLS, DelicateKey, GluedKey, HalfSizeKey, RepairSolderKey
from ringcraft.schema import (
    Count,
    DegreesKey,
    Mm,
    PositiveMm,
    Share,
    UnitKey,
    bare_figures_in,
    name_of,
    read_request,
    request,
    to_json,
)
from ringcraft.tables import record as record_of
from ringcraft.units import DEGREES, UNITS, Length, write_length
from ringcraft.work.fields import Option
from workshop.people.asking import Asked, Gaps
from workshop.people.models import User, Workshop
from workshop.people.roles import sees_prices
from workshop.people.tables import TABLES, cells_of, over, rows_of_cells

USUAL = scatter_of(None, None)  # how far a careful bench scatters, from ringcraft's own table


def _options(titles: Mapping[str, str]) -> tuple[Option, ...]:
    return tuple(Option(key, title) for key, title in titles.items())


_UNITS = _options(UNITS)
_TIMES = _options({"0": "never", "1": "once", "2": "twice"})
_WIDE = _options({"yes": "larger", "no": "as measured"})
_RULES = _options({key: rule.title for key, rule in RULES.items()})
_SCALES = _options({key: scale.title for key, scale in SCALES.items()})
_LEAVE = _options({key: key for key in LEAVE})
_SCHOOLS = {name: _options(titles) for name, titles in SCHOOLS.items()}
_FINISH = _options(FINISH_WITH)
_BLADES = _options({key: key for key in BLADES})
_PLANNED = _options({"yes": "planned", "no": "told by slack alone"})
_WHOSE = _options({"yes": "our own", "no": "the table’s"})
_WAITS = _options({"yes": "waits two days", "no": "does not wait"})
_SOUND = _options({"yes": "a soft sound", "no": "no sound"})
_AWAKE = _options({"yes": "stays awake", "no": "goes dark as usual"})
_MONEY = _options({"yes": "prices and estimates", "no": "no money"})


TAKES_SOLDER = {"always": "always", "ask": "asked once a job", "never": "never"}
TakesSolderKey = name_of("way", TAKES_SOLDER)
_TAKES = _options(TAKES_SOLDER)
SEE_HANDS = {"own": "their own", "all": "everybody"}
HandsKey = name_of("way", SEE_HANDS)
_HANDS = _options(SEE_HANDS)


@request
class Preferences:
    """The preferences in force; every one has a default with its reason in the docs."""

    home_scale: Annotated[ScaleKey, Asked("Home scale", "Sizes are", choices=_SCALES, group="lengths")] = "us"
    units: Annotated[UnitKey, Asked("Units", ", lengths", choices=_UNITS, group="lengths")] = "mm"
    degrees: Annotated[
        DegreesKey, Asked("Temperatures", ", temperatures", choices=_options(DEGREES), group="lengths")
    ] = "c"
    caliper_units: Annotated[UnitKey, Asked("Caliper units", ", the caliper types", ".", _UNITS, "lengths", None)] = (
        "mm"
    )
    rule: Annotated[RuleKey, Asked("Rule", "Cut by the", choices=_RULES)] = "centroid"
    saw_passes: Annotated[
        Count, Asked("Saw passes", ", saw through the joint", choices=_TIMES, fills="join.saw_passes")
    ] = 1
    blade: Annotated[BladeKey, Asked("Blade", "with", choices=_BLADES, fills="join.blade")] = "4/0"
    leave: Annotated[LeaveKey, Asked("Leave", ", leave a band", choices=_LEAVE)] = "small"
    finish_with: Annotated[FinishWithKey, Asked("Finish", ", finish", choices=_FINISH)] = "wheel"
    round_to_mm: Annotated[Mm, Asked("Rounding", ", mark to", "{mm}.")] = 0.1
    wide: Annotated[bool, Asked("Wide bands", "A wide band is cut", choices=_WIDE)] = False
    wide_quarter_from_mm: Annotated[PositiveMm, Asked("Quarter from", ": a quarter size from")] = 6.0
    wide_half_from_mm: Annotated[PositiveMm, Asked("Half from", ", a half from", "{mm} wide.")] = 8.0
    thickness_spread_mm: Annotated[
        Mm,
        Asked(
            "Off in the thickness",
            "Our hand is off by about",
            "reading the thickness",
            (),
            "hand",
            "spread.thickness_mm",
        ),
    ] = USUAL.thickness_mm
    cutting_spread_mm: Annotated[
        Mm, Asked("Off in cutting", ",", "marking and cutting", (), "hand", "spread.cutting_mm")
    ] = USUAL.cutting_mm
    saw_pass_spread_mm: Annotated[
        Mm, Asked("Off in a saw pass", ",", "at each pass of the saw", (), "hand", "spread.saw_pass_mm")
    ] = USUAL.saw_pass_mm
    truing_spread_mm: Annotated[
        Mm,
        Asked(
            "Off in truing", ",", "truing on the mandrel ({mm}, two rings in three).", (), "hand", "spread.truing_mm"
        ),
    ] = USUAL.truing_mm
    half_size: Annotated[
        HalfSizeKey, Asked("Half a size", "Half a size up:", choices=_SCHOOLS["half_size"], group="repairs")
    ] = "stretch"
    repair_solder: Annotated[
        RepairSolderKey, Asked("Solder for repairs", ", solder", choices=_SCHOOLS["repair_solder"], group="repairs")
    ] = "ladder"
    delicate_stones: Annotated[
        DelicateKey,
        Asked("Delicate stones", ". Delicate stones we", ".", _SCHOOLS["delicate_stones"], group="repairs"),
    ] = "unset"
    glued_stones: Annotated[
        GluedKey, Asked("Glued stones", "A torch near glue", ".", _SCHOOLS["glued_stones"], group="repairs")
    ] = "agreed"
    cutter_gaps: Annotated[
        Gaps, Asked("Cutters", "Our fixed cutters open", "{mm}.", (), "repairs", "cutter_gaps_mm")
    ] = ()
    see_hands: Annotated[
        HandsKey, Asked("Whose hand is seen", "In the logbook each sees the hand of", ".", _HANDS, "learnt", None)
    ] = "own"
    takes_solder: Annotated[
        TakesSolderKey,
        Asked("Solder from the drawer", "Flowed solder is taken from the drawer", ".", _TAKES, "hand", None),
    ] = "ask"
    solders: Annotated[
        OwnSolders,
        Asked("Solders", "Our solders, as their makers’ sheets say [°C].", group="solders"),
    ] = ()
    corrections: Annotated[
        OwnCorrections,
        Asked(
            "Corrections",
            "What our rings have taught us: large by so much round.",
            "",
            (),
            "learnt",
            "own.corrections",
        ),
    ] = ()
    metal_figures: Annotated[
        OwnMetals,
        Asked("Metals", "Metals by their suppliers’ sheets [°C].", "", (), "metals", "own.metals"),
    ] = ()
    torches: Annotated[
        Torches,
        Asked("Torches", "Our torches, by the largest piece that each has done.", "", (), "torches", None),
    ] = ()
    stones_bear: Annotated[
        OwnStones,
        Asked("Stones", "What stones bear in the fire, as we have learnt it.", "", (), "stones", "own.stones"),
    ] = ()
    papers: Annotated[
        OwnFamilyPapers,
        Asked("Papers", "With what we finish, from coarse to fine.", "", (), "papers", "own.papers"),
    ] = ()
    step_minutes: Annotated[
        OwnStepMinutes,
        Asked("Minutes", "How long steps take here.", "", (), "minutes", "own.minutes"),
    ] = ()
    own_steps: Annotated[
        OwnSteps,
        Asked("Our own steps", "What we do otherwise, style by style.", "", (), "steps", "own.steps"),
    ] = ()
    plan_day: Annotated[bool, Asked("Plan of the day", "The day is", "", _PLANNED, "day", None)] = True
    time_zone: Annotated[Zone, Asked("Time zone", ", by the clocks of", ".", (), "day", None)] = ""
    torch_count: Annotated[TorchCount, Asked("Torches at once", "Torches lit at once:", "", (), "day", None)] = 1
    light_min: Annotated[
        Lighting, Asked("Lighting", "; lighting one and putting it away takes", "min.", (), "day", None)
    ] = float(record_of("day")["light_min"])
    learn_minutes: Annotated[
        bool, Asked("Whose minutes", "A step’s minutes are", ", once five are known.", _WHOSE, "day", None)
    ] = True
    look_again_moves: Annotated[
        bool, Asked("Promise after the second look", "A promise", "for the second look.", _WAITS, "day", None)
    ] = False
    end_sound: Annotated[bool, Asked("Sound", "When a wait ends:", ".", _SOUND, "day", None)] = True
    stay_awake: Annotated[bool, Asked("Screen", "At a card the screen", ".", _AWAKE, "day", None)] = True
    opening: Annotated[OpenDays, Asked("Opening hours", "When we are open.", "", (), "opening", None)] = ()
    closed_days: Annotated[
        ClosedDays, Asked("Closed days", "Days on which nobody works.", "", (), "closed", None)
    ] = ()
    work_days: Annotated[
        WorkDays, Asked("Who works when", "Who works when, where it is not the opening hours.", "", (), "works", None)
    ] = ()
    pots: Annotated[Pots, Asked("Pots", "Our pots, and how many rings each holds.", "", (), "pots", None)] = ()
    tumblers: Annotated[
        Tumblers, Asked("Tumblers", "Our tumblers, and how many rings each holds.", "", (), "tumblers", None)
    ] = ()
    currency: Annotated[Currency, Asked("Currency", "Prices are in", group="prices", fills=None)] = "EUR"
    decimals: Annotated[Decimals, Asked("Decimals", "with", "decimals:", group="prices", fills=None)] = 2
    hour_price: Annotated[Price, Asked("An hour", "an hour of hands", group="prices", fills=None)] = 0.0
    solder_price: Annotated[
        Price, Asked("Solder of a joint", ", the solder of a joint", group="prices", fills=None)
    ] = 0.0
    setting_price: Annotated[Price, Asked("Setting", ", a stone set again", group="prices", fills=None)] = 0.0
    plating_price: Annotated[Price, Asked("Plating", ", plating", ".", group="prices", fills=None)] = 0.0
    metal_more: Annotated[
        Share, Asked("On a feed's price", "On a metal's price from the feed we put", ",", group="prices", fills=None)
    ] = 0.0
    refiner_keeps: Annotated[
        Share, Asked("The refiner keeps", "the refiner keeps", "of scrap.", group="prices", fills=None)
    ] = REFINER_KEEPS
    bench_money: Annotated[
        bool, Asked("The bench’s money", "Who works at the bench sees", ".", _MONEY, "prices", None)
    ] = False
    metal_prices: Annotated[MetalPrices, Asked("Metal prices", "What a gram costs.", "", (), "gram", None)] = ()
    costly_share: Annotated[
        Share, Asked("Share on the costly side", "On the costly side, at most", "of them.", group="hand")
    ] = USUAL.chance


def _declared() -> dict[str, tuple[Any, Asked]]:
    """Each preference's type and how it is asked for."""
    hints = get_type_hints(Preferences, include_extras=True)
    out = {}
    for name, hint in hints.items():
        asked = next(one for one in get_args(hint) if isinstance(one, Asked))
        out[name] = (hint, asked)
    return out


DECLARED = _declared()
#: Ways of the workshop alone: what it asks for, and who sees that.
SHOP_ONLY = frozenset(name for name, (_, asked) in DECLARED.items() if asked.group in ("prices", "gram"))
#: What a shop reckons with: shown to nobody who may not see its prices.
PRICE_WAYS = SHOP_ONLY - {"currency", "decimals", "bench_money"}
#: A way as its form shows it: a text, or the rows of a list by their cells.
Texts = str | list[dict[str, str]]


USUAL_WAYS = Preferences()


def _overrides(more: Iterable[tuple[str, Any, Field[Any]]] = ()) -> type[Any]:
    open_fields = [(name, hint | None, field(default=None)) for name, (hint, _) in DECLARED.items()]
    made = make_dataclass("Overrides", [*open_fields, *more], frozen=True, kw_only=True)
    made.__pydantic_config__ = ConfigDict(extra="forbid")  # type: ignore[attr-defined]
    made.__doc__ = "What one level sets itself; None follows the level above."
    made.__module__ = __name__
    return made


#: What one level sets itself; None follows the level above.
Overrides: Any = _overrides()
_OVERRIDES: TypeAdapter[Any] = TypeAdapter(Overrides)


def read_overrides(data: Mapping[str, Any], units: str) -> Any:
    """What a person typed for one level, its bare figures in the units that the form was shown in; raises BadRequest.

    Not in those that the form itself sets: a figure that stood there in mm is not an inch because inches were chosen.
    """
    said = {name: rows_of_cells(value) if name in TABLES else value for name, value in data.items()}
    with bare_figures_in(units):
        return read_request(_OVERRIDES, {name: None if value in ("", []) else value for name, value in said.items()})


def overrides_of(kept: Mapping[str, Any]) -> Any:
    """What is kept at one level; a preference that is no longer known is let go."""
    return read_request(_OVERRIDES, {name: value for name, value in kept.items() if name in DECLARED})


def preferences_of(user: User, workshop: Workshop) -> Preferences:
    """The preferences in force for a person: theirs, else the workshop's, else the default."""
    own = {name: value for name, value in user.preferences.items() if name not in SHOP_ONLY}
    return _over(shop_preferences(workshop), overrides_of(own))


def ways_seen(user: User, workshop: Workshop) -> Preferences:
    """The preferences in force as this person may see them: without the prices, where those are not theirs to see."""
    ways = preferences_of(user, workshop)
    return ways if sees_prices(user) else replace(ways, **{name: getattr(USUAL_WAYS, name) for name in PRICE_WAYS})


def shop_preferences(workshop: Workshop) -> Preferences:
    """The preferences of a workshop: its own, else the default."""
    return _over(Preferences(), overrides_of(workshop.preferences))


def order_ways(ways: Preferences) -> dict[str, object]:
    """What these preferences fill in an order that asks for a shop's ways, by the dotted paths of its fields."""
    values = {name: getattr(ways, name) for name in DECLARED}
    return {
        asked.fills or name: [to_json(row) for row in values[name]] if name in TABLES else values[name]
        for name, (_, asked) in DECLARED.items()
        if asked.fills is not None
    }


def prices_of(ways: Preferences) -> Prices:
    """The prices in force."""
    return Prices(
        currency=ways.currency,
        decimals=ways.decimals,
        metals=ways.metal_prices,
        hour=ways.hour_price,
        solder=ways.solder_price,
        setting=ways.setting_price,
        plating=ways.plating_price,
        metal_more=ways.metal_more,
        refiner_keeps=ways.refiner_keeps,
    )


def day_of(ways: Preferences, zone: str = "") -> ShopDay:
    """The ways of a day in force; ``zone`` holds where the shop has said none."""
    return ShopDay(
        zone=ways.time_zone or zone or "UTC",
        opening=ways.opening,
        closed=ways.closed_days,
        works=ways.work_days,
        pots=ways.pots,
        tumblers=ways.tumblers,
        torches=ways.torch_count,
        light_min=ways.light_min,
    )


def _over(base: Preferences, level: Any) -> Preferences:
    chosen = {f.name: getattr(level, f.name) for f in fields(level) if getattr(level, f.name) is not None}
    for name, rows in TABLES.items():
        if name in chosen:
            chosen[name] = over(chosen[name], getattr(base, name), rows.key)
    return replace(base, **chosen)


def texts_of(level: Any, units: str, *, exact: bool = True) -> dict[str, Texts]:
    """Preferences or overrides as their fields show them in a shop of these units; what is open is empty.

    A list is its rows, each by its cells.

    Not ``exact``, a length is told to a thousandth of an inch: enough to say what would hold.
    """
    return {
        name: [cells_of(row, units) for row in getattr(level, name) or ()]
        if name in TABLES
        else _text(name, getattr(level, name), units, exact)
        for name in DECLARED
    }


def _text(name: str, value: object, units: str, exact: bool) -> str:
    if value is None:
        return ""
    if isinstance(value, bool):
        return "yes" if value else "no"
    if isinstance(value, tuple):
        return " ".join(write_length(one, units).replace(" ", "") for one in value)
    if isinstance(value, float) and name.endswith("_mm"):
        return write_length(value, units) if exact else Length(value, units).bare
    return f"{value:g}" if isinstance(value, float) else str(value)
