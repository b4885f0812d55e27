"""The wishbone: a round band with one V bent into it after it is soldered and round."""

from __future__ import annotations

import math
from dataclasses import dataclass
from typing import Literal

from ringcraft.drawing import rings
from ringcraft.drawing.blanks import across
from ringcraft.drawing.shapes import drawing
from ringcraft.errors import OutOfRangeError, UnreadableError
from ringcraft.planning.blank import BlankSpec
from ringcraft.planning.context import RingContext, length_model, ring_context
from ringcraft.planning.finished_size import FinishedSize, WhatIf, deviation
from ringcraft.planning.ledger import Handle, Mark, Term
from ringcraft.planning.request import RingRequest
from ringcraft.routes.facts import StyleFacts
from ringcraft.schema import Degrees, PositiveMm, name_of, request
from ringcraft.sections import Stock
from ringcraft.styles.base import STOCK_OVERRIDES, Figure, OwnFields, RingPlan, Style
from ringcraft.styles.build import Told, assemble, size
from ringcraft.styles.telling import length_figure, says_of, thumb
from ringcraft.units import Length
from ringcraft.work.fields import FieldSpec, Option, PartSpec

SHARPEST_DEG, BLUNTEST_DEG = 30.0, 170.0  # sharper cracks at the tip, blunter is no V; our own judgement
BENT_OFF_DEG = 5.0  # what a V is easily bent off by hand; our own judgement
TIP_STRAIN = 0.5  # of the skin at the tip, bent over an edge of half its thickness; plane geometry
THUMB_MM = 9.0  # what benches add for a V; common practice, no published source
PLACES = {"opposite": "opposite the joint", "joint": "at the joint"}
PlaceKey = name_of("place for the V", PLACES)


@request
class WishboneRequest(RingRequest):
    """The order of a wishbone: exactly one of the V's angle, rise and extra length."""

    style: Literal["wishbone"] = "wishbone"
    v_angle_deg: Degrees | None = None
    v_rise_mm: PositiveMm | None = None
    v_extra_mm: PositiveMm | None = None
    v_place: PlaceKey = "opposite"


@dataclass(frozen=True)
class Vee:
    """A V on a round: its full angle [deg], the rise of its tip over the round [mm], its extra length [mm]."""

    v_angle_deg: float
    v_rise_mm: float
    v_extra_mm: float


@dataclass(frozen=True, kw_only=True)
class WishboneFields(OwnFields):
    """What a wishbone answers beside every plan: the whole of its V."""

    wishbone: Vee


@dataclass(frozen=True, kw_only=True)
class WishbonePlan(WishboneFields, RingPlan):
    """The plan of a wishbone."""

    style: Literal["wishbone"]


@dataclass(frozen=True)
class WishboneFacts(StyleFacts):
    """What the route of a wishbone says beside every ring's."""

    vee: str
    rise: Length
    flank: Length
    place: str
    reads: str
    vee_strain: str
    tip_strain: float
    vee_times: float
    at_joint: bool


def vee_of_angle(neutral_radius_mm: float, angle_deg: float) -> Vee:
    """The V of a full angle A [deg] on a round of neutral radius R [mm].

    extra = 2 R (cot(A/2) - (pi/2 - A/2)), rise = R / sin(A/2) - R: two tangents of R cot(A/2) take the place of
    an arc of R (pi - A). Source: plane geometry; checked in the tests by measuring the drawn line with shapely.

    >>> [round(vee_of_angle(10.3, a).v_extra_mm, 1) for a in (90, 72, 60)]
    [4.4, 8.9, 14.1]
    """
    half = math.radians(angle_deg) / 2
    extra = 2 * neutral_radius_mm * (1 / math.tan(half) - (math.pi / 2 - half))
    return Vee(angle_deg, neutral_radius_mm / math.sin(half) - neutral_radius_mm, extra)


def angle_of_rise(neutral_radius_mm: float, rise_mm: float) -> float:
    """The full angle [deg] of the V whose tip stands ``rise_mm`` over the round."""
    return math.degrees(2 * math.asin(neutral_radius_mm / (neutral_radius_mm + rise_mm)))


