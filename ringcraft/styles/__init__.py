"""Every style of ring is one entry here: its request, its plan, its route."""

from __future__ import annotations

from typing import Annotated, Any, Union

from pydantic import Discriminator, TypeAdapter

from ringcraft.border import read_request
from ringcraft.errors import BadRequest, CraftError, UnknownNameError
from ringcraft.planning.request import RingRequest
from ringcraft.styles import plain_band
from ringcraft.styles.base import RingPlan, Style

STYLES: dict[str, Style] = {style.key: style for style in (plain_band.STYLE,)}


def _request_type() -> Any:
    kinds = tuple(style.request for style in STYLES.values())
    return Annotated[Union[kinds], Discriminator("style")] if len(kinds) > 1 else kinds[0]  # noqa: UP007


AnyRing = _request_type()
_READER: TypeAdapter[RingRequest] = TypeAdapter(AnyRing)


def plan_ring(order: RingRequest) -> RingPlan:
    """Plan a ring of any style; raises CraftError naming the field."""
    return STYLES[order.style].plan(order)


def read_ring(data: object) -> RingRequest:
    """An order from plain JSON data; raises BadRequest with every error and its field."""
    if isinstance(data, dict):
        style = data.get("style", "plain-band")
        if not isinstance(style, str) or style not in STYLES:
            raise BadRequest(
                [UnknownNameError("style", "That style is not known here.", f"It can be {', '.join(STYLES)}.")]
            )
    return read_request(_READER, data, tags=STYLES)


def ring(data: object) -> RingPlan:
    """From plain JSON data to a plan; raises BadRequest."""
    order = read_ring(data)
    try:
        return plan_ring(order)
    except CraftError as problem:
        raise BadRequest([problem]) from None
