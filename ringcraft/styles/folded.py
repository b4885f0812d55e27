"""Folded or doubled sheet: the thickness is the sum of its layers, the commonest half to forget."""

from __future__ import annotations

import math
from dataclasses import dataclass, replace
from typing import Literal

from ringcraft.drawing.blanks import along
from ringcraft.drawing.shapes import Line
from ringcraft.errors import OutOfRangeError
from ringcraft.planning.blank import Blank, BlankSpec
from ringcraft.planning.context import LengthModel, RingContext, length_model, ring_context
from ringcraft.planning.finished_size import deviation
from ringcraft.planning.joints import Seam
from ringcraft.planning.request import RingRequest
from ringcraft.routes.building import SHEAR_MM, TEETH_BLADE_MM, as_bought, needs_mm
from ringcraft.routes.facts import BoughtFacts, StyleFacts
from ringcraft.schema import Count, PositiveMm, name_of, request
from ringcraft.sections import Stock, section_of
from ringcraft.styles.base import OwnFields, RingPlan, Style
from ringcraft.styles.build import Told, assemble, check_flat, size
from ringcraft.styles.telling import length_figure, thumb
from ringcraft.units import Length
from ringcraft.vbench.pieces import Piece, stock_piece
from ringcraft.work.fields import FieldSpec, Option

MOST_LAYERS = 6
FOLD_STRAIN = 0.5  # of each half of a fold: flat on itself the outer skin doubles, t / (2 x t/2); bending theory
LEAST_LAID, MOST_LAID = 0.6, 1.3  # of the layers together: planked thinner, or with too much solder between
EDGE_MM = 0.5  # of sheet beside the line; our own judgement
WAYS = {"folded": "folded over", "doubled": "laid one on another"}
WayKey = name_of("way to double it", WAYS)


@request
class FoldedRequest(RingRequest):
    """The order of a band of several layers; ``stock`` is one layer, ``worked_thickness_mm`` all as measured."""

    style: Literal["folded"] = "folded"
    layers: Count = 2
    doubling: WayKey = "folded"
    worked_thickness_mm: PositiveMm | None = None


@dataclass(frozen=True)
class Folded:
    """The layers together: how thick [mm], and how wide the sheet is before it is folded [mm]."""

    layers: int
    total_thickness_mm: float
    sheet_width_mm: float
    fold_lines_mm: tuple[float, ...]


@dataclass(frozen=True, kw_only=True)
class FoldedFields(OwnFields):
    """What a folded band answers beside every plan."""

    folded: Folded


@dataclass(frozen=True, kw_only=True)
class FoldedPlan(FoldedFields, RingPlan):
    """The plan of a folded band."""

    style: Literal["folded"]


@dataclass(frozen=True)
class FoldedFacts(BoughtFacts, StyleFacts):
    """What the route of a folded band says beside every ring's; its stock is read one layer thick."""

    layers: str
    sheet_width: Length
    folds: str
    folded: bool
    doubled: bool
    sheared_blank: bool
    sawn_blank: bool
    thin: bool
    alike: int
    fold_strain: float
    one_neutral: float
    section_width: Length


def sheet_width_mm(width_mm: float, thickness_mm: float, layers: int) -> float:
    """How wide a sheet [mm] must be to fold flat on itself to ``width_mm`` in so many layers.

    width = n w - (n - 1)(2 - pi/2) t: each fold is half a turn about the sheet's own face, its middle line
    pi t/2 long, and takes t of width from the two layers it joins. Source: plane geometry.

    >>> round(sheet_width_mm(6, 0.5, 2), 3)
    11.785
    """
    return layers * width_mm - (layers - 1) * (2 - math.pi / 2) * thickness_mm


def fold_lines(width_mm: float, thickness_mm: float, layers: int) -> tuple[float, ...]:
    """Where the middle of each fold lies, from one edge of the sheet [mm]."""
    first = width_mm - thickness_mm + math.pi * thickness_mm / 4
    step = width_mm - 2 * thickness_mm + math.pi * thickness_mm / 2
    return tuple(first + i * step for i in range(layers - 1))


def plan_folded(order: FoldedRequest) -> FoldedPlan:
    """Plan a band of folded sheet; raises CraftError naming the field."""
    check_flat(order, "What is folded is flat, not")
    layers, one = order.layers, order.stock.thickness_mm
    total = _total(order)
    section = section_of(replace(order.stock, thickness_mm=total))
    context = ring_context(order, STYLE.leave, section, slope=0.5)
    turn = _turn(context, layers, one, order.worked_thickness_mm is not None)
    made = _folded(order, section.width_mm, total)
    several = order.doubling == "doubled"
    sized = size(context, turn)
    wide = made.sheet_width_mm
    spec = BlankSpec(
        width_mm=wide,
        area_mm2=one * wide,
        count=layers if several else 1,
        lines=() if several else _lines(context, made),
    )
    forgotten = -2 * math.pi * 0.5 * one
    length = context.length
    blank = sized.draw(spec)
    return assemble(
        STYLE,
        sized,
        [blank],
        Told(
            title=f"band of {layers} layers",
            figures=(
                length_figure(context, "total", "thick in all", total, ".2f", f"{layers} layers of {length(one):g}"),
                length_figure(context, "sheet", "sheet wide", made.sheet_width_mm, ".2f", _width_why(order, layers)),
            ),
            thumbs=(thumb(context, "one layer counted", math.pi * one, turn.adds(context.used.rule)[0]),),
            deviations=(
                deviation(
                    context,
                    sized.closing,
                    "layer-forgotten",
                    "a layer forgotten",
                    forgotten,
                    f"π × {length(one):g} missing",
                ),
            ),
            facts=_facts(order, context, made),
            start={"band": _sheet(order, context, blank, spec)},
        ),
        FoldedFields(folded=made),
        joints=(
            Seam("layers", "the layers together", sized.exact_mm, 1, lines=layers - 1),
            Seam("joint", "the joint", section.width_mm, 2, area_mm2=section.area_mm2),
        ),
    )


