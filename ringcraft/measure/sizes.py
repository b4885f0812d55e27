"""Finger sizes: five scales, both ways, in the words people write.

Every scale is a row of ``tables/scales.toml``: a straight line from the size to the inside
diameter or circumference. A plan always goes through the inside diameter in mm.
"""

from __future__ import annotations

import math
import re
from dataclasses import dataclass
from fractions import Fraction

from ringcraft.errors import OutOfRangeError, UnknownNameError, UnreadableError
from ringcraft.reading import read_length, read_number, tidy
from ringcraft.tables import rows
from ringcraft.units import Length

LARGEST_DIAMETER_MM = 30.0  # a bare length up to here is an inside diameter
SMALLEST_CIRCUMFERENCE_MM = 35.0  # and from here an inside circumference
SMALLEST_DIAMETER_MM = 10.0
LARGEST_RING_MM = 30.0


@dataclass(frozen=True)
class Scale:
    """A finger-size scale: size n has basis first_mm + n * step_mm (diameter or circumference)."""

    key: str
    title: str
    unit: str
    prefixes: tuple[str, ...]
    basis: str
    first_mm: float
    step_mm: float
    lowest: float
    highest: float
    labels: str
    label_step: float
    fine_step: float
    source: str

    def diameter_mm(self, number: float) -> float:
        """Inside diameter [mm] of size ``number``."""
        basis = self.first_mm + number * self.step_mm
        return basis if self.basis == "diameter" else basis / math.pi

    def number(self, diameter_mm: float) -> float:
        """The size, unrounded, of an inside diameter [mm]."""
        basis = diameter_mm if self.basis == "diameter" else diameter_mm * math.pi
        return (basis - self.first_mm) / self.step_mm

    @property
    def circumference_per_size_mm(self) -> float:
        """How much inside circumference [mm] one size is."""
        return self.step_mm * (math.pi if self.basis == "diameter" else 1)

    def holds(self, number: float) -> bool:
        """Whether a size lies on the scale."""
        return self.lowest - 1e-9 <= number <= self.highest + 1e-9

    def label(self, number: float, step: float | None = None) -> str:
        """A size in words, rounded to ``step`` sizes: ``7 1/2``, ``K 1/2``, ``54.4``."""
        step = step or self.label_step
        rounded = round(number / step) * step
        if self.labels == "letters":
            return _letter_label(rounded)
        if step == 0.1:
            return f"{rounded:.1f}".removesuffix(".0")
        return _with_fraction(rounded)

    def text(self, diameter_mm: float, step: float | None = None) -> str:
        """The size of an inside diameter [mm] with the scale's name: ``US 7 1/2``."""
        number = self.number(diameter_mm)
        if not self.holds(round(number / self.label_step) * self.label_step):
            edge, side = (self.lowest, "below") if number < self.lowest else (self.highest, "above")
            return f"{side} {self.title} {self.label(edge)}"
        return f"{self.title} {self.label(number, step)}"

    def span(self) -> str:
        """The sizes that the scale holds, in words."""
        return f"{self.title} sizes run from {self.label(self.lowest)} to {self.label(self.highest)}"


SCALES: dict[str, Scale] = {
    row["key"]: Scale(**{**row, "prefixes": tuple(row["prefixes"])}) for row in rows("scales")
}
_PREFIXES = {prefix: scale.key for scale in SCALES.values() for prefix in scale.prefixes}
_PREFIX = re.compile(rf"^({'|'.join(sorted(_PREFIXES, key=len, reverse=True))})(?![a-z])[\s.:]*(?=\S)")
_LETTER = re.compile(r"^(?P<letter>[a-z])\s*(?P<plus>\+?\s*[1-6](?!\s*/|\d))?\s*(?P<rest>[\d./ ]*)$")
_SAYS_DIAMETER = re.compile(r"\b(inside diameter|inner diameter|diameter|dia\.?|id)\b|ø|⌀")
_SAYS_CIRCUMFERENCE = re.compile(r"\b(inside circumference|circumference|circ\.?|round)\b")
_LEADING_NOUGHT = re.compile(r"^0\d")  # 00 is smaller than 0, and no scale here goes so far
_UNIT_AT_END = re.compile(r"(mm|cm|in\.?|inch|inches|\")$")
_SCALE_AT_END = re.compile(rf"^(?P<size>.*\S)\s+(?P<prefix>{'|'.join(sorted(_PREFIXES, key=len))})$")