def angle_of_extra(neutral_radius_mm: float, extra_mm: float) -> float:
    """The full angle [deg] of the V that adds ``extra_mm``, by halving: the extra falls as the V opens."""
    low, high = 0.01, 180.0
    for _ in range(80):
        middle = (low + high) / 2
        if vee_of_angle(neutral_radius_mm, middle).v_extra_mm > extra_mm:
            low = middle
        else:
            high = middle
    return (low + high) / 2


def plan_wishbone(order: WishboneRequest) -> WishbonePlan:
    """Plan a wishbone; raises CraftError naming the field."""
    context = ring_context(order, STYLE.leave)
    adds = length_model(context).adds(context.used.rule)[0]
    neutral = context.target.inside_mm / 2 + adds / (2 * math.pi)
    vee = _vee(order, neutral)
    half = math.radians(vee.v_angle_deg) / 2
    turn = length_model(context, times=1 + (1 / math.tan(half) - (math.pi / 2 - half)) / math.pi)
    tip = f"{context.length(vee.v_rise_mm):.1f}"
    why = f"a V of {vee.v_angle_deg:.0f}°: two tangents for an arc, its tip {tip} over the round"
    sized = size(context, turn, [Term("vee", "the V", vee.v_extra_mm, why)])
    marks = _marks(order, context, vee, neutral, sized.cut_mm)
    lines = [across(mark.key, "centre" if mark.key == "vee-tip" else "scribe", mark.x_mm, context.section.width_mm)
             for mark in marks]  # fmt: skip
    inner, outer = context.target.inside_mm / 2, context.target.inside_mm / 2 + context.section.thickness_mm
    top = order.v_place == "opposite"
    before = sized.trued_mm / math.pi - 2 * context.section.neutral_mm
    round_text = context.target.told(before)
    return assemble(
        STYLE,
        sized,
        [sized.draw(BlankSpec(marks=marks, lines=lines))],
        Told(
            title=f"{context.section.title} wishbone",
            ring=drawing(
                [rings.vee(inner, outer, half)],
                [
                    rings.joint(inner, outer)
                    if top
                    else rings.joint(inner / math.sin(half), outer / math.sin(half), 0)
                ],
            ),
            figures=_figures(context, vee),
            thumbs=(thumb(context, f"a V adds {context.length(THUMB_MM):g}", THUMB_MM, vee.v_extra_mm),),
            deviations=(_sharper(context, sized.closing, vee, neutral),),
            says=(says_of(context, f"{sized.closing.text} once the V is bent"),),
            facts=WishboneFacts(
                vee=f"{vee.v_angle_deg:.0f}°",
                rise=Length(vee.v_rise_mm, context.used.units, ".1f"),
                flank=Length(neutral / math.tan(half), context.used.units, ".1f"),
                place=PLACES[order.v_place],
                reads=round_text,
                vee_strain=f"{100 * TIP_STRAIN:.0f}",
                tip_strain=TIP_STRAIN,
                vee_times=turn.times,
                at_joint=order.v_place == "joint",
            ),
        ),
        WishboneFields(wishbone=vee),
    )


def _vee(order: WishboneRequest, neutral: float) -> Vee:
    given = [name for name in ("v_angle_deg", "v_rise_mm", "v_extra_mm") if getattr(order, name) is not None]
    if len(given) != 1:
        said = "How sharp is the V?" if not given else "Give one of angle, rise and extra length: the others follow."
        raise UnreadableError(given[-1] if given else "v_angle_deg", said, "Such as an angle of 72.")
    field = given[0]
    value: float = getattr(order, field)
    if field == "v_angle_deg":
        angle = value
    elif field == "v_rise_mm":
        angle = angle_of_rise(neutral, value)
    else:
        angle = angle_of_extra(neutral, value)
    if not SHARPEST_DEG <= angle <= BLUNTEST_DEG:
        sharp, blunt = vee_of_angle(neutral, SHARPEST_DEG), vee_of_angle(neutral, BLUNTEST_DEG)
        ends = "From {low:.1f} to {high:.1f}."
        if field == "v_angle_deg":
            ends = f"From {SHARPEST_DEG:g} to {BLUNTEST_DEG:g} degrees."
        said = f"That makes a V of {angle:.0f}°, which no band is bent to."
        raise OutOfRangeError(field, said, ends, low=getattr(blunt, field), high=getattr(sharp, field))
    return vee_of_angle(neutral, angle)


