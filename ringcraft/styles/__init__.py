"""Every style of ring is one entry here: its request, its plan, its words, its route."""

from __future__ import annotations

from collections.abc import Mapping
from functools import reduce
from operator import or_
from typing import Annotated, Any

from pydantic import Discriminator, TypeAdapter

from ringcraft.errors import BadRequest, CraftError, UnknownNameError
from ringcraft.planning.own_steps import STEPS_WAY, steps_in
from ringcraft.planning.part_orders import PART_KEYS
from ringcraft.planning.request import RingRequest
from ringcraft.planning.ways import Ways, takes_ways
from ringcraft.routes.steps import check_route
from ringcraft.schema import IN_OWN_UNITS, read_request
from ringcraft.styles import (
    adjustable,
    channel_inlay,
    dished,
    folded,
    hollow_signet,
    patterned,
    plain_band,
    shank,
    stack,
    stamped,
    tapered,
    textured,
    wishbone,
)
from ringcraft.styles.base import RingPlan, Style
from ringcraft.work.sanity import check_plan

_MODULES = (
    plain_band,
    textured,
    patterned,
    stamped,
    wishbone,
    adjustable,
    folded,
    stack,
    channel_inlay,
    hollow_signet,
    shank,
    tapered,
    dished,
)
STYLES: dict[str, Style[Any]] = {module.STYLE.key: module.STYLE for module in _MODULES}
#: The tags of its unions, which never show in the path of a field.
TAGS = (*STYLES, *PART_KEYS)
for _style in STYLES.values():
    check_route(_style.route, _style.facts)


def _union(kinds: list[Any]) -> Any:
    return Annotated[reduce(or_, kinds), Discriminator("style")]


def _ways_of_style(order: Mapping[str, Any], ways: Ways) -> Ways:
    """How a band is left is a way with bands: a style that is usually left otherwise keeps its own. Of the shop's own
    steps only those of the style are its matter.
    """
    style = STYLES.get(order.get("style", "")) if isinstance(order.get("style"), str) else None
    if STEPS_WAY in ways:
        ways = {**ways, STEPS_WAY: steps_in(ways[STEPS_WAY], style.key if style else "")}
    if style is None or style.leave == plain_band.STYLE.leave:
        return ways
    return {path: value for path, value in ways.items() if path != "leave"}


AnyRing: Any = Annotated[
    _union([style.request for style in STYLES.values()]), IN_OWN_UNITS, takes_ways(RingRequest, _ways_of_style)
]
AnyPlan = _union([style.answer for style in STYLES.values()])
_READER: TypeAdapter[RingRequest] = TypeAdapter(AnyRing)


def plan_ring(order: RingRequest) -> RingPlan:
    """Plan a ring of any style; raises CraftError naming the field, its lengths in the order's own units."""
    try:
        plan: RingPlan = STYLES[order.style].plan(order)
        check_plan(plan, plan.closing.inside_diameter_mm)
    except CraftError as problem:
        raise problem.in_units(order.units) from None
    return plan


def read_ring(data: object) -> RingRequest:
    """An order from plain JSON data; raises BadRequest with every error and its field."""
    if isinstance(data, dict):
        style = data.get("style", "plain-band")
        if not isinstance(style, str) or style not in STYLES:
            raise BadRequest(
                [UnknownNameError("style", "That style is not known here.", f"It can be {', '.join(STYLES)}.")]
            )
        data = {**data, "style": style}
    return read_request(_READER, data, tags=TAGS)


def ring(data: object) -> RingPlan:
    """From plain JSON data to a plan; raises BadRequest."""
    order = read_ring(data)
    try:
        return plan_ring(order)
    except CraftError as problem:
        raise BadRequest([problem]) from None
