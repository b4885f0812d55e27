"""The head on a shank that changes its curve: the angle it spans, and how far it comes to lie off the shank."""

from __future__ import annotations

import math
from dataclasses import dataclass

from ringcraft.errors import ImpossibleSectionError
from ringcraft.resize.asking import Head


@dataclass(frozen=True)
class HeadFit:
    """The head on the new ring: ``angle_deg`` that it spans, ``lift_mm`` between its old curve and the new one.

    ``lift_mm`` is above nought where its ends stand off the tighter curve, below where its middle lifts off the wider
    one. ``span_mm`` is the chord that it keeps.
    """

    span_mm: float
    angle_deg: float
    lift_mm: float


def sagitta_mm(span_mm: float, radius_mm: float) -> float:
    """How far an arc rises over its chord [mm]: radius - sqrt(radius^2 - (chord/2)^2).

    >>> round(sagitta_mm(6.0, 5.0), 6)
    1.0
    """
    return radius_mm - math.sqrt(radius_mm**2 - (span_mm / 2) ** 2)


def head_fit(head: Head | None, before_mm: float, after_mm: float) -> HeadFit | None:
    """How a head sits after the change of inside diameter [mm]; raises ImpossibleSectionError for one too wide."""
    if head is None:
        return None
    span, narrowest = head.span_mm, min(before_mm, after_mm)
    if span >= narrowest:
        raise ImpossibleSectionError(
            "head.span_mm",
            "A head {span:.1f mm} across the inside is as wide as the ring, {inside:.1f mm}.",
            "Measure the chord that it spans at the inside.",
            span=span,
            inside=narrowest,
        )
    old, new = before_mm / 2, after_mm / 2
    return HeadFit(
        span_mm=span,
        angle_deg=math.degrees(2 * math.asin(span / 2 / new)),
        lift_mm=sagitta_mm(span, new) - sagitta_mm(span, old),
    )
