"""What five views of a joint come to: one gap with its kind."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Literal

from ringcraft.joint.asking import JointRequest, Views
from ringcraft.sections import Section

Wedge = Literal["", "out", "in", "across"]
CLOSED = ("none", "light")


@dataclass(frozen=True)
class Seen:
    """A joint as it is seen: ``wedges`` are the ways in which its gap is one, ``parallel`` whether any light is even.

    ``gap_mm`` is its widest place [mm], ``limit_mm`` what the metal bears; ``unmeasured``: a gap is seen and no width
    was told.
    """

    wedges: tuple[Wedge, ...]
    parallel: bool
    light: bool
    gap_mm: float
    limit_mm: float
    unmeasured: bool

    @property
    def is_wedge(self) -> bool:
        """Whether its faces are not parallel."""
        return bool(self.wedges)

    @property
    def is_open(self) -> bool:
        """Whether it is an even gap that no solder of this metal bridges."""
        return not self.wedges and (self.gap_mm > self.limit_mm or (self.parallel and self.unmeasured))


def seen(order: JointRequest, limit_mm: float) -> Seen:
    """What the views and the gap come to. Light alone lies under the metal's limit, unless a wider gap was measured.

    Where the two sides differ the gap is a wedge across the width, and so it is where a view across shows one.
    """
    views = order.views
    all_views = (views.side, views.other_side, views.top, views.under, views.inside)
    wedges = _wedges(views)
    shows = bool(wedges) or "parallel" in all_views
    return Seen(
        wedges=wedges,
        parallel="parallel" in all_views,
        light="light" in all_views,
        gap_mm=order.gap_mm,
        limit_mm=limit_mm,
        unmeasured=shows and order.gap_mm <= 0,
    )


def _wedges(views: Views) -> tuple[Wedge, ...]:
    sides: list[str] = ["none" if one in CLOSED else one for one in (views.side, views.other_side)]
    across: list[str] = [views.top, views.under, views.inside]
    out: list[Wedge] = []
    if sides[0] == sides[1] and sides[0] in ("wedge-out", "wedge-in"):
        out.append("out" if sides[0] == "wedge-out" else "in")
    if sides[0] != sides[1] or any(one.startswith("wedge") for one in across):
        out.append("across")
    return tuple(out)


def file_share(wedge: Wedge, section: Section) -> float:
    """How much of a wedge's gap is lost along the neutral line when it is filed true [-].

    The faces become parallel where they touch by now: an edge that touches inside loses the whole gap there and
    nothing outside, so a wedge open outside costs g (1 - e/t), one open inside g e/t, one across the width half.
    """
    low = section.neutral_mm / section.thickness_mm
    return {"out": 1 - low, "in": low, "across": 0.5, "": 0.0}[wedge]


def file_mm(one: Seen, section: Section) -> float:
    """What the file takes to make the faces parallel [mm], along the neutral line; the worse of two wedges."""
    return one.gap_mm * max((file_share(wedge, section) for wedge in one.wedges), default=0.0)
