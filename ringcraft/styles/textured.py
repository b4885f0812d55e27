"""The textured band: hammered or rolled before it is formed, or hammered once it is a ring."""

from __future__ import annotations

import math
from dataclasses import dataclass, replace
from typing import Literal

from ringcraft.border import PositiveMm, Share, name_of, request
from ringcraft.errors import OutOfRangeError
from ringcraft.planning.closing import slip
from ringcraft.planning.frame import frame_of, slope_of, turn_of
from ringcraft.planning.ledger import Term
from ringcraft.planning.request import RingRequest
from ringcraft.routes.building import as_bought
from ringcraft.sections import PROFILES, Stock, section_of
from ringcraft.styles.base import STOCK_TAKES, Figure, Option, RingPlan, Style, Word
from ringcraft.styles.build import assemble, says_of, sized_blank, thumb

MOST_GROWTH = 0.25  # beyond it the metal was rolled down, not textured
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
class TexturedPlan(RingPlan):
    """The plan of a textured band."""

    style: Literal["textured"]
    texture: Texture


def plan_textured(order: TexturedRequest) -> TexturedPlan:
    """Plan a textured band; raises CraftError naming the field."""
    if order.growth > MOST_GROWTH:
        raise OutOfRangeError("growth", "That is rolling, not texture.", f"At most {100 * MOST_GROWTH:.0f} %.")
    after = order.texture == "after"
    share = 1 / (1 + order.growth)
    stock = _worked(order.stock, order.worked_thickness_mm or order.stock.thickness_mm * share)
    frame = frame_of(order, STYLE.leave, section_of(stock), slope_of(stock))
    turn = turn_of(frame, cut_per_formed=share if after else 1.0)
    around = math.pi * frame.wanted.inside_mm + turn.adds(frame.used.rule)[0]
    why = f"hammered once soldered, the ring grows by {100 * order.growth:g} %: cut that much shorter"
    more = [Term("texture", "texture gives back", around * (share - 1), why)] if after else []
    sized = sized_blank(frame, turn, more, formed_mm=around)
    cut = sized.blank.cut_length_mm
    rough = cut if after else math.ceil(cut * share + SPARE_MM)
    made = Texture(rough, frame.section.thickness_mm, order.growth)
    before_t = order.stock.thickness_mm
    profile = PROFILES[order.stock.profile]
    bought = as_bought(profile.title, profile.key, before_t, frame.section.width_mm)
    grown = around * order.growth
    gives = grown * share / math.pi  # of inside diameter, when it is hammered as a ring
    told = frame.wanted.told(frame.wanted.inside_mm - gives)
    closes = frame.wanted.told(sized.closing.inside_diameter_mm - gives)
    return assemble(
        frame,
        STYLE,
        TexturedPlan,
        sized,
        title=f"textured {frame.section.title} band",
        figures=(
            Figure("rough", "take", rough, f"{rough:.1f}", "from the stock: texture lengthens it" if not after else
                   "cut to length first: it is textured as a ring"),
            Figure("thickness", "t after texture", made.thickness_after_mm, f"{made.thickness_after_mm:.2f}",
                   "as measured" if order.worked_thickness_mm else f"{before_t:g} less what went into the length"),
        ),
        thumbs=(thumb("thickness measured before texture", 2 * math.pi * frame.slope * (before_t - stock.thickness_mm)
                      + turn.adds(frame.used.rule)[0], turn.adds(frame.used.rule)[0]),),
        slips=(slip(frame, sized.closing, "texture-after", "textured again as a ring", grown,
                    f"{100 * order.growth:g} % longer: {grown:.2f} round"),),
        says=(says_of(frame, sized.closing.text, "Texture it, measure it, then mark and cut") if not after else
              says_of(frame, f"{closes} and hammers out to {sized.closing.text}"),),
        words={
            **bought.words,
            "rough": f"{rough:.0f}" if not after else f"{rough:.1f}",
            "growth": f"{100 * order.growth:g}",
            "before_texture": closes,
        },
        holds={"before": not after, "after": after},
        expected={**bought.expected, **({"size-round": (frame.wanted.inside_mm - gives, told)} if after else {})},
        texture=made,
    )  # fmt: skip


def _worked(stock: Stock, thickness_mm: float) -> Stock:
    """The stock at its thickness after texture: its straight sides come down with it."""
    side = None if stock.side_mm is None else stock.side_mm * thickness_mm / stock.thickness_mm
    width = stock.thickness_mm if stock.profile in ("round", "square") else stock.width_mm
    # hammered round or square wire is no longer as wide as it is thick
    profile = {"round": "oval", "square": "rectangle"}.get(stock.profile, stock.profile)
    return replace(stock, profile=profile, thickness_mm=thickness_mm, width_mm=width, side_mm=side)


STYLE = Style(
    key="textured",
    title="textured band",
    request=TexturedRequest,
    plan=plan_textured,
    answer=TexturedPlan,
    leave="small",
    route="textured",
    first={"profile": "rectangle", "width": "5", "thickness": "1.6"},
    takes={**STOCK_TAKES, "thickness-worked": "worked_thickness_mm"},
    aliases=("hammered", "texture"),
    words=(
        Word("texture", "Texture it", "textured", kind="choice", first="before",
             choices=tuple(Option(key, title) for key, title in WHEN.items())),
        Word("growth", "Growth", "which lengthens it by", "", "number", "3 %", short=("growth",)),
    ),
)  # fmt: skip
