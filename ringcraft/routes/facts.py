"""The facts of a case that a route's lines are filled with: words, conditions and expected figures."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, field, replace

Expected = tuple[float | None, str]


@dataclass(frozen=True)
class Facts:
    """``words`` fill {names}, ``holds`` decide {when}, ``expected`` are figures with their text.

    ``blanks`` are the facts of each blank by its name, ``joints`` the words of each joint by its key; both lie
    over the ring's own. ``roles`` says which blanks a role has, in order.
    """

    words: Mapping[str, str]
    holds: Mapping[str, bool]
    expected: Mapping[str, Expected]
    papers: tuple[str, ...]
    blanks: Mapping[str, Facts] = field(default_factory=dict)
    joints: Mapping[str, Mapping[str, str]] = field(default_factory=dict)
    roles: Mapping[str, tuple[str, ...]] = field(default_factory=dict)

    def on(self, blank: str = "", joint: str = "") -> Facts:
        """These facts with those of a blank and of a joint over them."""
        over = self.blanks[blank] if blank else None
        words = {**self.words, **(over.words if over else {}), **(self.joints[joint] if joint else {})}
        holds = {**self.holds, **(over.holds if over else {})}
        expected = {**self.expected, **(over.expected if over else {})}
        return replace(self, words=words, holds=holds, expected=expected)
