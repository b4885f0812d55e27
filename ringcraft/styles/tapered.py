"""The tapered shank: a bar left thick at its ends and thinned in the middle, its length known before rolling."""

from __future__ import annotations

import math
from collections.abc import Callable
from dataclasses import dataclass
from typing import Any, Literal

from ringcraft.border import Mm, PositiveMm, request
from ringcraft.drawing import rings
from ringcraft.drawing.blanks import across
from ringcraft.drawing.shapes import drawing
from ringcraft.errors import ImpossibleSectionError, OutOfRangeError
from ringcraft.planning.closing import slip
from ringcraft.planning.frame import Frame, Turn, frame_of, slope_of
from ringcraft.planning.joints import Seam
from ringcraft.planning.ledger import Handle, Mark, Term
from ringcraft.planning.request import RingRequest
from ringcraft.planning.rules import thickness_term
from ringcraft.planning.tolerance import Spread, sampled
from ringcraft.sections import Section, Stock, section_of
from ringcraft.styles.base import STOCK_TAKES, Figure, RingPlan, Style, Word
from ringcraft.styles.build import Sized, assemble, says_of, sized_blank, thumb

MIDDLE_SHARE = 0.5  # of the bar's thickness, where the middle is not said; our own starting value
SLIP_MM = 0.05


@request
class Middle:
    """The middle of a shank as it is to be: width and thickness [mm]."""

    width_mm: PositiveMm
    thickness_mm: PositiveMm


@request
class TaperedRequest(RingRequest):
    """The order of a tapered shank: ``stock`` is the bar, each end stays as it is for ``end_mm``; by default the
    middle is half as thick.

    ``gap_mm`` leaves it open at the top, along the neutral line of the ends.
    """

    style: Literal["tapered"] = "tapered"
    end_mm: PositiveMm = 8.0
    middle: Middle | None = None
    gap_mm: Mm = 0.0


@dataclass(frozen=True)
class Thinned:
    """How short a middle to thin [mm], how long the bar is before it, and how much thinning adds [mm]."""

    middle_before_mm: float
    bar_length_mm: float
    growth_mm: float


@dataclass(frozen=True, kw_only=True)
class TaperedPlan(RingPlan):
    """The plan of a tapered shank."""

    style: Literal["tapered"]
    thin: Thinned


@dataclass(frozen=True)
class _Shape:
    """The angles [rad] of a shank's parts round the finger."""

    ends: float
    gap: float
    middle: float

    @property
    def ends_at(self) -> float:
        """How far from the top the thick ends reach, to either side."""
        return (self.gap + self.ends) / 2


def thinned(bar_mm2: float, middle_mm2: float, final_mm: float, end_mm: float) -> Thinned:
    """What to start from so that thinning the middle of a bar ends at ``final_mm`` in all.

    Volume is kept: the middle before is (final - 2 end) x middle area / bar area. Source: conservation of volume.

    >>> thinned(16, 8, 62, 8)
    Thinned(middle_before_mm=23.0, bar_length_mm=39.0, growth_mm=23.0)
    """
    before = (final_mm - 2 * end_mm) * middle_mm2 / bar_mm2
    return Thinned(before, before + 2 * end_mm, final_mm - before - 2 * end_mm)


