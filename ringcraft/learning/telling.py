"""The words of a diagnosis: the finding in a line, what no size tells apart, what to measure next."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

from ringcraft.learning.causes import NOTHING_FITS_MM, SEVERAL, TITLES, Atom, RingCase
from ringcraft.learning.weighing import Reading
from ringcraft.units import Length, capital

LEAST_SHARE = 0.005  # of the odds: what is less likely is told together with others
TELLING_BITS = 0.02
APART_MM = {"thickness": 0.05, "cut": 0.35, "size": 0.3}  # what a reading tells apart
ASKS = {"thickness": "the thickness", "cut": "the length as it was cut", "size": "the size once more"}
SAME_SUM_MM = 0.1  # round: two causes whose arithmetic no reading of the size tells apart


@dataclass(frozen=True)
class NextMeasure:
    """The one measurement to take next: how much it would tell [bits], and what it would say."""

    key: str
    title: str
    bits: float
    says: str


def odds_words(share: float) -> str:
    """How likely, as one says it."""
    if share >= 0.995:
        return "all but certain"
    if share < 0.01:
        return "hardly one in a hundred"
    return f"{100 * share:.0f} in a hundred"


@dataclass(frozen=True)
class Words:
    """The words of a finding."""

    units: str
    case: RingCase
    strip: bool

    def length(self, mm: float) -> str:
        """A length as the shop writes it."""
        return f"{Length(mm, self.units):.2f}"

    def off(self, mm: float) -> str:
        """How far off it is."""
        sides = ("long", "short") if self.strip else ("large", "small")
        return f"{self.length(abs(mm))} {sides[0 if mm > 0 else 1]}" if abs(mm) >= 0.005 else "right"

    def found(self, atom: Atom, share: float, by_key: dict[str, float], off: float) -> str:
        """The finding in one line: of a single cause, what it has with another beside it too."""
        if atom.keys == ("something-else",):
            far = f"{self.length(abs(off))} off" if abs(off) > NOTHING_FITS_MM else "that"
            return f"Nothing known here makes {far}: read its parts one by one."
        what = " and ".join(atom.titles)
        if len(atom.keys) == 1:  # what it has with another beside it too, and its other ways
            several = by_key[atom.keys[0]] - share > 0.1 * share and atom.keys[0] in SEVERAL
            what, share = TITLES[atom.keys[0]] if several else what, by_key[atom.keys[0]]
        if share >= 0.5:
            return f"{capital(what)}: {odds_words(share)}."
        return f"Nothing stands out; first {what}, {odds_words(share)}."

    def apart(self, first: Atom, second: Atom, share: float) -> str:
        """What is said of two causes that are the same sum."""
        same = abs(first.shift_mm - second.shift_mm) < SAME_SUM_MM and share > LEAST_SHARE * 4
        if not same or "scatter" in first.keys + second.keys:
            return ""
        titles = f"{' and '.join(first.titles)}, or {' and '.join(second.titles)}"
        return f"{capital(titles)}: that is the same sum. Only measuring tells them apart."

    def ask(self, one: Reading, every: Sequence[Atom], told: Sequence[int], share: Sequence[float]) -> NextMeasure:
        """The next measurement, and what it would say of the first two causes that it tells apart."""
        what = self._what(one.key)
        if one.bits < TELLING_BITS:
            return NextMeasure(one.key, ASKS[one.key], one.bits, f"{what} It would hardly tell more than is known.")
        first = told[0]
        other = next((at for at in told[1:] if abs(one.foretold[at] - one.foretold[first]) > APART_MM[one.key]), None)
        if other is None:
            return NextMeasure(one.key, ASKS[one.key], one.bits, what)
        pair = [f"{self._reads(one, at)}: {' and '.join(every[at].titles)}" for at in (first, other)]
        return NextMeasure(one.key, ASKS[one.key], one.bits, f"{what} {capital('; '.join(pair))}.")

    def _what(self, key: str) -> str:
        layer = " of the sheet it was folded from, one layer," if self.case.layer_mm else ""
        return {
            "thickness": f"Measure the thickness{layer} with the caliper.",
            "cut": "What did the blank measure when it was cut?",
            "size": "Read the size once more, on another gauge and at the middle of the band.",
        }[key]

    def _reads(self, one: Reading, at: int) -> str:
        mm = one.foretold[at]
        if one.key == "thickness":
            return f"about {self.length(self.case.sheet_mm + mm)}"
        if one.key == "cut":
            cut = (self.case.cut_mm or 0.0) + mm / self.case.round_per_cut
            return f"about {Length(cut, self.units):.1f}"
        return f"about {self.case.wanted_text}" if abs(mm) < 0.15 else f"{self.off(mm)}"
