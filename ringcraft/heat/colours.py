"""The colour of heat, by named steps."""

from __future__ import annotations

from dataclasses import dataclass

from ringcraft.tables import rows


@dataclass(frozen=True)
class Glow:
    """One step of the scale of glowing colours: from which temperature [C], how it is drawn in either theme."""

    key: str
    title: str
    from_c: float
    paper: str
    dim: str
    source: str


GLOWS: tuple[Glow, ...] = tuple(Glow(**row) for row in rows("heat-colours"))


def glow_at(temperature_c: float) -> Glow:
    """The colour that metal has in a dim room.

    >>> glow_at(20).title, glow_at(700).title
    ('no colour', 'cherry')
    """
    return next(one for one in reversed(GLOWS) if one.from_c <= temperature_c or one is GLOWS[0])


def glow_words(low_c: float, high_c: float) -> str:
    """The colours from one temperature to another, in words."""
    low, high = glow_at(low_c), glow_at(high_c)
    return low.title if low == high else f"{low.title} to {high.title}"
