"""A shop's own figures, which go before our tables: a metal by its supplier's sheet, minutes of a step, papers of a
finish, what a stone bears.
"""

from __future__ import annotations

import math
import re
from collections.abc import Mapping
from dataclasses import replace
from datetime import date
from typing import Annotated, Any

from pydantic import BeforeValidator

from ringcraft.errors import OutOfRangeError, UnknownNameError, UnreadableError
from ringcraft.metals import FAMILIES, METALS, Metal, MetalKey
from ringcraft.planning.own_steps import Minutes, OwnStep, OwnSteps, steps_of
from ringcraft.planning.solders import Celsius
from ringcraft.reading import entries, read_length, tidy
from ringcraft.schema import bare_unit, name_of, read_figure, request
from ringcraft.sections import PROFILES
from ringcraft.tables import rows
from ringcraft.units import Length

STEPS = {row["key"]: row["title"] for table in ("steps", "resize-steps") for row in rows(table, "step")}
STONE_KINDS = {row["key"]: row["title"] for row in rows("stones")}
BEARS = ("hardy", "careful", "delicate", "never")
COMPOUNDS = ("tripoli", "rouge", "cloth")
MOST_CORRECTION_MM = 3.0  # of length: further off, a bench has another fault than its neutral line
MOST_ENTRIES, MOST_PAPERS = 120, 10
APART_C, APART_DENSITY = 150.0, 0.2  # further from ours it is another metal; our own judgement
_PAPER = re.compile(r"(\d{2,5}) paper")

StepKey = name_of("step", STEPS)
FamilyKey = name_of("family of metals", FAMILIES, {one.title: key for key, one in FAMILIES.items()})
KindKey = name_of("stone", STONE_KINDS)
BearsKey = name_of("degree", dict.fromkeys(BEARS))


def _density(value: object) -> float:
    hint, message = "In grams a cubic centimetre, such as 10.4.", "No metal of a ring weighs that."
    said = read_figure(value, (), hint, message)
    if not 1 <= said <= 25:
        raise OutOfRangeError("", message, hint)
    return said


def _papers(value: object) -> object:
    listed = value.split(",") if isinstance(value, str) else value
    if not isinstance(listed, (list, tuple)) or not all(isinstance(one, str) for one in listed):
        raise UnreadableError("", "These are no papers.", "Write: silver: 400 paper, 800 paper, tripoli, rouge.")
    said = [tidy(one) for one in listed]
    grits = [_grit(one) for one in said]
    if not said or len(said) > MOST_PAPERS:
        raise OutOfRangeError("", "A finish has one paper at least.", f"At most {MOST_PAPERS}.")
    if grits != sorted(set(grits)):
        raise OutOfRangeError(
            "", "Each comes finer than the one before it.", "Papers from coarse to fine, then compounds."
        )
    return tuple(said)


def _grit(paper: str) -> float:
    found = _PAPER.fullmatch(paper)
    if found:
        return float(found[1])
    if paper in COMPOUNDS:
        return 1e6 + COMPOUNDS.index(paper)
    raise UnknownNameError(
        "", f"“{paper[:30]}” is no paper or compound known here.", f"Such as 400 paper, {', '.join(COMPOUNDS)}."
    )


def group_of(profile: str, family: str) -> str:
    """The key of the rings that are learnt from together: a profile in a family of metals."""
    return f"{profile}/{family}"


#: Rings that are learnt from together, as one says it: half-round silver.
GROUPS = {
    group_of(profile, family): f"{PROFILES[profile].title} {FAMILIES[family].title}"
    for profile in PROFILES
    for family in FAMILIES
}


def closes_words(mm: float, units: str) -> str:
    """How a shop's rings close, as one says it: 0.55 round large here, 0.18 inside."""
    if abs(mm) < 0.005:
        return "true here"
    much, inside = Length(abs(mm), units), Length(abs(mm) / math.pi, units)
    return f"{much:.2f} round {'large' if mm > 0 else 'small'} here, {inside:.2f} inside"


