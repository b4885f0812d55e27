"""How far a person's own hand scatters in cutting, learnt from work: leaning on the table until there is enough."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass

from ringcraft.learning.causes import CUT_SD_MM

PRIOR_CUTS, LEAST_CUTS = 10, 20
SAME_MM = 0.01  # nearer to what is in force, nothing is offered


@dataclass(frozen=True)
class Hand:
    """A person's scatter in cutting [mm]: from how many cuts, and whether it is offered as their setting."""

    n: int
    sd_mm: float
    in_force_mm: float
    suggest: bool


def hand_of(offs_mm: Sequence[float], in_force_mm: float, least: int = LEAST_CUTS, same_mm: float = SAME_MM) -> Hand:
    """A person's scatter from how far their cuts were off [mm].

    sqrt((10 x 0.15^2 + sum of squares) / (10 + n)): the table counts as ten cuts. Offered from so many on, at least,
    where it differs from what is in force by more than ``same_mm``.
    """
    n = len(offs_mm)
    sd = math.sqrt((PRIOR_CUTS * CUT_SD_MM**2 + math.fsum(off**2 for off in offs_mm)) / (PRIOR_CUTS + n))
    return Hand(n, sd, in_force_mm, n >= least and abs(sd - in_force_mm) > same_mm)