def _marks(order: WishboneRequest, context: RingContext, vee: Vee, neutral: float, cut: float) -> list[Mark]:
    half = math.radians(vee.v_angle_deg) / 2
    flank, formed = neutral / math.tan(half), cut - context.used.join.trim_mm
    sharp = vee_of_angle(neutral, SHARPEST_DEG).v_extra_mm
    blunt = vee_of_angle(neutral, BLUNTEST_DEG).v_extra_mm
    handle = Handle("v_extra_mm", "extra for the V", vee.v_extra_mm, 2 * math.cos(half) ** 2, blunt, sharp)
    if order.v_place == "joint":
        return [Mark("vee-from", flank, "flank", handle), Mark("vee-to", formed - flank, "flank")]
    return [
        Mark("vee-from", formed / 2 - flank),
        Mark("vee-tip", formed / 2, "tip of the V"),
        Mark("vee-to", formed / 2 + flank, "flank", handle),
    ]


def _figures(context: RingContext, vee: Vee) -> tuple[Figure, ...]:
    risen, added = "of the tip over the round, neutral line", "two tangents less the arc they replace"
    return (
        Figure("v_angle_deg", "V", vee.v_angle_deg, f"{vee.v_angle_deg:.1f}°", "the full angle between its flanks"),
        length_figure(context, "v_rise_mm", "rise", vee.v_rise_mm, ".2f", risen),
        length_figure(context, "v_extra_mm", "extra", vee.v_extra_mm, ".2f", added),
    )


def _sharper(context: RingContext, closing: FinishedSize, vee: Vee, neutral: float) -> WhatIf:
    """What a V bent sharper than planned takes from the round: the whole stays as long as it was cut."""
    sharper = vee_of_angle(neutral, vee.v_angle_deg - BENT_OFF_DEG).v_extra_mm
    around = 2 * math.pi * neutral
    less = around * (around + vee.v_extra_mm) / (around + sharper) - around
    why = f"it takes {context.length(-less):.2f} more out of the round"
    return deviation(context, closing, "vee-sharper", f"V bent {BENT_OFF_DEG:g}° sharper", less, why)


STYLE = Style(
    key="wishbone",
    title="wishbone",
    request=WishboneRequest,
    plan=plan_wishbone,
    answer=WishbonePlan,
    leave="small",
    route="wishbone",
    first=Stock(profile="half-round", width_mm=3.0, thickness_mm=1.5),
    overrides_from_measures=STOCK_OVERRIDES,
    words=(
        FieldSpec(
            field="",
            label="The V by its",
            before="its V",
            kind="one-of",
            first="v_angle_deg",
            parts=(
                PartSpec(
                    "v_angle_deg",
                    "Angle of the V",
                    "by an angle of",
                    "°,",
                    "number",
                    "75",
                    short=("v", "angle", "wishbone"),
                ),
                PartSpec(
                    "v_rise_mm",
                    "Rise of the V",
                    "by a rise of",
                    "{mm} over the round,",
                    "length",
                    3.5,
                    short=("rise",),
                ),
                PartSpec("v_extra_mm", "Extra for the V", "by an extra of", "{mm},", "length", 9.0, short=("extra",)),
            ),
        ),
        FieldSpec(
            field="v_place",
            label="Place of the V",
            kind="choice",
            first="opposite",
            choices=tuple(Option(key, title) for key, title in PLACES.items()),
        ),
    ),
    facts=WishboneFacts,
)
