"""How much is looked at before a plan is given: counted in steps of the search, never by a clock.

The same question is answered alike on a slow machine, only later. A step is about a microsecond on the machine that
the limits were set on.
"""

from __future__ import annotations

from dataclasses import dataclass

TOTAL = 1_300_000  # steps a request: about a second and a half there


@dataclass
class Effort:
    """What is left to spend [steps]; a part of it is spent from the whole as well. ``looked`` counts ways tried."""

    left: int = TOTAL
    whole: Effort | None = None
    looked: int = 0

    def part(self, share: float) -> Effort:
        """Up to a share of a whole request's effort, as far as it is left."""
        return Effort(min(self.left, round(TOTAL * share)), self)

    def spend(self, steps: int, looked: int = 0) -> None:
        """Count some steps, and how many ways were looked at by them."""
        self.left -= steps
        self.looked += looked
        if self.whole is not None:
            self.whole.spend(steps, looked)

    @property
    def spent(self) -> bool:
        """Whether nothing is left of it."""
        return self.left <= 0


def fill_steps(items: int, bits: int) -> int:
    """What filling a room from so many items costs, its sums being so many bits [steps]."""
    return 6 + items * (1 + bits // 16_000)
