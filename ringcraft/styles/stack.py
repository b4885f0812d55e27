"""Rings over and beside one another: sleeves round an inner band, or two bands flanking a finished ring."""

from __future__ import annotations

import math
from dataclasses import dataclass, replace
from typing import Literal

from ringcraft.drawing import rings
from ringcraft.drawing.paths import line, shifted
from ringcraft.drawing.shapes import Drawing, Shape, drawing
from ringcraft.errors import ImpossibleSectionError, OutOfRangeError, UnreadableError
from ringcraft.metals import METALS, UNKNOWN_METAL, Metal
from ringcraft.planning.blank import Blank, BlankSpec
from ringcraft.planning.context import RingContext, check_thickness, length_model, ring_context, slope_of
from ringcraft.planning.inner_band import InnerBand, inner_band
from ringcraft.planning.joints import CLOSE_C, Joint, Seam, joints_of, solder_book
from ringcraft.planning.made import SeamSolder
from ringcraft.planning.request import RingRequest
from ringcraft.planning.sizing import sizing_of
from ringcraft.planning.terms import over_terms
from ringcraft.routes.building import size_facts, start_of
from ringcraft.routes.facts import StyleFacts
from ringcraft.schema import PositiveMm, SignedMm, name_of, request
from ringcraft.sections import Section, Stock, section_of
from ringcraft.styles.base import STOCK_OVERRIDES, Figure, OwnFields, RingPlan, Style
from ringcraft.styles.build import Sized, Told, assemble, length_figure, side_blank, size, thumb
from ringcraft.vbench.pieces import Faces, Piece, stock_piece
from ringcraft.work.fields import FieldSpec, Option, PartSpec

MOST_OUTER = 5
USUAL_FIT_MM = -0.05
SLEEVE = Stock(profile="rectangle", width_mm=3.0, thickness_mm=1.2)  # what a new order begins with
WELL_C = 30.0  # that a solder flows below where the first of the metals melts; our own judgement
TIGHTEST_MM, LOOSEST_MM = -0.3, 0.3  # of diameter: driven on harder it splits, looser it rattles; our own judgement
ARRANGEMENTS = {"sleeves": "sleeves over an inner band", "sandwich": "bands beside a finished ring"}
#: What a finished ring is made of: nobody may know it yet.
FinishedKey = name_of(
    "metal", {**METALS, UNKNOWN_METAL: "unknown"}, {metal.title: key for key, metal in METALS.items()}
)
ArrangementKey = name_of("way to stack", ARRANGEMENTS)


@request
class Layer:
    """One outer band: its stock, its fit over what is under it [mm of diameter], its outside as measured [mm]."""

    stock: Stock
    fit_mm: SignedMm = 0.0
    measured_od_mm: PositiveMm | None = None


@request
class StackRequest(RingRequest):
    """The order of a stack. For sleeves ``stock`` is the inner band; for a sandwich it is the finished ring's."""

    style: Literal["stack"] = "stack"
    outer: tuple[Layer, ...] = ()
    arrangement: ArrangementKey = "sleeves"
    inner_measured_od_mm: PositiveMm | None = None
    finished_metal: FinishedKey | None = None


@dataclass(frozen=True, kw_only=True)
class StackFields(OwnFields):
    """What a stack answers beside every plan; ``under`` is what each outer band goes over, inner first."""

    under: tuple[InnerBand, ...]


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


def plan_stack(order: StackRequest) -> StackPlan:
    """Plan a stack; raises CraftError naming the field."""
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
            across=_radial(sections),
            figures=_sleeve_figures(context, unders, total),
            thumbs=(thumb(context, "the finger's length again", sized.formed_mm, blanks[1].formed_length_mm, over),),
            facts=StackFacts("", True, False, *_flux(context.metal)),
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


def _radial(sections: list[tuple[Section, float]]) -> Drawing:
    """A cut across the stack: each section standing on what is under it."""
    return drawing(
        [
            Shape(f"band-{i}", "second" if i % 2 else "metal", (shifted(line(*_points(section)), 0, up),))
            for i, (section, up) in enumerate(sections)
        ]
    )


def _points(section: Section) -> list[tuple[float, float]]:
    return [(x, y) for x, y in section.outline]