def plan_tapered(order: TaperedRequest) -> TaperedPlan:
    """Plan a tapered shank; raises CraftError naming the field."""
    bar = section_of(order.stock)
    middle = section_of(_middle(order, bar), "middle")
    closed = order.gap_mm == 0
    frame = frame_of(order, STYLE.leave, bar, joined=closed)
    _check(order, frame, bar, middle)
    shape = _shape(order, frame.wanted.inside_mm, bar, middle)
    turn = _turn(order, frame, bar, middle, shape.middle / (2 * math.pi))
    around = math.pi * frame.wanted.inside_mm + turn.adds(frame.used.rule)[0] - order.gap_mm
    made = thinned(bar.area_mm2, middle.area_mm2, around, order.end_mm)
    sized = _sized(order, frame, turn, around, made)
    inner, wide = frame.wanted.inside_mm / 2, bar.width_mm
    runs = (around - 2 * order.end_mm) * SLIP_MM / middle.thickness_mm
    whole = 2 * order.end_mm + (around - 2 * order.end_mm) / turn.cut_per_formed
    doing = "Mark and cut the bar, thin its middle"
    opened = f"{doing}, bend it: open by {order.gap_mm:g} at {sized.closing.text}."
    return assemble(
        frame,
        STYLE,
        TaperedPlan,
        sized,
        title="tapered shank",
        joints=(Seam("joint", "the joint", wide),) if closed else (Seam("ends", "the ends to the top", 2 * wide),),
        ring=drawing(
            [rings.two_thick(inner, bar.thickness_mm, middle.thickness_mm, shape.ends_at, shape.gap / 2)],
            [rings.joint(inner, inner + bar.thickness_mm, 0.0)] if closed else [],
        ),
        figures=_figures(order, made, around),
        thumbs=(thumb("the bar cut to the finished length", around, made.bar_length_mm,
                      f": it would run out to {whole:.0f}"),),
        slips=(slip(frame, sized.closing, "thin", f"middle {SLIP_MM} too thin", runs, f"it runs {runs:.2f} longer"),),
        says=(says_of(frame, sized.closing.text, doing) if closed else opened,),
        words={
            "before": f"{made.middle_before_mm:.2f}",
            "final": f"{around:.2f}",
            "end": f"{order.end_mm:g}",
            "middle_t": f"{middle.thickness_mm:g}",
            "middle_w": f"{middle.width_mm:g}",
            "reduction": f"{100 * (1 - turn.cut_per_formed):.0f}",
            "gap": f"{order.gap_mm:g}",
            "slip": f"{SLIP_MM:g}",
            "slip_runs": f"{runs:.2f}",
        },
        holds={"closed": closed, "open": not closed, "heavy": turn.cut_per_formed < 0.5},
        expected={"worked": (around, f"{around:.2f}")},
        plus_mm=-order.gap_mm,
        summary=f"{frame.metal.title} bar {round(bar.width_mm, 2):g} × {round(bar.thickness_mm, 2):g}",
        thin=made,
    )  # fmt: skip


def _sized(order: TaperedRequest, frame: Frame, turn: Turn, around: float, made: Thinned) -> Sized:
    """The bar: once round, less the gap, less what thinning gives back, with the middle scribed on it."""
    bar, middle = frame.section, section_of(_middle(order, frame.section), "middle")
    why = f"the middle thinned from {bar.area_mm2:.1f} to {middle.area_mm2:.1f} mm²: rolling gives it back"
    more = [Term("thinning", "thinning gives back", -made.growth_mm, why)]
    if order.gap_mm:
        more.insert(0, Term("gap", "gap for the top", -order.gap_mm, "left open, along the ends' neutral line"))
    named: dict[str, Any] = {"name": "bar", "title": "bar", "formed_mm": around}
    named["spread"] = _spread(order, frame, bar, middle)
    cut = sized_blank(frame, turn, more, **named).blank.cut_length_mm
    ends = (order.end_mm, cut - frame.used.join.trim_mm - order.end_mm)
    handle = Handle("end_mm", "length of each end", order.end_mm, 1.0, 0.5, around / 3)
    marks = [
        Mark("end-left", ends[0], f"thin from {ends[0]:.1f}", handle),
        Mark("end-right", ends[1], f"to {ends[1]:.1f}"),
    ]
    lines = [across(mark.key, "scribe", mark.x_mm, bar.width_mm) for mark in marks]
    return sized_blank(frame, turn, more, marks=marks, lines=lines, **named)


def _figures(order: TaperedRequest, made: Thinned, around: float) -> tuple[Figure, ...]:
    between = f"between two ends of {order.end_mm:g}"
    return (
        Figure("before", "thin this much", made.middle_before_mm, f"{made.middle_before_mm:.2f}", between),
        Figure("final", "to run out to", around, f"{around:.2f}", "the whole shank, along its neutral line"),
        Figure("growth", "it grows by", made.growth_mm, f"{made.growth_mm:.2f}", "area times length stays"),
    )


def _middle(order: TaperedRequest, bar: Section) -> Stock:
    """The middle as stock: the bar's own profile, no longer as wide as it is thick; by default half as thick."""
    wide = order.middle.width_mm if order.middle else bar.width_mm
    thick = order.middle.thickness_mm if order.middle else bar.thickness_mm * MIDDLE_SHARE
    profile = {"round": "oval", "square": "rectangle"}.get(order.stock.profile, order.stock.profile)
    side = order.stock.side_mm
    return Stock(profile=profile, width_mm=wide, thickness_mm=thick,
                 side_mm=None if side is None else side * thick / bar.thickness_mm)  # fmt: skip