def _total(order: FoldedRequest) -> float:
    """The thickness of all the layers [mm], as measured or as they come; raises OutOfRangeError."""
    layers, one = order.layers, order.stock.thickness_mm
    if not 2 <= layers <= MOST_LAYERS:
        raise OutOfRangeError("layers", f"{layers} is no doubling.", f"From 2 to {MOST_LAYERS} layers.")
    total = order.worked_thickness_mm or layers * one
    if not LEAST_LAID * layers * one <= total <= MOST_LAID * layers * one:
        raise OutOfRangeError(
            "worked_thickness_mm",
            "{layers} layers of {one:g} are not {total:g} thick.",
            "Measure all of them together.",
            layers=str(layers),
            one=one,
            total=total,
        )
    return total


def _facts(order: FoldedRequest, context: RingContext, made: Folded) -> FoldedFacts:
    one, section, several = order.stock.thickness_mm, context.section, order.doubling == "doubled"
    return FoldedFacts(
        **vars(as_bought(context, section.profile, one, section.width_mm)),
        layers=str(order.layers),
        sheet_width=Length(made.sheet_width_mm, context.used.units, ".2f"),
        folds=", ".join(f"{context.length(mm):.2f}" for mm in made.fold_lines_mm),
        folded=not several,
        doubled=several,
        sheared_blank=one <= SHEAR_MM,
        sawn_blank=one > SHEAR_MM,
        thin=one < TEETH_BLADE_MM,
        alike=order.layers if several else 1,
        fold_strain=FOLD_STRAIN,
        one_neutral=one / 2,
        section_width=Length(section.width_mm, context.used.units, ".2f"),
    )


def _sheet(order: FoldedRequest, context: RingContext, blank: Blank, spec: BlankSpec) -> Piece:
    """The sheet as it comes: one layer thick, a little wider than it is cut."""
    one = section_of(replace(order.stock, width_mm=spec.width_mm))
    piece = stock_piece(context.metal.key, one, needs_mm(context, blank), spec.count)
    return replace(
        piece, width_mm=piece.width_mm + EDGE_MM, volume_mm3=piece.volume_mm3 * (1 + EDGE_MM / piece.width_mm)
    )


def _turn(context: RingContext, layers: int, one: float, measured: bool) -> LengthModel:
    plain = length_model(context)
    said = "layers as measured" if measured else f"layers of {context.length(one):g}"

    def adds(rule: str) -> tuple[float, str]:
        mm, why = plain.adds(rule)
        return mm, f"{layers} {said} are {context.length(context.section.thickness_mm):.2f}; {why}"

    return replace(plain, adds=adds)


def _folded(order: FoldedRequest, width: float, total: float) -> Folded:
    if order.doubling == "doubled":
        return Folded(order.layers, total, width, ())
    wide = sheet_width_mm(width, order.stock.thickness_mm, order.layers)
    return Folded(order.layers, total, wide, fold_lines(width, order.stock.thickness_mm, order.layers))


def _lines(context: RingContext, made: Folded) -> list[Line]:
    long = context.target.inside_mm * math.pi
    return [along(f"fold-{i}", "fold", y, 0.0, long) for i, y in enumerate(made.fold_lines_mm, start=1)]


def _width_why(order: FoldedRequest, layers: int) -> str:
    if order.doubling == "doubled":
        return f"{layers} strips of it, soldered flat on one another"
    return "a fold takes a little less than the two layers it joins"


STYLE = Style(
    key="folded",
    title="folded band",
    request=FoldedRequest,
    plan=plan_folded,
    answer=FoldedPlan,
    leave="small",
    route="folded",
    first=Stock(profile="sheet", width_mm=5.0, thickness_mm=0.6),
    stock_says="each layer",
    overrides_from_measures={"stock-thickness": "stock.thickness_mm", "thickness-worked": "worked_thickness_mm"},
    aliases=("doubled", "doubled band"),
    words=(
        FieldSpec("layers", "Layers", "in", "layers", "count", "2", short=("layers",)),
        FieldSpec(
            "doubling",
            "Doubling",
            kind="choice",
            first="folded",
            choices=tuple(Option(key, title) for key, title in WAYS.items()),
        ),
    ),
    facts=FoldedFacts,
)
