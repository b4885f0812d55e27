"""Rings over and beside one another: sleeves round an inner band, bands beside a finished ring, a seat for one."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass, replace
from typing import Any, Literal

from ringcraft.drawing import rings
from ringcraft.drawing.shapes import drawing
from ringcraft.errors import OutOfRangeError, UnreadableError
from ringcraft.metals import Metal
from ringcraft.planning.blank import Blank, BlankSpec
from ringcraft.planning.context import RingContext, check_thickness, length_model, ring_context, slope_of
from ringcraft.planning.inner_band import InnerBand, inner_band
from ringcraft.planning.joints import Seam, joints_of
from ringcraft.planning.sizing import sizing_of
from ringcraft.planning.terms import over_terms
from ringcraft.routes.building import size_facts, start_of
from ringcraft.routes.facts import StyleFacts
from ringcraft.sections import Section, Stock, section_of
from ringcraft.styles.base import STOCK_OVERRIDES, Figure, OwnFields, RingPlan, Style
from ringcraft.styles.build import Sized, Told, assemble, side_blank, size
from ringcraft.styles.seat import Seat, SeatAsked, seat_across, seat_figures, seat_of
from ringcraft.styles.stack_orders import (
    ARRANGEMENTS,
    LOOSEST_MM,
    MOST_OUTER,
    TIGHTEST_MM,
    USUAL_FIT_MM,
    StackRequest,
    beside,
    finished_metal,
    flux_of,
    margin_words,
    melting,
    radial,
    together,
)
from ringcraft.styles.telling import length_figure, thumb
from ringcraft.units import Length
from ringcraft.vbench.pieces import Faces, Piece, stock_piece
from ringcraft.work.fields import FieldSpec, Option, PartSpec

SLEEVE = Stock(profile="rectangle", width_mm=3.0, thickness_mm=1.2)  # what a new order begins with


@dataclass(frozen=True, kw_only=True)
class StackFields(OwnFields):
    """What a stack answers beside every plan; ``under`` is what each outer band goes over, inner first.

    ``seat`` is that of a finished ring that rides on a step.
    """

    under: tuple[InnerBand, ...]
    seat: Seat | None = None


@dataclass(frozen=True, kw_only=True)
class StackPlan(StackFields, RingPlan):
    """The plan of a stack."""

    style: Literal["stack"]


@dataclass(frozen=True)
class StackFacts(StyleFacts):
    """What the route of a stack says beside every ring's."""

    margin: str
    sleeves: bool
    sandwich: bool
    flux_together: bool
    no_flux_together: bool
    flanked: bool
    seat: bool
    weighed: bool
    seat_inside: Length
    step: Length
    half_step: Length
    step_deep: Length
    sleeve_left: Length
    shoulder: Length
    step_mm3: float


def plan_stack(order: StackRequest) -> StackPlan:
    """Plan a stack; raises CraftError naming the field."""
    if order.arrangement == "seat":
        return _seated(order)
    if not order.outer:
        raise UnreadableError("outer", "Which bands go round it?", "Give each its stock.")
    if len(order.outer) > MOST_OUTER:
        raise OutOfRangeError("outer", "That is more than a finger bends under.", f"At most {MOST_OUTER}.")
    for i, layer in enumerate(order.outer):
        if not TIGHTEST_MM <= layer.fit_mm <= LOOSEST_MM:
            hint = "From {low:g} to {high:g mm} of diameter; 0 to {usual:g} is usual."
            raise OutOfRangeError(f"outer.{i}.fit_mm", "That fit neither goes on nor stays.", hint,
                                  low=TIGHTEST_MM, high=LOOSEST_MM, usual=USUAL_FIT_MM)  # fmt: skip
    return _sandwich(order) if order.arrangement == "sandwich" else _sleeves(order)


