"""Two plans side by side: what differs, and what cutting one for the other would make."""

from __future__ import annotations

from dataclasses import dataclass

from pydantic import SerializeAsAny

from ringcraft.errors import BadRequest, CraftError
from ringcraft.measure.sizes import SCALES
from ringcraft.planning.finished_size import sizes_text
from ringcraft.planning.rules import RULES
from ringcraft.schema import request
from ringcraft.styles import AnyRing, plan_ring
from ringcraft.styles.base import RingPlan
from ringcraft.units import format_length


@request
class CompareRequest:
    """Two orders: the one on the sheet, and the one beside it."""

    this: AnyRing
    other: AnyRing


@dataclass(frozen=True)
class Comparison:
    """The other plan, how much longer [mm] and heavier [g] it is, and what a mix-up would close at."""

    other: SerializeAsAny[RingPlan]
    longer_mm: float
    heavier_g: float
    mixed_up_mm: float
    mixed_up_text: str
    says: tuple[str, ...]


def compare(asked: CompareRequest) -> Comparison:
    """Compare two orders; raises BadRequest with the fields of the one that cannot be planned."""
    this, other = _plan(asked.this, "this"), _plan(asked.other, "other")
    mine, theirs = this.blanks[0], other.blanks[0]
    longer = theirs.cut_length_mm - mine.cut_length_mm
    heavier = _mass(other) - _mass(this)
    us = SCALES["us"]
    per_mm = this.sensitivity.us_sizes_per_mm_length * us.step_mm
    scale = SCALES.get(this.target.read_as, SCALES[this.used.home_scale])
    closes = this.closing.inside_diameter_mm + longer * per_mm
    sizes = longer * this.sensitivity.us_sizes_per_mm_length * us.circumference_per_size_mm
    off = sizes_text(sizes / scale.circumference_per_size_mm, scale)
    text = scale.text(closes, scale.fine_step)
    return Comparison(other, longer, heavier, closes, text, _says(this, other, longer, heavier, text, off))


def _plan(order: AnyRing, side: str) -> RingPlan:
    try:
        return plan_ring(order)
    except CraftError as problem:
        raise BadRequest([problem.at(f"{side}.{problem.field}")]) from None


def _mass(plan: RingPlan) -> float:
    return sum(blank.mass_g * blank.count for blank in plan.blanks)


def _says(this: RingPlan, other: RingPlan, longer: float, heavier: float, text: str, off: str) -> tuple[str, ...]:
    if abs(longer) < 0.005:
        length = "The same length"
    else:
        how = "longer" if longer > 0 else "shorter"
        length = f"{format_length(abs(longer), this.used.units)} {this.blanks[0].unit} {how}"
    mass = "as heavy" if abs(heavier) < 0.005 else f"{abs(heavier):.2f} g {'heavier' if heavier > 0 else 'lighter'}"
    rules = ""
    if this.used.rule != other.used.rule:
        names = [RULES[plan.used.rule].title if plan.used.rule in RULES else "own" for plan in (other, this)]
        rules = f" by {names[0]} than by {names[1]}"
    mixed = f"That length for this ring would close at {text}, {off}." if abs(longer) >= 0.005 else ""
    return tuple(line for line in (f"{length}{rules}, {mass}.", mixed) if line)