def _correction(value: object) -> float:
    hint = "In mm round, more than nothing where they close large, such as 0.55."
    said = read_length(value, signed=True, bare=bare_unit())
    if abs(said) > MOST_CORRECTION_MM:
        raise OutOfRangeError("", "A correction of {much:g mm} is another ring.", hint, much=said)
    return said


def _day(value: object) -> str:
    try:
        return date.fromisoformat(value).isoformat() if isinstance(value, str) and value else ""
    except ValueError:
        raise UnreadableError("", "That is no day.", "Such as 2027-03-18.") from None


def _rings(value: object) -> int:
    said = read_figure(value, (), "How many rings it was learnt from.")
    if said != said // 1 or not 0 <= said <= 1_000_000:
        raise OutOfRangeError("", "No shop has made that many.", "A whole number.")
    return int(said)


GroupKey = name_of("kind of ring", GROUPS, {title: key for key, title in GROUPS.items()})
Correction = Annotated[float, BeforeValidator(_correction)]
Rings = Annotated[int, BeforeValidator(_rings)]
Density = Annotated[float, BeforeValidator(_density)]


@request
class OwnMetal:
    """A metal by its supplier's sheet: where it begins to melt and is molten [C], its density [g/cm3]."""

    metal: MetalKey
    solidus_c: Celsius | None = None
    liquidus_c: Celsius | None = None
    density_g_cm3: Density | None = None

    def __post_init__(self) -> None:
        """Refuse figures of another metal."""
        ours = METALS[self.metal]
        for said, known in ((self.solidus_c, ours.solidus_c), (self.liquidus_c, ours.liquidus_c)):
            if said is not None and abs(said - known) > APART_C:
                raise OutOfRangeError(
                    "", f"{ours.title} does not melt at {said:.0f} °C.", f"Near {known:.0f}, by its sheet."
                )
        if (self.solidus_c or ours.solidus_c) > (self.liquidus_c or ours.liquidus_c):
            raise OutOfRangeError(
                "", f"{ours.title} cannot be molten before it begins to melt.", "Read both off its sheet."
            )
        weighs = self.density_g_cm3
        if weighs is not None and abs(weighs / ours.density_g_cm3 - 1) > APART_DENSITY:
            raise OutOfRangeError(
                "", f"{ours.title} does not weigh {weighs:g}.", f"Near {ours.density_g_cm3:g}, by its sheet."
            )


@request
class OwnMinutes:
    """How long a step takes here: minutes of hands, and of waiting where that differs too."""

    step: StepKey
    hands_min: Minutes
    wait_min: Minutes | None = None


@request
class OwnPapers:
    """The papers and compounds of a family of metals, from coarse to fine."""

    family: FamilyKey
    papers: Annotated[tuple[str, ...], BeforeValidator(_papers)]


@request
class OwnStone:
    """What a kind of stone bears, as this shop has learnt it."""

    kind: KindKey
    bears: BearsKey


def _metal_row(said: str) -> dict[str, object]:
    words = said.split()
    figures: list[str] = []
    while words and re.fullmatch(r"\d+([.,]\d+)?", words[-1]):
        figures.insert(0, words.pop().replace(",", "."))
    titles = {tidy(one.title): key for key, one in METALS.items()}
    name = " ".join(words)
    row: dict[str, object] = {"metal": titles.get(name, name)}
    heats = [figure for figure in figures if float(figure) >= 30]
    rest = [figure for figure in figures if float(figure) < 30]
    if len(heats) > 2 or len(rest) > 1 or not figures:
        raise UnreadableError("", f"“{said[:40]}” is not a metal's figures.", "Write: sterling 802 893 10.4.")
    row |= dict(zip(("solidus_c", "liquidus_c"), heats, strict=False))
    return row | ({"density_g_cm3": rest[0]} if rest else {})


def _minutes_row(said: str) -> dict[str, object]:
    found = re.fullmatch(r"(?P<step>.+?) (?P<hands>\d+(?:[.,]\d+)?)(?: (?P<wait>\d+(?:[.,]\d+)?))?", said)
    if not found:
        raise UnreadableError("", f"“{said[:40]}” is not a step with its minutes.", "Write: solder 8; pickle 1 25.")
    row: dict[str, object] = {"step": found["step"].replace(" ", "-"), "hands_min": found["hands"].replace(",", ".")}
    return row | ({"wait_min": found["wait"].replace(",", ".")} if found["wait"] else {})


