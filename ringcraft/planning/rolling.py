"""A bar thinned in its middle: how long it runs out to, and how far it goes between two anneals."""

from __future__ import annotations

import math
from dataclasses import dataclass

from ringcraft.sections import Section


@dataclass(frozen=True)
class Thinned:
    """How short a middle to thin [mm], how long the bar is before it, and how much thinning adds [mm]."""

    middle_before_mm: float
    bar_length_mm: float
    growth_mm: float


def thinned(bar_mm2: float, middle_mm2: float, final_mm: float, end_mm: float) -> Thinned:
    """What to start from so that thinning the middle of a bar ends at ``final_mm`` in all.

    Volume is kept: the middle before is (final - 2 end) x middle area / bar area. Source: conservation of volume.

    >>> thinned(16, 8, 62, 8)
    Thinned(middle_before_mm=23.0, bar_length_mm=39.0, growth_mm=23.0)
    """
    before = (final_mm - 2 * end_mm) * middle_mm2 / bar_mm2
    return Thinned(before, before + 2 * end_mm, final_mm - before - 2 * end_mm)


@dataclass(frozen=True)
class Stage:
    """One stage of rolling: thickness, width and whole length [mm] after it, how it strains.

    ``grows_mm`` is how much longer it runs, ``reduced`` the share of its area that has gone since the first;
    ``again``: annealed before it; ``more_follow``: another comes after it.
    """

    thickness_mm: float
    width_mm: float
    length_mm: float
    grows_mm: float
    strain: float
    reduced: float
    again: bool
    more_follow: bool


@dataclass(frozen=True)
class Rolled:
    """A bar and the middle it is thinned to, ``ends_mm`` of it left as they are, ``before_mm`` thinned.

    ``power``: the middle's area follows its thickness to this power [-]. Source: conservation of volume.
    """

    bar: Section
    middle: Section
    ends_mm: float
    before_mm: float
    power: float

    @property
    def ratio(self) -> float:
        """The middle's area over the bar's [-]."""
        return self.middle.area_mm2 / self.bar.area_mm2

    @property
    def final_mm(self) -> float:
        """The whole length it runs out to [mm]."""
        return self.ends_mm + self.before_mm / self.ratio

    def slip_mm(self, too_thin_mm: float) -> float:
        """How much longer [mm] it runs where its middle is thinned so much [mm] too far."""
        return self.before_mm / self.ratio * self.power * too_thin_mm / self.middle.thickness_mm

    def stages(self, limit: float) -> tuple[Stage, ...]:
        """The stages of rolling, each as far as the metal goes between two anneals [share of length].

        The stages are of one reduction each; thickness and width come down together.
        """
        count = max(1, math.ceil(-math.log(self.ratio) / math.log(1 + limit) - 1e-9))
        out, at = [], self.before_mm
        for n in range(1, count + 1):
            share = n / count
            now = self.before_mm / self.ratio**share
            out.append(
                Stage(
                    thickness_mm=_between(self.bar.thickness_mm, self.middle.thickness_mm, share),
                    width_mm=_between(self.bar.width_mm, self.middle.width_mm, share),
                    length_mm=self.ends_mm + now,
                    grows_mm=now - at,
                    strain=now / at - 1,
                    reduced=1 - self.ratio**share,
                    again=n > 1,
                    more_follow=n < count,
                )
            )
            at = now
        return tuple(out)


def _between(start: float, end: float, share: float) -> float:
    return float(start * (end / start) ** share)
