"""The causes of a ring that came out wrong, for one order: how likely each is, and how much round it makes.

The table is ``tables/causes.toml``; what of a shift follows from the ring is worked out here. A cause is one row:
adding one touches the table, and a word of :data:`SHIFTS` where its figure is a new one.
"""

from __future__ import annotations

import itertools
import math
from collections.abc import Callable, Iterator, Mapping
from dataclasses import dataclass, replace
from typing import Any, Literal

from ringcraft.measure.sizes import SCALES
from ringcraft.metals import BLADES
from ringcraft.planning.request import RingRequest
from ringcraft.resize.asking import ResizeRequest
from ringcraft.resize.plan import ResizePlan
from ringcraft.styles.base import RingPlan
from ringcraft.styles.folded import FoldedRequest
from ringcraft.styles.textured import TexturedRequest
from ringcraft.tables import record, rows
from ringcraft.units import Length, fill

TABLE = record("causes")
CUT_SD_MM, CALIPER_SD_MM, LENGTH_SD_MM = TABLE["cut_sd_mm"], TABLE["caliper_sd_mm"], TABLE["length_sd_mm"]
NOTHING_FITS_MM = TABLE["nothing_fits_beyond_mm"]
FAR_STOCK_MM = 0.1  # of thickness: further off it is another stock, not a hair; our own judgement
PRIORS_WORTH = TABLE["priors_worth_rings"]
CLOSING_MM: float = TABLE["closing_again_mm"]
PASS_SD_MM: float = TABLE["pass_sd_mm"]
WRONG_SIDE_MM: float = TABLE["wrong_side_mm"]
ROWS = rows("causes")
Acts = Literal["cut", "after", "reading", "worn"]
KEYS = tuple(dict.fromkeys(row["key"] for row in ROWS))
PRIORS = {key: sum(row["prior"] for row in ROWS if row["key"] == key) for key in KEYS}
TITLES = {row["key"]: row.get("called", row["title"]) for row in ROWS}
#: Keys that have several ways, those that go with no other, and how the thickness went into the sum.
SEVERAL = frozenset(row["key"] for row in ROWS if "way" in row)
ALONE = frozenset(row["key"] for row in ROWS if row.get("alone"))
STORIES = {row["key"]: row["story"] for row in ROWS if "story" in row}


@dataclass(frozen=True)
class Atom:
    """One cause, or two together, in one ring: ``cut_mm`` is what it makes of the cut, ``later_mm`` of what follows.

    Their own scatter [mm]; ``thicker_mm`` is how much more a caliper would read of the stock, ``error_mm`` how much
    of the size is no more than a reading, ``worn_mm`` how much of it is only how it is worn.
    """

    keys: tuple[str, ...]
    titles: tuple[str, ...]
    prior: float
    cut_mm: float = 0.0
    cut_own_mm: float = 0.0
    later_mm: float = 0.0
    later_own_mm: float = 0.0
    thicker_mm: float = 0.0
    thicker_own_mm: float = 0.0
    error_mm: float = 0.0
    error_own_mm: float = 0.0
    worn_mm: float = 0.0
    sawn: int = 0
    says: tuple[str, ...] = ()
    mends: tuple[str, ...] = ()

    @property
    def shift_mm(self) -> float:
        """What it makes round in all [mm]."""
        return self.cut_mm + self.later_mm

    @property
    def own_mm(self) -> float:
        """How far that scatters of itself [mm]."""
        return math.hypot(self.cut_own_mm, self.later_own_mm)

    def with_(self, other: Atom) -> Atom:
        """Both together; which of them go together is :func:`pairs`' matter."""
        return Atom(
            keys=(*self.keys, *other.keys),
            titles=(*self.titles, *other.titles),
            prior=self.prior * other.prior,
            cut_mm=self.cut_mm + other.cut_mm,
            cut_own_mm=math.hypot(self.cut_own_mm, other.cut_own_mm),
            later_mm=self.later_mm + other.later_mm,
            later_own_mm=math.hypot(self.later_own_mm, other.later_own_mm),
            thicker_mm=self.thicker_mm + other.thicker_mm,
            thicker_own_mm=math.hypot(self.thicker_own_mm, other.thicker_own_mm),
            error_mm=self.error_mm + other.error_mm,
            error_own_mm=math.hypot(self.error_own_mm, other.error_own_mm),
            worn_mm=self.worn_mm + other.worn_mm,
            sawn=self.sawn + other.sawn,
            says=(*self.says, *other.says),
            mends=(*self.mends, *other.mends),
        )