def _sleeves(order: StackRequest) -> StackPlan:
    context = ring_context(order, STYLE.leave)
    sized = size(context, length_model(context))
    inner_od = sized.inside_mm() + 2 * context.section.thickness_mm
    inner = sized.draw(BlankSpec(name="inner", title="inner band", role="inner", outside_mm=inner_od))
    under = inner_band(inner_od, order.inner_measured_od_mm)
    blanks, unders, shapes = [inner], [], [rings.band(context.target.inside_mm / 2, under.outside_mm / 2)]
    sections = [(context.section, 0.0)]
    below = "the inner band"
    for i, layer in enumerate(order.outer):
        blanks.append(_sleeve(context, order, i, under, below))
        outside = blanks[-1].outside_mm
        shapes.append(
            rings.band(under.outside_mm / 2, outside / 2, f"outer-{i + 1}", "second" if i % 2 == 0 else "metal")
        )
        sections.append((blanks[-1].section, (under.outside_mm - context.target.inside_mm) / 2))
        unders.append(under)
        under = inner_band(outside, layer.measured_od_mm, f"outer.{i}.measured_od_mm")
        below = blanks[-1].title
    total = (under.outside_mm - context.target.inside_mm) / 2
    over = ": the outer band goes over the inner"
    return assemble(
        STYLE,
        sized,
        blanks,
        Told(
            title=f"stack of {len(blanks)}",
            ring=drawing(shapes, [rings.joint(context.target.inside_mm / 2, under.outside_mm / 2)]),
            across=radial(sections),
            figures=_sleeve_figures(context, unders, total),
            thumbs=(thumb(context, "the finger's length again", sized.formed_mm, blanks[1].formed_length_mm, over),),
            facts=_facts(context, "", *flux_of(context.metal)),
        ),
        StackFields(under=tuple(unders)),
        joints=_sleeve_seams(blanks, unders),
    )


def _sleeve(context: RingContext, order: StackRequest, i: int, under: InnerBand, below: str) -> Blank:
    """An outer band over what is under it."""
    layer = order.outer[i]
    section = section_of(layer.stock, f"outer.{i}.stock")
    check_thickness(section, context.target, f"outer.{i}.stock")
    spec = BlankSpec(
        name=f"outer-{i + 1}",
        title="outer band" if len(order.outer) == 1 else f"outer band {i + 1}",
        role="outer",
        section=section,
        outside_mm=under.outside_mm + layer.fit_mm + 2 * section.thickness_mm,
        waits=under.waits(below),
    )
    return side_blank(context, over_terms(context, under.outside_mm, below, layer.fit_mm, section), spec)


def _sleeve_seams(blanks: list[Blank], unders: list[InnerBand]) -> list[Seam]:
    around = sum(2 * math.pi * under.outside_mm for under in unders)
    return [*_joints(blanks), Seam("together", "the bands to one another", around, 2)]


def _joints(blanks: list[Blank]) -> list[Seam]:
    """Each band's own joint, in the first heat."""
    return [
        Seam(blank.name, f"the joint of the {blank.title}", blank.section.width_mm, 1, blank.section.area_mm2)
        for blank in blanks
    ]


def _sleeve_figures(context: RingContext, unders: list[InnerBand], total: float) -> tuple[Figure, ...]:
    out = []
    for i, under in enumerate(unders, start=1):
        why = "as measured" if under.measured else "planned until it is measured"
        out.append(length_figure(context, f"under-{i}", f"under band {i}", under.outside_mm, ".2f", why))
    return (*out, length_figure(context, "total", "thick in all", total, ".2f", "all bands over one another"))


def _sandwich(order: StackRequest) -> StackPlan:
    other = finished_metal(order)
    for i, layer in enumerate(order.outer):
        if layer.fit_mm:
            said = "A band beside a ring has nothing to fit over."
            raise UnreadableError(f"outer.{i}.fit_mm", said, "Leave it out.")
    sections = [section_of(layer.stock, f"outer.{i}.stock") for i, layer in enumerate(order.outer)]
    finished = section_of(order.stock)
    # the finished ring's own size is the target: what a wide band wears tighter is in it already
    order = replace(order, wide=False)
    order = replace(order, seam_solders=(*together(order, other), *order.seam_solders))
    flanks = []
    for layer, section in zip(order.outer, sections, strict=True):
        like = ring_context(order, STYLE.leave, section, slope_of(layer.stock))
        flanks.append(size(like, length_model(like)))
    sized, context = flanks[0], flanks[0].context
    blanks = [_flank(flank, n) for n, flank in enumerate(flanks, start=1)]
    around = math.pi * (context.target.inside_mm + finished.thickness_mm)
    seams = _joints(blanks)
    seams.append(Seam("together", "the bands to the finished ring", around * len(blanks), 2))
    solder = joints_of(context.metal, seams, context.book, order.seam_solders)[-1]
    inner = context.target.inside_mm / 2
    thickest = max([finished, *sections], key=lambda section: section.thickness_mm)
    wide = finished.width_mm + sum(section.width_mm for section in sections)
    tighter = "along the finger: it will wear tighter"
    margin = margin_words(other.title, other.solidus_c, solder)
    return assemble(
        STYLE,
        sized,
        blanks,
        Told(
            title=f"{len(blanks)} band{'s' if len(blanks) > 1 else ''} beside a finished ring",
            summary=f"{context.metal.title} beside {other.title}",
            ring=drawing([rings.band(inner, inner + thickest.thickness_mm)]),
            across=beside(finished, sections),
            figures=(length_figure(context, "wide", "wide in all", wide, ".2f", tighter),),
            warnings=melting(other.title, other.solidus_c, solder),
            facts=_facts(context, margin, *flux_of(context.metal, other), sandwich=True),
            start=start_of(context, blanks) | {"finished": _finished(other, finished, context.target.inside_mm)},
            over=_sizes_of(blanks, flanks),
        ),
        StackFields(under=()),
        joints=seams,
    )


