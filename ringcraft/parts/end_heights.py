"""End heights: both ends of an open shank brought to one height before a top, measured, never under the floor."""

from __future__ import annotations

from dataclasses import dataclass

from ringcraft.errors import OutOfRangeError, UnreadableError
from ringcraft.parts.base import Host, MadePart, PartFacts, PartKind, length_figure
from ringcraft.planning.context import RingContext
from ringcraft.planning.part_orders import EndHeightsOrder
from ringcraft.units import Length

EVEN_MM = 0.01  # nearer than this two ends are one height
MOST_MM = 15.0


@dataclass(frozen=True, kw_only=True)
class EndHeightsFacts(PartFacts):
    """What the steps of levelling two ends say."""

    level: Length
    floor: Length
    left_end: Length
    right_end: Length
    higher: str
    higher_off: Length
    levels: bool
    is_level: bool
    level_mm3: float


def make(context: RingContext, order: EndHeightsOrder, name: str, host: Host | None) -> MadePart:
    """Plan the levelling of two ends; raises CraftError naming its field."""
    if host is not None and host.gap_mm <= 0:
        raise UnreadableError("part", "A closed ring has no ends to level.", "Leave it open by a gap.")
    for field in ("left_mm", "right_mm", "floor_mm"):
        if getattr(order, field) > MOST_MM:
            raise OutOfRangeError(field, "No end of a shank stands so high.", "At most {most:g mm}.", most=MOST_MM)
    level = min(order.left_mm, order.right_mm)
    if level < order.floor_mm:
        lower = "left_mm" if order.left_mm < order.right_mm else "right_mm"
        raise OutOfRangeError(
            lower, "That end lies {much:.2f mm} under the floor already: filing the other down to it does not help.",
            "Roll or cut that end anew.", much=order.floor_mm - level,
        )  # fmt: skip
    off = {"left": order.left_mm - level, "right": order.right_mm - level}
    higher = max(off, key=lambda side: off[side])
    wide = host.width_mm if host else 0.0
    told, units = context.length, context.used.units
    return MadePart(
        context=context,
        blank=None,
        numbers={"level_mm": level, "left_off_mm": off["left"], "right_off_mm": off["right"],
                 "above_floor_mm": level - order.floor_mm},
        figures=(
            length_figure(context, "level", "both ends", level, f"{told(level - order.floor_mm):.2f} over the floor"),
            *([length_figure(context, "off", f"off the {higher} end", off[higher], "the other stays as it is")]
              if off[higher] > EVEN_MM else []),
        ),
        says=("Both ends to one height, measured before the top goes on.",),
        facts=EndHeightsFacts(
            level=Length(level, units, ".2f"),
            floor=Length(order.floor_mm, units, ".2f"),
            left_end=Length(order.left_mm, units, ".2f"),
            right_end=Length(order.right_mm, units, ".2f"),
            higher=higher,
            higher_off=Length(off[higher], units, ".2f"),
            levels=off[higher] > EVEN_MM,
            is_level=off[higher] <= EVEN_MM,
            level_mm3=off[higher] * wide * order.over_mm,
        ),
    )  # fmt: skip


KIND = PartKind(
    key="end-heights",
    title="end heights",
    make=make,
    route="part-end-heights",
    facts=EndHeightsFacts,
    more={"end-left": "left_mm", "end-right": "right_mm"},
)