def _shape(order: TaperedRequest, inside_mm: float, bar: Section, middle: Section) -> _Shape:
    neutral = inside_mm / 2 + bar.neutral_mm
    ends, gap = 2 * order.end_mm / neutral, order.gap_mm / neutral
    return _Shape(ends, gap, 2 * math.pi - ends - gap)


def _check(order: TaperedRequest, frame: Frame, bar: Section, middle: Section) -> None:
    neutral = frame.wanted.inside_mm / 2 + bar.neutral_mm
    if middle.thickness_mm > bar.thickness_mm or middle.area_mm2 > bar.area_mm2:
        said = f"A bar of {bar.area_mm2:.1f} mm² cannot be thinned to a middle of {middle.area_mm2:.1f}."
        raise ImpossibleSectionError("middle.thickness_mm", said, f"Thinner than {bar.thickness_mm:g}.")
    if order.gap_mm > 2 * neutral:
        raise OutOfRangeError("gap_mm", "That leaves no shank to hold a top.", f"At most {2 * neutral:.1f} mm.")
    most = (2 * math.pi * neutral - order.gap_mm) / 3
    if order.end_mm > most:
        raise OutOfRangeError("end_mm", "The ends leave no middle to thin.", f"At most {most:.1f} mm each.")


def _turn(order: TaperedRequest, frame: Frame, bar: Section, middle: Section, share: float) -> Turn:
    """Once round on two thicknesses: each adds by its rule for its own share of the round."""

    def adds(rule: str) -> tuple[float, str]:
        own = frame.order.own_correction_mm
        thick, thin = thickness_term(rule, bar, own)[0], thickness_term(rule, middle, own)[0]
        mm = thick * (1 - share) + thin * share
        return mm, f"{100 * share:.0f} % of the round {middle.thickness_mm:g} thick, the rest {bar.thickness_mm:g}"

    rises = slope_of(_middle(order, bar))
    ratio = middle.area_mm2 / bar.area_mm2
    return Turn(adds, 2 * math.pi * rises * share, cut_per_formed=ratio, kerf_gain=1.0)


def _spread(order: TaperedRequest, frame: Frame, bar: Section, middle: Section) -> Spread:
    """By drawing: the length follows the thickness of the middle as one over it, not in a straight line."""
    scatter, saws = frame.used.scatter, frame.used.join.saw_passes
    shape = _shape(order, frame.wanted.inside_mm, bar, middle)
    share = shape.middle / (2 * math.pi)
    volume = (shape.middle * (frame.wanted.inside_mm / 2 + middle.neutral_mm)) * middle.area_mm2

    def circumference(t: float, w: float, bar_t: float, cut: float, saw: float) -> float:
        thick, wide = max(middle.thickness_mm + t, 0.05), max(middle.width_mm + w, 0.05)
        length = volume * (1 + bar_t / bar.thickness_mm) / (thick * wide) + cut + saw
        low, high = middle.neutral_mm / middle.thickness_mm, bar.neutral_mm / bar.thickness_mm
        return length - 2 * math.pi * (share * low * thick + (1 - share) * high * (bar.thickness_mm + bar_t))

    sds = (scatter.thickness_mm, scatter.thickness_mm, scatter.thickness_mm, scatter.cutting_mm,
           scatter.saw_pass_mm * math.sqrt(saws))  # fmt: skip
    runs: Callable[..., float] = circumference
    return sampled(scatter, runs, sds, truing=True)


STYLE = Style(
    key="tapered",
    title="tapered shank",
    request=TaperedRequest,
    plan=plan_tapered,
    answer=TaperedPlan,
    leave="large",
    route="tapered",
    first={"profile": "square", "thickness": "4.0", "width": ""},
    stock_says="a bar",
    takes=STOCK_TAKES,
    aliases=("taper", "milled"),
    words=(
        Word("middle.thickness_mm", "Thickness of the middle", "its middle thinned to", "mm", first="2",
             short=("middle",)),
        Word("middle.width_mm", "Width of the middle", "by", "mm wide,", first="4", short=("wide",)),
        Word("end_mm", "Length of each end", "between ends of", "mm,", first="8", short=("ends",)),
        Word("gap_mm", "Gap", "open by", "mm", first="0", short=("gap",)),
    ),
)  # fmt: skip