def _sandwich(order: StackRequest) -> StackPlan:
    if order.finished_metal is None:
        raise UnreadableError("finished_metal", "What is the finished ring made of?", "Its melting point decides.")
    for i, layer in enumerate(order.outer):
        if layer.fit_mm:
            said = "A band beside a ring has nothing to fit over."
            raise UnreadableError(f"outer.{i}.fit_mm", said, "Leave it out.")
    sections = [section_of(layer.stock, f"outer.{i}.stock") for i, layer in enumerate(order.outer)]
    finished = section_of(order.stock)
    # the finished ring's own size is the target: what a wide band wears tighter is in it already
    if order.finished_metal == UNKNOWN_METAL:
        said = "Nobody knows what the finished ring is made of: test it first, mark, magnet and touch."
        raise UnreadableError("finished_metal", said, "Then say what it is: its melting point decides the solder.")
    other, order = METALS[order.finished_metal], replace(order, wide=False)
    order = replace(order, seam_solders=(*_together(order, other), *order.seam_solders))
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
    margin = _margin_words(other.title, other.solidus_c, solder)
    return assemble(
        STYLE,
        sized,
        blanks,
        Told(
            title=f"{len(blanks)} band{'s' if len(blanks) > 1 else ''} beside a finished ring",
            summary=f"{context.metal.title} beside {other.title}",
            ring=drawing([rings.band(inner, inner + thickest.thickness_mm)]),
            across=_beside(finished, sections),
            figures=(length_figure(context, "wide", "wide in all", wide, ".2f", tighter),),
            warnings=_melting(other.title, other.solidus_c, solder),
            facts=StackFacts(margin, False, True, *_flux(context.metal, other)),
            start=start_of(context, blanks) | {"finished": _finished(order, context, finished)},
            over={
                blank.name: size_facts(
                    flank.context, flank.closing, sizing_of(flank.context, flank.closing, "plain"), flank.own_mm
                )
                for blank, flank in zip(blanks, flanks, strict=True)
            },
        ),
        StackFields(under=()),
        joints=seams,
    )


def _flux(*metals: Metal) -> tuple[bool, bool]:
    """Whether any of the metals that are heated together is soldered under flux, and whether none is."""
    fluxed = any(metal.of_family.fluxed for metal in metals)
    return fluxed, not fluxed


def _together(order: StackRequest, other: Metal) -> tuple[SeamSolder, ...]:
    """The solder that joins bands to a finished ring: the lowest solidus of all that is heated rules.

    Of the series of the metal that melts first, below its own grade, the highest that flows well below; where only
    makers' sheets know, a grade below its own.
    """
    bands, book = METALS[order.metal], solder_book(order.solders)
    lowest = min((bands, other), key=lambda metal: order.own.metal(metal).solidus_c)
    solidus, own = order.own.metal(lowest).solidus_c, book[lowest.solder]
    lower = [one for one in book.values() if one.series == own.series and one.rank > own.rank]
    lower.sort(key=lambda one: one.rank)
    well = [one for one in lower if one.flows_c is not None and solidus - one.flows_c >= WELL_C]
    if lowest is bands and not (lower and lower[0].flows_c is not None and lower[0] not in well):
        return ()  # the ladder of the bands does
    chosen = well or lower[:1]
    return tuple(SeamSolder(joint="together", solder=one.key) for one in chosen[:1])


def _finished(order: StackRequest, context: RingContext, section: Section) -> Piece:
    """The finished ring as it comes: round at the size, of its own metal."""
    around = math.pi * (context.target.inside_mm + 2 * section.neutral_mm)
    piece = stock_piece(str(order.finished_metal or order.metal), section, around)
    return piece.with_(shape="round", faces=Faces(*("finished",) * 3))


def _flank(sized: Sized, n: int) -> Blank:
    """A band beside the finished ring."""
    section = sized.context.section
    outside = sized.context.target.inside_mm + 2 * section.thickness_mm
    spec = BlankSpec(name=f"flank-{n}", title=f"flanking band {n}", role="outer", section=section, outside_mm=outside)
    return sized.draw(spec)


def _margin_words(title: str, solidus_c: float, solder: Joint) -> str:
    if solder.flows_c is None:
        return f"The finished {title} begins to melt at {solidus_c:.0f} °C: the solder's sheet must say well below."
    margin = solidus_c - solder.flows_c
    return (
        f"The finished {title} begins to melt at {solidus_c:.0f} °C, {margin:.0f} above where the "
        f"{solder.solder_title} flows."
    )


def _melting(title: str, solidus_c: float, solder: Joint) -> tuple[str, ...]:
    """Refuse a solder that flows where the finished ring melts; warn where it comes near or nobody knows."""
    if solder.flows_c is None:
        return (_margin_words(title, solidus_c, solder),)
    margin = solidus_c - solder.flows_c
    if margin <= 0:
        raise ImpossibleSectionError(
            "finished_metal",
            f"{title} begins to melt at {solidus_c:.0f} °C, the {solder.solder_title} flows at {solder.flows_c:.0f}.",
            "Use bands whose solder flows well below, or rivet them.",
        )
    return (_margin_words(title, solidus_c, solder) + " Watch it.",) if margin < CLOSE_C else ()


def _beside(finished: Section, sections: list[Section]) -> Drawing:
    """A cut along the finger: the finished ring in the middle, its bands in turn to the left and to the right."""
    shapes = [Shape("finished", "second", (line(*_points(finished)),))]
    reach = [finished.width_mm / 2, finished.width_mm / 2]
    for i, section in enumerate(sections):
        side, sign = i % 2, 1 if i % 2 else -1
        at = sign * (reach[side] + section.width_mm / 2)
        reach[side] += section.width_mm
        shapes.append(Shape(f"flank-{i + 1}", "metal", (shifted(line(*_points(section)), at, 0),)))
    return drawing(shapes)


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
            when="arrangement=sandwich",
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
        ),
    ),
    facts=StackFacts,
)