def _sizes_of(blanks: Sequence[Blank], flanks: Sequence[Sized]) -> dict[str, dict[str, Any]]:
    """Where each band closes and how it comes to its size, by its name."""
    return {
        blank.name: size_facts(
            flank.context, flank.closing, sizing_of(flank.context, flank.closing, "plain"), flank.own_mm
        )
        for blank, flank in zip(blanks, flanks, strict=True)
    }


def _facts(
    context: RingContext, margin: str, flux: bool, no_flux: bool, *, sandwich: bool = False, seat: Seat | None = None
) -> StackFacts:
    """What the route of a stack says: sleeves where it is no sandwich and no seat."""
    of, units = seat or Seat(0.0, 0.0, 0.0, 0.0, 0.0, 0.0, 0.0), context.used.units
    return StackFacts(
        margin=margin,
        sleeves=not sandwich and seat is None,
        sandwich=sandwich or seat is not None,
        flux_together=flux,
        no_flux_together=no_flux,
        flanked=sandwich,
        seat=seat is not None,
        weighed=seat is None,
        seat_inside=Length(of.inside_mm, units, ".2f"),
        step=Length(of.step_mm, units, ".2f"),
        half_step=Length(of.step_mm / 2, units, ".2f"),
        step_deep=Length(of.deep_mm, units, ".2f"),
        sleeve_left=Length(of.sleeve_mm, units, ".2f"),
        shoulder=Length(of.shoulder_mm, units, ".2f"),
        step_mm3=of.filed_mm3,
    )


def _seated(order: StackRequest) -> StackPlan:
    """A finished ring that rides on a step of two sleeves."""
    other = finished_metal(order)
    if order.outer:
        raise UnreadableError("outer.0.stock", "The two sleeves are said by their stock.", "Leave other bands out.")
    order = replace(order, seam_solders=(*together(order, other), *order.seam_solders))
    section = section_of(order.stock)
    both = replace(section, width_mm=2 * section.width_mm)  # they meet: the finger feels them as one band
    context = replace(ring_context(order, STYLE.leave, both, slope_of(order.stock)), section=section)
    sized = size(context, length_model(context))
    seat = seat_of(SeatAsked(order.sleeve_mm, order.shoulder_high_mm, order.step_mm, order.finished_inside_mm),
                   section, sized.inside_mm())  # fmt: skip
    outside = sized.inside_mm() + 2 * section.thickness_mm
    blanks = [
        sized.draw(
            BlankSpec(name=f"sleeve-{n}", title=f"sleeve {n}", role="outer", section=section, outside_mm=outside)
        )
        for n in (1, 2)
    ]
    meet = math.pi * (context.target.inside_mm + seat.sleeve_mm)
    seams = [*_joints(blanks), Seam("together", "the sleeves to one another, under the finished ring", meet, 2)]
    solder = joints_of(context.metal, seams, context.book, order.seam_solders)[-1]
    margin = margin_words(other.title, other.solidus_c, solder)
    inner = context.target.inside_mm / 2
    rides = section_of(Stock(profile="rectangle", width_mm=seat.step_mm, thickness_mm=max(seat.deep_mm, 0.3)))
    return assemble(
        STYLE,
        sized,
        blanks,
        Told(
            title="two sleeves for a finished ring to ride on",
            summary=f"{context.metal.title} under {other.title}",
            ring=drawing([rings.band(inner, inner + seat.sleeve_mm),
                          rings.band(inner + seat.sleeve_mm, inner + section.thickness_mm, "rides", "second")]),
            across=seat_across(section, seat),
            figures=seat_figures(context, seat, section),
            warnings=melting(other.title, other.solidus_c, solder),
            facts=_facts(context, margin, *flux_of(context.metal, other), seat=seat),
            start=start_of(context, blanks) | {"finished": _finished(other, rides, seat.inside_mm)},
            over=_sizes_of(blanks, [sized, sized]),
        ),
        StackFields(under=(), seat=seat),
        joints=seams,
    )  # fmt: skip