@dataclass(frozen=True)
class RingCase:
    """A ring that is asked about, in mm: its stock and its neutral line, what its joint is planned to lose.

    ``wanted_mm`` is the inside it is for, ``cut_mm`` its length as planned (None where nothing is cut);
    ``round_per_cut`` and ``round_per_thick`` are how much round a mm of its length and of its thickness makes.
    ``layer_mm`` is one layer of a folded sheet, ``loss_mm`` what a texture takes, ``wide_mm`` what a wide band wears
    tighter where that was not added; 0 for none. ``resized``: it came in closed, ``jointed``: it has its own seam
    to close. ``later_mm`` is what a bend or a texture still does to its inside after it is rounded, ``closes_mm``
    where it is planned to close, ``sheet_mm`` what a caliper reads of its stock: one layer of a folded sheet.
    """

    wanted_mm: float
    wanted_text: str
    numbers: Mapping[str, float]
    read_as: str
    thickness_mm: float
    neutral_mm: float
    width_mm: float
    kerf_mm: float
    saw_passes: int
    cut_mm: float | None
    round_per_cut: float
    round_per_thick: float
    layer_mm: float
    loss_mm: float
    wide_mm: float
    complaint: bool
    resized: bool
    jointed: bool
    later_mm: float
    closes_mm: float
    sheet_mm: float
    units: str


Shift = Callable[[RingCase, Mapping[str, Any]], float | None]


def _wide(case: RingCase, row: Mapping[str, Any]) -> float | None:
    return -case.wide_mm or None


def sawn_mm(case: RingCase, passes: int) -> float:
    """What so many passes more take round [mm], with what it takes to close again."""
    return passes * (case.kerf_mm + CLOSING_MM)


#: What of a shift follows from the ring [mm round]; None where the cause does not exist for it.
SHIFTS: dict[str, Shift] = {
    "-both-neutral": lambda case, row: -2 * math.pi * case.neutral_mm,
    "-one-neutral": lambda case, row: -math.pi * case.neutral_mm,
    "+both-thickness": lambda case, row: 2 * math.pi * case.thickness_mm,
    "-half-turn": lambda case, row: -math.pi * case.thickness_mm / 2,
    "+texture": lambda case, row: math.pi * case.loss_mm,
    "wrong-side": lambda case, row: WRONG_SIDE_MM * case.width_mm / 3,
    "-sawn": lambda case, row: -sawn_mm(case, int(row["way"])),
    "wide": _wide,
}


def atoms_of(case: RingCase, priors: Mapping[str, float]) -> list[Atom]:
    """Every single cause there is for this ring; ``priors`` are those of keys that a shop's own record has moved."""
    out: list[Atom] = []
    for row in ROWS:
        for told in _rows(case, row):
            moved = priors.get(row["key"])
            scale = 1.0 if moved is None else moved / PRIORS[row["key"]]
            out.append(_atom(case, told, scale))
    return out


def _rows(case: RingCase, row: Mapping[str, Any]) -> Iterator[Mapping[str, Any]]:
    """A row of the table as it is for this ring: none, one, or one for each scale that its figure could be on."""
    if case.resized and not row.get("resized", False):
        return
    if row.get("at_joint") and not case.jointed:
        return
    only = row.get("only", "")
    has = {"": True, "folded": case.layer_mm > 0, "textured": case.loss_mm > 0, "complaint": case.complaint}
    if not has[only]:
        return
    shift = row.get("shift", 0.0)
    if shift == "other-scale":
        others = _other_scales(case)
        for title, far in others.items():
            yield {**row, "shift": far, "prior": row["prior"] / len(others), "scale": title}
        return
    mm: float | None = SHIFTS[shift](case, row) if isinstance(shift, str) else float(shift)
    if mm is not None:
        yield {**row, "shift": mm}


