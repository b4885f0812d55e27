"""What may be melted together: metals that are known, of one alloy, without solder and without strangers.

Why each is refused is a row of the table ``melting``.
"""

from __future__ import annotations

from dataclasses import dataclass
from typing import Annotated

from pydantic import BeforeValidator, Field

from ringcraft.errors import OutOfRangeError
from ringcraft.metals import METALS, Metal, RingMetalKey
from ringcraft.schema import name_of, read_figure, request
from ringcraft.tables import rows

HEAVIEST_G = 5000.0
BLEACHES = {"Ni", "Pd"}
_ROWS = {row["key"]: row for row in rows("melting")}
_MIXES = [row for row in _ROWS.values() if row["kind"] == "mix" and row["families"]]
#: In what state scrap is: clean, filings, with solder in it; and whether it may be melted.
STATES = {key: row["title"] for key, row in _ROWS.items() if row["kind"] == "state"}
StateKey = name_of("state of scrap", STATES)


def read_grams(value: object) -> float:
    """A mass as typed [g]; raises CraftError with no field."""
    said = read_figure(value, ("grams", "gram", "g"), "In grams, such as 12.5.", "That is no mass.")
    if not 0 <= said <= HEAVIEST_G:
        raise OutOfRangeError("", f"{said:g} g are not melted at a bench.", f"From 0 to {HEAVIEST_G:g} g.")
    return said


Mass = Annotated[float, BeforeValidator(read_grams)]


@request
class Scrap:
    """Metal at hand: what it is, how much [g], in what state, and whose, where it is not the shop's."""

    metal: RingMetalKey
    mass_g: Mass
    state: StateKey = "clean"
    owner: Annotated[str, Field(max_length=120)] = ""


@dataclass(frozen=True)
class Refused:
    """Metal that does not go into this melt, by its place, and why."""

    at: int
    why: str


def refusal(metal: str, owner: str, scrap: Scrap) -> str:
    """Why a piece does not go into a melt of a metal for an owner; empty where it does."""
    if why := state_refusal(scrap.state):
        return why
    if scrap.owner != owner:
        return str(_ROWS["other-owner"]["why"])
    return incompatible(metal, scrap.metal)


def incompatible(one: str, other: str) -> str:
    """Why two metals do not go together; empty where they are the same alloy."""
    if one == other and one in METALS:
        return ""
    if other not in METALS or one not in METALS:
        return str(_ROWS["unknown"]["why"])
    ours, theirs = METALS[one].family, METALS[other].family
    for row in _MIXES:
        if ours != theirs and len({ours, theirs} & set(row["families"])) == 1:
            return str(row["why"])
    return str(_ROWS[_alike(METALS[one], METALS[other])]["why"])


def _alike(one: Metal, other: Metal) -> str:
    """The row of two metals that are of one kind and yet not the same."""
    kinds = {one.family, other.family}
    if len(kinds) == 1 and _bleached(one.key) != _bleached(other.key):
        return "other-bleach"
    if len(kinds) == 1:
        return "other-alloy"
    if kinds == {"platinum", "palladium"}:
        return "platinum-kinds"
    if kinds <= {"copper", "brass", "bronze"}:
        return "base-kinds"
    return "nickel-colour" if "Ni" in _bleached(one.key) | _bleached(other.key) else "other-colour"


def state_refusal(state: str) -> str:
    """Why scrap in such a state is not melted; empty where it may be."""
    row = _ROWS[state]
    return "" if row["goes"] else str(row["why"])


def _bleached(metal: str) -> set[str]:
    """What makes a gold white."""
    return BLEACHES & METALS[metal].composition.keys()


def incompatible_to_alloy(one: str, other: str) -> str:
    """Why two metals are not alloyed with each other: weighed, finenesses may differ, colours and kinds not.

    A family is not enough: what bleaches a white gold, nickel or palladium, is another kind of it.
    """
    same = one in METALS and other in METALS and METALS[one].family == METALS[other].family
    same = same and _bleached(one) == _bleached(other)
    fine = {"fine-gold"} & {one, other} and all(METALS[key].of_family.precious == "Au" for key in (one, other))
    return "" if same or fine else incompatible(one, other)