def _finished(metal: Metal, section: Section, inside_mm: float) -> Piece:
    """The finished ring as it comes: round at its own inside [mm], of its own metal."""
    piece = stock_piece(metal.key, section, math.pi * (inside_mm + 2 * section.neutral_mm))
    return piece.with_(shape="round", faces=Faces(*("finished",) * 3))


def _flank(sized: Sized, n: int) -> Blank:
    """A band beside the finished ring."""
    section = sized.context.section
    outside = sized.context.target.inside_mm + 2 * section.thickness_mm
    spec = BlankSpec(name=f"flank-{n}", title=f"flanking band {n}", role="outer", section=section, outside_mm=outside)
    return sized.draw(spec)


STYLE = Style(
    key="stack",
    title="stack",
    request=StackRequest,
    plan=plan_stack,
    answer=StackPlan,
    leave="small",
    sizing="plain",
    route="stack",
    first=Stock(profile="rectangle", width_mm=5.0, thickness_mm=1.0),
    stock_says="begun with",
    overrides_from_measures={
        **STOCK_OVERRIDES,
        "outside": "inner_measured_od_mm",
        "stock-thickness@outer-{n}": "outer.{n}.stock.thickness_mm",
        "stock-width@outer-{n}": "outer.{n}.stock.width_mm",
        "outside@outer-{n}": "outer.{n}.measured_od_mm",
        "stock-thickness@flank-{n}": "outer.{n}.stock.thickness_mm",
        "stock-width@flank-{n}": "outer.{n}.stock.width_mm",
        "inside-finished-ring": "size",
        "stock-thickness@sleeve-{n}": "stock.thickness_mm",
        "stock-width@sleeve-{n}": "stock.width_mm",
        "inside-riding-ring": "finished_inside_mm",
    },
    aliases=("sleeves", "sandwich"),
    words=(
        FieldSpec(
            "arrangement",
            "Arrangement",
            "as",
            kind="choice",
            first="sleeves",
            choices=tuple(Option(key, title) for key, title in ARRANGEMENTS.items()),
        ),
        FieldSpec(
            "finished_metal",
            "Metal of the finished ring",
            "of",
            kind="metal",
            first="gold-18k-yellow",
            when="arrangement=sandwich|arrangement=seat",
        ),
        FieldSpec("step_mm", "Width of the step", ", its step", "{mm} wide,", first=3.2, when="arrangement=seat"),
        FieldSpec(
            "sleeve_mm", "Sleeve under the step", "", "{mm} of sleeve under it,", first=0.9, when="arrangement=seat"
        ),
        FieldSpec("shoulder_high_mm", "Shoulder", "shoulders", "{mm} high", first=0.7, when="arrangement=seat"),
        FieldSpec(
            "finished_inside_mm",
            "Inside of the finished ring",
            ", inside",
            "{mm}",
            placeholder="to be made so",
            when="arrangement=seat",
        ),
        FieldSpec(
            field="outer",
            label="Outer bands",
            before="; then",
            kind="list",
            parts=(
                PartSpec("stock", "Stock of the band", kind="stock", first=SLEEVE),
                PartSpec("fit_mm", "Fit", ", fitted at", "{mm}", "signed", 0.0, when="arrangement=sleeves"),
            ),
            most=MOST_OUTER,
            when="arrangement=sleeves|arrangement=sandwich",
        ),
    ),
    facts=StackFacts,
)