@dataclass(frozen=True)
class FingerSize:
    """A size as it was read: what it says, on which scale, and the inside it means [mm]."""

    inside_diameter_mm: float
    circumference_mm: float
    read_as: str
    text: str
    sizes: dict[str, str]
    numbers: dict[str, float]


def sizes_of(diameter_mm: float) -> dict[str, str]:
    """An inside diameter [mm] on every scale, in words."""
    return {key: scale.text(diameter_mm) for key, scale in SCALES.items()}


def finger(diameter_mm: float, read_as: str, text: str) -> FingerSize:
    """A finger size from its inside diameter [mm]; refuses what no finger has."""
    if not SMALLEST_DIAMETER_MM <= diameter_mm <= LARGEST_RING_MM:
        raise OutOfRangeError(
            "",
            "An inside diameter of {inside:.1f mm} is no finger's.",
            "Rings run from {least:g} to {most:g mm} inside.",
            inside=diameter_mm,
            least=SMALLEST_DIAMETER_MM,
            most=LARGEST_RING_MM,
        )
    return FingerSize(
        inside_diameter_mm=diameter_mm,
        circumference_mm=math.pi * diameter_mm,
        read_as=read_as,
        text=text,
        sizes=sizes_of(diameter_mm),
        numbers={key: scale.number(diameter_mm) for key, scale in SCALES.items()},
    )


def read_size(text: str, scale: str | None = None, home: str = "us", units: str = "mm") -> FingerSize:
    """A finger size from text as people write it.

    ``scale`` is the scale that bare numbers are on, strictly; ``home`` the workshop's own, which
    wins wherever a bare number could be two scales. A scale or unit in the text beats both. ``units``
    are those in which a size that was given as a length is told.
    Raises CraftError with an empty field.

    >>> read_size("K½").read_as, round(read_size("US 7 1/2").inside_diameter_mm, 3)
    ('uk', 17.729)
    >>> read_size("54").read_as, read_size("0.68 in").read_as
    ('iso', 'diameter')
    """
    plain = tidy(text)
    if not plain:
        raise UnreadableError("", "A finger size is missing.", "Write US 6 3/4, M½, 51 or 17.1 mm ID.")
    measured = _read_measured(plain, units)
    if measured is not None:
        return measured
    named, plain = _split_scale(plain)
    if plain[0].isalpha() and named in (None, "uk"):
        return _read_letter(text, plain)
    if _LEADING_NOUGHT.match(plain):
        raise UnreadableError(
            "", f"“{text.strip()}” begins with a nought that no scale has.", "Write 0, 1/2 or 6 3/4."
        )
    try:
        number = read_number(plain)
    except UnreadableError:
        raise UnreadableError(
            "", f"“{text.strip()}” is not a finger size.", "Write US 6 3/4, M½, 51 or 17.1 mm ID."
        ) from None
    key = named or scale or _guess(number, home)
    if key in SCALES and SCALES[key].labels == "letters":
        raise UnreadableError("", f"{SCALES[key].span()}: letters.", "Write M½, Z+2, or US before a number.")
    return _on_scale(number, key)


