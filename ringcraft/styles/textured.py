"""The textured band: hammered or rolled before it is formed, or hammered once it is a ring."""

from __future__ import annotations

import math
from dataclasses import dataclass, replace
from typing import Literal

from ringcraft.errors import OutOfRangeError
from ringcraft.metals import BLADES
from ringcraft.planning.blank import BlankSpec
from ringcraft.planning.context import RingContext, length_model, ring_context, slope_of
from ringcraft.planning.finished_size import deviation
from ringcraft.planning.request import RingRequest
from ringcraft.routes.building import as_bought, needs_mm
from ringcraft.routes.facts import BoughtFacts, StyleFacts
from ringcraft.schema import PositiveMm, Share, name_of, request
from ringcraft.sections import PROFILES, Stock, section_of
from ringcraft.styles.base import STOCK_OVERRIDES, Figure, OwnFields, RingPlan, Style
from ringcraft.styles.build import Growth, Sized, Told, assemble, size
from ringcraft.styles.telling import length_figure, says_of, thumb
from ringcraft.units import Length
from ringcraft.vbench.pieces import stock_piece
from ringcraft.work.fields import FieldSpec, Option

MOST_GROWTH = 0.25  # beyond it the metal was rolled down, not textured
TEXTURE_STRAIN = 0.25  # of the struck skin, whatever the whole grows by; our own judgement
READS_THICKER_MM = 0.05  # what a caliper reads too much over the high spots; our own judgement
SPARE_MM = 5.0  # taken from the stock beside what texture gives back; our own judgement
WHEN = {"before": "before it is formed", "after": "once it is soldered"}
WhenKey = name_of("time to texture it", WHEN)


@request
class TexturedRequest(RingRequest):
    """The order of a textured band. ``growth`` is the share it lengthens by; the thickness falls by the same.

    ``worked_thickness_mm``: the thickness measured after texturing, which beats the estimate.
    """

    style: Literal["textured"] = "textured"
    texture: WhenKey = "before"
    growth: Share = 0.03
    worked_thickness_mm: PositiveMm | None = None


@dataclass(frozen=True)
class Texture:
    """What texture does: the piece to take before it [mm], the thickness after it [mm], the share it grows by."""

    rough_length_mm: float
    thickness_after_mm: float
    growth: float


@dataclass(frozen=True, kw_only=True)
class TexturedFields(OwnFields):
    """What a textured band answers beside every plan."""

    texture: Texture


@dataclass(frozen=True, kw_only=True)
class TexturedPlan(TexturedFields, RingPlan):
    """The plan of a textured band."""

    style: Literal["textured"]

    def runs_along(self) -> bool:
        """A roller prints along the strip; what is hammered once it is a ring has no direction as a blank."""
        return any(deed.op == "work" for step in self.route for deed in step.does)


@dataclass(frozen=True)
class TexturedFacts(BoughtFacts, StyleFacts):
    """What the route of a textured band says beside every ring's; its stock is read before the hammer."""

    rough: Length
    growth: str
    grows_mm: float
    texture_strain: float
    before: bool
    after: bool
    reads: str | None
    needs: Length


def plan_textured(order: TexturedRequest) -> TexturedPlan:
    """Plan a textured band; raises CraftError naming the field."""
    _check(order)
    after = order.texture == "after"
    share = 1 / (1 + order.growth)
    stock = _worked(order.stock, order.worked_thickness_mm or order.stock.thickness_mm * share)
    context = ring_context(order, STYLE.leave, section_of(stock), slope_of(stock))
    turn = length_model(context, cut_per_formed=share if after else 1.0)
    around = math.pi * context.target.inside_mm + turn.adds(context.used.rule)[0]
    why = f"hammered once soldered, the ring grows by {100 * order.growth:g} %: cut that much shorter"
    sized = size(context, turn, grows=Growth("texture", "texture gives back", why) if after else None)
    cut = sized.cut_mm
    rough = cut if after else math.ceil(cut * share + SPARE_MM)
    made = Texture(rough, context.section.thickness_mm, order.growth)
    before_t = order.stock.thickness_mm
    grown = around * order.growth
    closes, length = context.target.told(_before_texture(order, context, sized)), context.length
    forgotten = 2 * math.pi * context.slope * (before_t - stock.thickness_mm) + turn.adds(context.used.rule)[0]
    raw = section_of(order.stock)
    blank = sized.draw(BlankSpec(area_mm2=raw.area_mm2) if after else BlankSpec())
    takes = max(rough + BLADES[context.used.join.blade], needs_mm(context, blank) * (1.0 if after else share))
    return assemble(
        STYLE,
        sized,
        [blank],
        Told(
            title=f"textured {context.section.title} band",
            figures=_figures(order, context, made, after),
            thumbs=(thumb(context, "thickness measured before texture", forgotten, turn.adds(context.used.rule)[0]),),
            deviations=(
                deviation(
                    context,
                    sized.closing,
                    "texture-after",
                    "textured again as a ring",
                    grown,
                    f"{100 * order.growth:g} % longer: {length(grown):.2f} round",
                ),
            ),
            says=(
                says_of(context, sized.closing.text, "Texture it, measure it, then mark and cut")
                if not after
                else says_of(context, f"{closes} and hammers out to {sized.closing.text}"),
            ),
            facts=_facts(order, sized, rough, takes, closes),
            textured=("outside",),
            start={"band": stock_piece(context.metal.key, raw, takes)},
        ),
        TexturedFields(texture=made),
    )


