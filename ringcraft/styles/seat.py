"""The seat of a finished ring that rides on two sleeves: a step filed on both, a shoulder left at either side."""

from __future__ import annotations

import math
from dataclasses import dataclass

from ringcraft.drawing.paths import line
from ringcraft.drawing.shapes import Drawing, Shape, drawing
from ringcraft.errors import CraftError, ImpossibleSectionError, OutOfRangeError
from ringcraft.planning.context import RingContext
from ringcraft.sections import Section
from ringcraft.units import format_power
from ringcraft.work.plan import Figure

LEAST_SLEEVE_MM = 0.5  # of metal under the step: thinner, the seam under the ring opens; our own judgement
LEAST_SHOULDER_MM = 0.5  # of width left standing at either side; our own judgement
FAR_MM = 0.5  # a sleeve so far from what the ring wants is another one: nearer, the ring's inside goes before it
EVEN_MM = 0.03  # sleeve and shoulder against the stock as it was measured: a caliper's doubt


@dataclass(frozen=True)
class SeatAsked:
    """What is said of a seat [mm]: sleeve under the step, shoulder above its floor, its width, the ring's inside."""

    sleeve_mm: float | None
    shoulder_high_mm: float | None
    step_mm: float | None
    finished_inside_mm: float | None


@dataclass(frozen=True)
class Seat:
    """The seat [mm]: its inside, the shoulder left at each side, the step's width and depth, the sleeve under it.

    ``filed_mm3`` is what the step takes of one sleeve, ``before_mm3`` what that sleeve has before.
    """

    inside_mm: float
    shoulder_mm: float
    step_mm: float
    deep_mm: float
    sleeve_mm: float
    before_mm3: float
    filed_mm3: float


def seat_of(asked: SeatAsked, section: Section, finger_mm: float) -> Seat:
    """The seat of a finished ring on two sleeves of one section round a finger [mm]; raises CraftError.

    Its inside is the finger and twice the sleeve; the shoulder at each side is (both widths - the step)/2.
    """
    if asked.step_mm is None:
        raise CraftError("step_mm", "How wide is the finished ring?", "The step is filed as wide.")
    if asked.finished_inside_mm is not None and asked.finished_inside_mm <= finger_mm:
        raise ImpossibleSectionError(
            "finished_inside_mm", "At {inside:.2f} inside it does not stand above the finger, {finger:.2f}.",
            "Nothing goes under it: bands beside it, or a smaller finger.",
            inside=asked.finished_inside_mm, finger=finger_mm,
        )  # fmt: skip
    sleeve, deep = _thick(asked, section, finger_mm)
    wide = 2 * section.width_mm
    shoulder = (wide - asked.step_mm) / 2
    if shoulder < LEAST_SHOULDER_MM:
        raise OutOfRangeError(
            "step_mm", "A step of {step:g} in {wide:g} of sleeves leaves no shoulder.", "At most {most:.1f mm}.",
            step=asked.step_mm, wide=wide, most=wide - 2 * LEAST_SHOULDER_MM,
        )  # fmt: skip
    inside = finger_mm + 2 * sleeve
    filed = math.pi * (inside + deep) * deep * asked.step_mm / 2
    before = section.area_mm2 * math.pi * (finger_mm + 2 * section.neutral_mm)
    return Seat(inside, shoulder, asked.step_mm, deep, sleeve, before, filed)


def _thick(asked: SeatAsked, section: Section, finger_mm: float) -> tuple[float, float]:
    """The sleeve under the step and how deep the step is [mm]: together the stock."""
    if not section.flat:
        raise ImpossibleSectionError("stock.profile", "A step is filed on what is flat outside.", "Strip or sheet.")
    sleeve = asked.sleeve_mm
    fits = None if asked.finished_inside_mm is None else (asked.finished_inside_mm - finger_mm) / 2
    if sleeve is None and fits is None:
        raise CraftError(
            "sleeve_mm", "How thick is the sleeve under the step?", "Or the inside of the finished ring."
        )
    if sleeve is not None and fits is not None and abs(sleeve - fits) > FAR_MM:
        raise ImpossibleSectionError(
            "sleeve_mm", "A sleeve of {sleeve:g} under it does not meet its inside: {fits:.2f} does.",
            "Leave it out, and it follows.", sleeve=sleeve, fits=fits,
        )  # fmt: skip
    under = fits if fits is not None else sleeve
    assert under is not None
    if under < LEAST_SLEEVE_MM:
        raise OutOfRangeError(
            "sleeve_mm", "{under:.2f} of sleeve under the step does not hold.", "At least {least:g mm}.",
            under=under, least=LEAST_SLEEVE_MM,
        )  # fmt: skip
    deep = section.thickness_mm - under
    if deep <= 0:
        raise ImpossibleSectionError(
            "sleeve_mm", "Stock {thick:g} thick leaves no step over {under:.2f}.", "Thicker stock.",
            thick=section.thickness_mm, under=under,
        )  # fmt: skip
    said = asked.shoulder_high_mm
    if said is not None and fits is None and abs(deep - said) > 0.15 * section.thickness_mm + EVEN_MM:
        raise ImpossibleSectionError(
            "stock.thickness_mm", "A sleeve of {under:g} and a shoulder of {said:g} make {sum:g},"
            " the stock is {thick:g}.",
            "Stock {sum:g} thick.", under=under, said=said, sum=under + said, thick=section.thickness_mm,
        )  # fmt: skip
    return under, deep


def seat_figures(context: RingContext, seat: Seat, section: Section) -> tuple[Figure, ...]:
    """The figures of a seat, with what is filed off."""
    told = context.length
    volumes = [format_power(mm3, 3, context.used.units, ".0f")
               for mm3 in (seat.before_mm3, seat.before_mm3 - seat.filed_mm3)]  # fmt: skip
    return (
        Figure("seat", "its seat inside", seat.inside_mm, f"{told(seat.inside_mm):.2f}",
               f"the finger and twice {told(seat.sleeve_mm):.2f} of sleeve"),
        Figure("shoulder", "shoulder each side", seat.shoulder_mm, f"{told(seat.shoulder_mm):.2f}",
               f"({told(2 * section.width_mm):g} of sleeves less {told(seat.step_mm):g})/2"),
        Figure("deep", "step deep", seat.deep_mm, f"{told(seat.deep_mm):.2f}", "down to the sleeve under it"),
        Figure("filed", "a sleeve, filed", seat.before_mm3 - seat.filed_mm3, volumes[1],
               f"{volumes[0]} before its step"),
    )  # fmt: skip


def seat_across(section: Section, seat: Seat) -> Drawing:
    """A cut along the finger: both sleeves with their step, the finished ring on it."""
    wide, thick, half = section.width_mm, section.thickness_mm, seat.step_mm / 2
    floor = seat.sleeve_mm

    def sleeve(sign: float, key: str) -> Shape:
        points = [(0.0, 0.0), (sign * wide, 0.0), (sign * wide, thick), (sign * half, thick), (sign * half, floor)]
        return Shape(key, "metal", (line(*points, (0.0, floor)),))

    rides = line((-half, floor), (half, floor), (half, thick), (-half, thick))
    return drawing([sleeve(-1.0, "sleeve-1"), sleeve(1.0, "sleeve-2"), Shape("finished", "second", (rides,))])