def _papers_row(said: str) -> dict[str, object]:
    family, _, papers = said.partition(":")
    return {"family": family.strip(), "papers": papers}


def _stone_row(said: str) -> dict[str, object]:
    kind, _, bears = said.rpartition(" ")
    titles = {tidy(title): key for key, title in STONE_KINDS.items()}
    return {"kind": titles.get(kind, kind), "bears": bears}


def _listed(row: Any) -> Any:
    def read(value: object) -> object:
        if isinstance(value, str):
            value = [row(tidy(said)) for said in entries(value)]
        if isinstance(value, (list, tuple)) and len(value) > MOST_ENTRIES:
            raise OutOfRangeError("", "More entries than a shop has.", f"At most {MOST_ENTRIES}.")
        return value

    return BeforeValidator(read)


#: The shop's own metals, minutes, papers, stones: each a list, or one text, its entries apart by semicolons or lines.
OwnMetals = Annotated[tuple[OwnMetal, ...], _listed(_metal_row)]
OwnStepMinutes = Annotated[tuple[OwnMinutes, ...], _listed(_minutes_row)]
OwnFamilyPapers = Annotated[tuple[OwnPapers, ...], _listed(_papers_row)]
OwnStones = Annotated[tuple[OwnStone, ...], _listed(_stone_row)]


@request
class OwnCorrection:
    """What rings of a profile and a family of metals close large by here [mm round], learnt from so many of them.

    ``since`` is the day from which it is in force, ``low_mm`` and ``high_mm`` the bounds that hold it with 95 %.
    """

    group: GroupKey
    round_mm: Correction
    since: Annotated[str, BeforeValidator(_day)] = ""
    rings: Rings = 0
    low_mm: Correction | None = None
    high_mm: Correction | None = None


def _correction_row(said: str) -> dict[str, object]:
    name, _, figure = said.rpartition(" ")
    return {"group": name, "round_mm": figure}


OwnCorrections = Annotated[tuple[OwnCorrection, ...], _listed(_correction_row)]


@request
class OwnFigures:
    """A shop's own figures."""

    corrections: OwnCorrections = ()
    metals: OwnMetals = ()
    minutes: OwnStepMinutes = ()
    papers: OwnFamilyPapers = ()
    stones: OwnStones = ()
    steps: OwnSteps = ()

    def metal(self, ours: Metal) -> Metal:
        """A metal with the shop's own figures over ours."""
        own = next((one for one in self.metals if one.metal == ours.key), None)
        if own is None:
            return ours
        return replace(
            ours,
            solidus_c=own.solidus_c or ours.solidus_c,
            liquidus_c=own.liquidus_c or ours.liquidus_c,
            density_g_cm3=own.density_g_cm3 or ours.density_g_cm3,
            source="its supplier's sheet, says the shop",
        )

    def correction(self, profile: str, family: str) -> OwnCorrection | None:
        """What rings of a profile and a family of metals close large by here; None where nothing is in force."""
        group = group_of(profile, family)
        return next((one for one in self.corrections if one.group == group and one.round_mm), None)

    def papers_for(self, metal: Metal) -> tuple[str, ...]:
        """The shop's own papers for a metal; none where it follows ours."""
        return next((one.papers for one in self.papers if one.family == metal.family), ())

    def minutes_of(self) -> Mapping[str, tuple[float, float | None]]:
        """Minutes of hands and of waiting by step, where the shop has its own."""
        return {one.step: (one.hands_min, one.wait_min) for one in self.minutes}

    def steps_of(self, style: str) -> tuple[OwnStep, ...]:
        """The shop's own changes of a style's route; none where it follows ours."""
        return steps_of(self.steps, style)

    def bears(self, kind: str) -> str:
        """What a stone bears by the shop's own word; empty where it follows ours."""
        return next((one.bears for one in self.stones if one.kind == kind), "")