def _check(order: TexturedRequest) -> None:
    """Refuse what is no texture; raises OutOfRangeError."""
    if order.growth > MOST_GROWTH:
        raise OutOfRangeError("growth", "That is rolling, not texture.", f"At most {100 * MOST_GROWTH:.0f} %.")
    worked = order.worked_thickness_mm
    if worked is not None and worked > order.stock.thickness_mm + READS_THICKER_MM:
        raise OutOfRangeError(
            "worked_thickness_mm",
            "Texture does not make {before:g} into {after:g}: it thins what it lengthens.",
            "Measure over the high spots, or the stock again.",
            before=order.stock.thickness_mm,
            after=worked,
        )


def _facts(order: TexturedRequest, sized: Sized, rough: float, takes: float, closes: str) -> TexturedFacts:
    context, after = sized.context, order.texture == "after"
    return TexturedFacts(
        **vars(as_bought(context, order.stock.profile, order.stock.thickness_mm, context.section.width_mm)),
        rough=Length(rough, context.used.units, ".1f" if after else ".0f"),
        growth=f"{100 * order.growth:g}",
        grows_mm=sized.grows_mm if after else rough * order.growth,
        texture_strain=max(TEXTURE_STRAIN, order.growth),
        before=not after,
        after=after,
        reads=closes if after else None,
        needs=Length(math.ceil(10 * takes) / 10, context.used.units, ".1f"),
    )


def _before_texture(order: TexturedRequest, context: RingContext, sized: Sized) -> float:
    """The inside diameter [mm] that a ring reads before it is hammered: on stock as thick as it was bought."""
    neutral = section_of(order.stock).neutral_mm
    return (sized.trued_mm - sized.grows_mm) / math.pi - 2 * neutral


def _figures(order: TexturedRequest, context: RingContext, made: Texture, after: bool) -> tuple[Figure, ...]:
    taken = "cut to length first: it is textured as a ring" if after else "from the stock: texture lengthens it"
    measured = order.worked_thickness_mm is not None
    thinner = f"{context.length(order.stock.thickness_mm):g} less what went into the length"
    return (
        length_figure(context, "rough", "take", made.rough_length_mm, ".1f", taken),
        length_figure(
            context,
            "thickness",
            "t after texture",
            made.thickness_after_mm,
            ".2f",
            "as measured" if measured else thinner,
        ),
    )


def _worked(stock: Stock, thickness_mm: float) -> Stock:
    """The stock at its thickness after texture: its straight sides come down with it."""
    side = None if stock.side_mm is None else stock.side_mm * thickness_mm / stock.thickness_mm
    profile = PROFILES[stock.profile]
    width = stock.thickness_mm if profile.equal_sided else stock.width_mm
    return replace(
        stock, profile=profile.worked or profile.key, thickness_mm=thickness_mm, width_mm=width, side_mm=side
    )


STYLE = Style(
    key="textured",
    title="textured band",
    request=TexturedRequest,
    plan=plan_textured,
    answer=TexturedPlan,
    leave="small",
    route="textured",
    first=Stock(profile="rectangle", width_mm=5.0, thickness_mm=1.6),
    overrides_from_measures={**STOCK_OVERRIDES, "thickness-worked": "worked_thickness_mm"},
    aliases=("hammered", "texture"),
    words=(
        FieldSpec(
            "texture",
            "Texture it",
            "textured",
            kind="choice",
            first="before",
            choices=tuple(Option(key, title) for key, title in WHEN.items()),
        ),
        FieldSpec("growth", "Growth", "which lengthens it by", "", "number", "3 %", short=("growth",)),
    ),
    facts=TexturedFacts,
)