def _read_measured(plain: str, units: str) -> FingerSize | None:
    """A size given as a length: said outright, or a bare length with its unit."""
    says_id, says_round = _SAYS_DIAMETER.search(plain), _SAYS_CIRCUMFERENCE.search(plain)
    bare = _SAYS_CIRCUMFERENCE.sub(" ", _SAYS_DIAMETER.sub(" ", plain)).strip(" :=")
    if not (says_id or says_round or _UNIT_AT_END.search(bare)):
        return None
    if re.search(r"\b(ga|gauge|awg)\.?$", bare):
        return None
    mm = read_length(bare, bare=units)
    if says_id and says_round:
        raise UnreadableError("", "That says both diameter and circumference.", "Give one of them.")
    if not says_id and not says_round and LARGEST_DIAMETER_MM < mm < SMALLEST_CIRCUMFERENCE_MM:
        raise UnreadableError(
            "",
            "{read:.1f mm} is wide for a diameter and short for a circumference.",
            "Write {read:.1f mm} ID or {read:.1f mm} circumference.",
            read=mm,
        )
    as_diameter = bool(says_id) or (not says_round and mm <= LARGEST_DIAMETER_MM)
    if as_diameter:
        return finger(mm, "diameter", f"{Length(mm, units):.2f mm} inside")
    return finger(mm / math.pi, "circumference", f"{Length(mm, units):.2f mm} round inside")


def _split_scale(plain: str) -> tuple[str | None, str]:
    """The scale named before or after the size, and the rest of the text."""
    match = _PREFIX.match(plain)
    if match:
        named = _PREFIXES[match.group(1)]
        return (None if match.group(1) == "size" else named), plain[match.end() :]
    match = _SCALE_AT_END.match(plain)
    if match:
        return _PREFIXES[match.group("prefix")], match.group("size")
    return None, plain


def _read_letter(text: str, plain: str) -> FingerSize:
    match = _LETTER.match(plain)
    if match is None:
        raise UnreadableError("", f"“{text.strip()}” is not a finger size.", "Write US 6 3/4, M½, 51 or 17.1 mm ID.")
    number = float(ord(match.group("letter")) - ord("a"))
    rest, plus = match.group("rest").strip(), match.group("plus")
    if plus:
        if match.group("letter") != "z":
            raise UnreadableError("", "Only Z is followed by +1 to +6.", "Write M 1/2 or Z+2.")
        number += int(plus.strip(" +"))
    if rest:
        half = read_number(rest)
        if not 0 <= half < 1:
            raise UnreadableError("", "Between two letters is a half or a quarter.", "Write M 1/2.")
        number += half
    return _on_scale(number, "uk")


def _guess(number: float, home: str) -> str:
    """The scale of a bare number: the workshop's own if it can be, ISO where nothing else fits."""
    scale = SCALES[home]
    if scale.labels == "number" and scale.holds(number):
        return home
    if scale.labels == "letters" and SCALES["us"].holds(number):
        return "us"
    return "iso" if SCALES["iso"].holds(number) else (home if scale.labels == "number" else "us")


def _on_scale(number: float, key: str) -> FingerSize:
    if key not in SCALES:
        raise UnknownNameError("scale", f"“{key}” is not a scale known here.", f"Use {', '.join(SCALES)}.")
    scale = SCALES[key]
    if not scale.holds(number):
        hint = "Write the scale before the size, or the inside in mm."
        if SCALES["iso"].holds(number):
            hint = f"ISO {number:g} exists: write ISO {number:g}."
        raise OutOfRangeError("", f"{scale.span()}.", hint)
    told = scale.labels == "letters" or ((number * 16).is_integer() and scale.label_step != 0.1)
    label = scale.label(number, 1 / 16) if told else f"{number:g}"
    return finger(scale.diameter_mm(number), key, f"{scale.title} {label}")


def _with_fraction(value: float) -> str:
    sign, value = ("-" if value < 0 else ""), abs(value)
    whole, part = int(value), Fraction(value - int(value)).limit_denominator(64)
    if part == 0:
        return f"{sign}{whole}"
    return f"{sign}{whole} {part}" if whole else f"{sign}{part}"


def _letter_label(number: float) -> str:
    whole = math.floor(number + 1e-9)
    part = _with_fraction(number - whole) if number - whole > 1e-9 else ""
    name = f"Z+{whole - 25}" if whole > 25 else chr(ord("A") + max(whole, 0))
    return f"{name} {part}".strip()