def _other_scales(case: RingCase) -> dict[str, float]:
    """What the same figure on another scale would make [mm round], as far as that is still a ring beside this."""
    of = case.read_as
    number = case.numbers.get(of)
    if of not in SCALES or number is None or SCALES[of].labels == "letters":
        return {}
    out = {}
    for key, scale in SCALES.items():
        if key == of or scale.labels == "letters" or not scale.holds(number):
            continue
        mm = math.pi * (scale.diameter_mm(number) - SCALES[of].diameter_mm(number))
        if 0.05 < abs(mm) <= NOTHING_FITS_MM:
            out[scale.title] = mm
    return out


def _atom(case: RingCase, row: Mapping[str, Any], scale: float) -> Atom:
    shift, acts = float(row["shift"]), row["acts"]
    own = float(row.get("own", 0.0)) + row.get("own_share", 0.0) * abs(shift)
    own += row.get("own_share_of_turn", 0.0) * math.pi * case.thickness_mm
    sawn = int(row["way"]) if row["key"] == "sawn-more" else 0
    own += PASS_SD_MM * sawn
    length = _lengths(case)
    words = {
        "thickness": length(case.thickness_mm),
        "kerf": length(case.kerf_mm),
        "loss": length(case.loss_mm),
        "scale": row.get("scale", ""),
    }
    thicker = float(row.get("thicker", 0.0))
    atom = Atom(
        keys=(row["key"],),
        titles=(row["title"],),
        prior=row["prior"] * scale,
        cut_mm=shift if acts == "cut" else 0.0,
        cut_own_mm=own if acts == "cut" else 0.0,
        later_mm=0.0 if acts == "cut" else shift,
        later_own_mm=0.0 if acts == "cut" else own,
        thicker_mm=thicker,
        thicker_own_mm=0.5 * abs(thicker),
        error_mm=shift if acts == "reading" else 0.0,
        error_own_mm=own if acts == "reading" else 0.0,
        worn_mm=shift if acts == "worn" else 0.0,
        sawn=sawn,
        says=(fill(row["says"], words),),
        mends=(row["mend"],),
    )
    if row["key"] == "half-thickness" and case.layer_mm:  # then it is no layer of it that the caliper reads
        return replace(atom, thicker_mm=case.thickness_mm - case.sheet_mm)
    return atom


def _lengths(case: RingCase) -> Callable[[float], str]:
    return lambda mm: f"{Length(mm, case.units):.2f}"


def pairs(atoms: list[Atom]) -> Iterator[Atom]:
    """Every two of them that can both be true: never a cause with itself, nor two stories of one thickness."""
    for one, other in itertools.combinations([atom for atom in atoms if not ALONE.intersection(atom.keys)], 2):
        told = STORIES.get(one.keys[0])
        if one.keys != other.keys and (told is None or told != STORIES.get(other.keys[0])):
            yield one.with_(other)


def priors_with(found: Mapping[str, int]) -> dict[str, float]:
    """The table's priors as a shop's own record leans on them: they count as twenty of its rings."""
    every, count = sum(PRIORS.values()), sum(found.get(key, 0) for key in KEYS)
    if not count:
        return {}
    weigh = PRIORS_WORTH + count
    return {key: every * (PRIORS_WORTH * PRIORS[key] / every + found.get(key, 0)) / weigh for key in KEYS}


