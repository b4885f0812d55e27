"""The plain band: one straight blank, one joint."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Literal

from ringcraft.planning.context import length_model, ring_context
from ringcraft.planning.request import RingRequest
from ringcraft.schema import request
from ringcraft.sections import Stock
from ringcraft.styles.base import STOCK_OVERRIDES, RingPlan, Style
from ringcraft.styles.build import Told, assemble, size


@request
class PlainBandRequest(RingRequest):
    """The order of a plain band: nothing beside what every ring asks."""

    style: Literal["plain-band"] = "plain-band"


@dataclass(frozen=True, kw_only=True)
class PlainBandPlan(RingPlan):
    """The plan of a plain band."""

    style: Literal["plain-band"]


def plan_plain_band(order: PlainBandRequest) -> PlainBandPlan:
    """Plan a plain band; raises CraftError naming the field."""
    context = ring_context(order, STYLE.leave)
    sized = size(context, length_model(context))
    return assemble(STYLE, sized, [sized.draw()], Told(title=f"{context.section.title} band"))


STYLE = Style(
    key="plain-band",
    title="plain band",
    request=PlainBandRequest,
    plan=plan_plain_band,
    answer=PlainBandPlan,
    leave="small",
    route="plain-band",
    sizing="plain",
    first=Stock(profile="half-round", width_mm=4.0, thickness_mm=1.8),
    aliases=("band", "plain"),
    overrides_from_measures=STOCK_OVERRIDES,
)