def case_of(plan: RingPlan | ResizePlan, order: RingRequest | ResizeRequest, complaint: bool) -> RingCase:
    """A ring's case from its plan and its order."""
    layer = order.stock.thickness_mm if isinstance(order, FoldedRequest) else 0.0
    loss, wide, passes, blade, per_cut, per_thick = 0.0, 0.0, 0, "4/0", 0.0, 0.0
    if isinstance(order, TexturedRequest) and order.texture != "after":
        loss = max(0.0, order.stock.thickness_mm - plan.section.thickness_mm)
    if isinstance(plan, RingPlan):
        wide = plan.wide.mm if plan.wide and not plan.wide.taken else 0.0
        us_mm = SCALES["us"].circumference_per_size_mm
        per_cut = plan.sensitivity.us_sizes_per_mm_length * us_mm
        per_thick = plan.sensitivity.us_sizes_per_0_1_mm_thickness * us_mm / 0.1
    if plan.used is not None:
        passes, blade = plan.used.join.saw_passes, plan.used.join.blade
    cut, later, jointed = None, 0.0, True
    if isinstance(plan, RingPlan) and plan.blanks:
        cut = plan.blanks[0].cut_length_mm
        jointed = plan.style != "adjustable" and all(joint.key != "ends" for joint in plan.joints)
        rounded = [ask.expected for step in plan.route for ask in step.measure if ask.key == "size-rounded"]
        later = plan.closing.inside_diameter_mm - rounded[0] if rounded and rounded[0] else 0.0
    return RingCase(
        wanted_mm=plan.wanted_mm,
        wanted_text=plan.wanted_text,
        numbers=plan.target.numbers,
        read_as=plan.target.read_as,
        thickness_mm=plan.section.thickness_mm,
        neutral_mm=plan.section.neutral_mm,
        width_mm=plan.section.width_mm,
        kerf_mm=BLADES[blade],
        saw_passes=passes,
        cut_mm=cut,
        round_per_cut=per_cut,
        round_per_thick=per_thick,
        layer_mm=layer,
        loss_mm=loss,
        wide_mm=wide,
        complaint=complaint,
        resized=isinstance(plan, ResizePlan),
        jointed=jointed,
        later_mm=later,
        closes_mm=plan.closing.inside_diameter_mm if isinstance(plan, RingPlan) else plan.wanted_mm,
        sheet_mm=plan.section.thickness_mm if isinstance(order, ResizeRequest) else order.stock.thickness_mm,
        units=plan.used.units if isinstance(plan, RingPlan) else plan.units,
    )


def of_strip(atom: Atom) -> Atom:
    """A cause as it is called before there is a ring."""
    row = next((row for row in ROWS if row["key"] == atom.keys[0] and "of_strip" in row), None)
    return replace(atom, titles=(row["of_strip"],), says=(row["of_strip_says"],)) if row else atom


def as_measured(atoms: list[Atom], case: RingCase, off: float) -> list[Atom]:
    """The causes where the stock was measured ``off`` [mm] from what it was called, far: then that is known.

    Of a folded sheet a reading of all its layers is no other stock.
    """
    whole = case.thickness_mm - case.sheet_mm
    if abs(off) <= FAR_STOCK_MM or (case.layer_mm and abs(off - whole) <= FAR_STOCK_MM):
        return atoms
    way, how = ("thick", "thicker") if off > 0 else ("thin", "thinner")
    rise = case.round_per_thick * case.thickness_mm / case.sheet_mm
    told = next(row for row in ROWS if row["key"] == "stock-off" and row["way"] == way)
    ours = next(atom.prior for atom in atoms if atom.keys == ("stock-off",))
    known = Atom(
        keys=("stock-off",),
        titles=(told["title"],),
        prior=ours,
        cut_mm=-rise * off,
        cut_own_mm=rise * CALIPER_SD_MM,
        thicker_mm=off,
        thicker_own_mm=CALIPER_SD_MM,
        says=(f"{_lengths(case)(abs(off))} {how} than it was called",),
        mends=(told["mend"],),
    )
    return [atom for atom in atoms if atom.keys != ("stock-off",)] + [known]
