"""The one way out for a length: how a figure in mm is written for a shop that works in millimetres or in inches.

Inside ringcraft every length is a float in mm. Where one becomes text it passes through here: in a millimetre shop it
stands bare, as benches write it, unless its label is asked for; in an inch shop it always carries its inch mark, so
that no figure on a sheet can be read in the other unit.
"""

from __future__ import annotations

import re
from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass
from datetime import date
from fractions import Fraction

INCH_MM = 25.4  # exact: international inch, 1959
UNITS = {"mm": "millimetres", "in": "inches"}
FINEST = 64  # of an inch: the finest a steel rule is cut to
INCH_MARK = "\u2033"
MONTHS = (
    "January", "February", "March", "April", "May", "June", "July", "August", "September", "October", "November",
    "December",
)  # fmt: skip
_FIGURES = {2: ("mm²", "in²"), 3: ("mm³", "in³")}
_PLACEHOLDER = re.compile(r"\{(?P<name>[a-z_0-9]+)(?::(?P<spec>[^{}]*))?\}")


def format_length(length_mm: float, units: str, places: int = 2) -> str:
    """A length [mm] as a bare figure that stands beside its unit: mm to ``places``, inches to a thousandth.

    >>> format_length(60.3, "mm", 1), format_length(60.3, "in")
    ('60.3', '2.374')
    """
    return f"{length_mm / INCH_MM:.3f}" if units == "in" else f"{length_mm:.{places}f}"


@dataclass(frozen=True)
class Length:
    """A length [mm] on its way into a sentence; the format says how it is written in millimetres.

    ``.2f`` writes it bare, ``.2f mm`` with its label; ``g`` drops what is nought; ``spec`` is the format where
    none is given. Inches are told to a thousandth (the pattern's sign is kept) and always carry their mark.

    >>> f"{Length(1.8):.2f}", f"{Length(1.8):g mm}", f"{Length(1.8, 'in'):.2f}", f"{Length(10.16, 'in'):g}"
    ('1.80', '1.8 mm', '0.071″', '0.4″')
    """

    mm: float
    units: str = "mm"
    spec: str = "g"

    @property
    def bare(self) -> str:
        """The figure alone, as it stands beside its unit."""
        return format(self, self.spec).removesuffix(INCH_MARK)

    def __format__(self, spec: str) -> str:
        figure, _, label = (spec or self.spec).partition(" ")
        if self.units == "in":
            sign = "+" if figure.startswith("+") else ""
            told = f"{self.mm / INCH_MM:{sign}.3f}"
            if figure.lstrip("+") == "g":
                told = told.rstrip("0").rstrip(".")
            return f"{told}{INCH_MARK}"
        return format(self.mm, figure) + (f" {label}" if label else "")

    def __str__(self) -> str:
        return format(self, self.spec)


#: Writes a length [mm] in the shop's unit: ``f"{length(1.8):.2f}"``.
LengthFormat = Callable[[float], Length]


def lengths_in(units: str) -> LengthFormat:
    """How lengths are written in a shop that works in these units."""
    return lambda mm: Length(mm, units)


#: How lengths are written where nobody said otherwise.
IN_MM = lengths_in("mm")


def format_power(value: float, power: int, units: str, spec: str) -> str:
    """An area [mm2, power 2] or a volume [mm3, power 3] with its unit; inches to three figures.

    >>> format_power(16, 2, "mm", ".1f"), format_power(16, 2, "in", ".1f")
    ('16.0 mm²', '0.0248 in²')
    """
    metric, inches = _FIGURES[power]
    return f"{value / INCH_MM**power:.3g} {inches}" if units == "in" else f"{value:{spec}} {metric}"


def write_length(length_mm: float, units: str) -> str:
    """A kept length [mm] as a person would type it in a shop's field, so that reading it gives the same length.

    A length that is no whole thousandth of an inch was not typed in inches: it keeps its mm, with the label.

    >>> write_length(1.8, "mm"), write_length(1.8034, "in"), write_length(1.8, "in")
    ('1.8', '0.071', '1.8 mm')
    """
    if units == "in":
        thousandths = round(length_mm / INCH_MM * 1000)
        if abs(thousandths * INCH_MM / 1000 - length_mm) < 1e-6:
            return f"{thousandths / 1000:g}"
        return f"{_plain(length_mm)} mm"
    return _plain(length_mm)


def _plain(figure: float) -> str:
    """A figure to four decimals, without noughts at its end."""
    return f"{figure:.4f}".rstrip("0").rstrip(".")


def nearest_fraction(length_mm: float) -> str:
    """The nearest sixty-fourth of an inch, and how far the length is from it.

    >>> nearest_fraction(60.3)
    '2 3/8 in less 0.001'
    """
    inches = length_mm / INCH_MM
    near = Fraction(round(inches * FINEST), FINEST)
    whole, part = divmod(near, 1)
    said = " ".join(str(piece) for piece in (whole, part) if piece) or "0"
    off = inches - float(near)
    if abs(off) < 0.0005:
        return f"{said} in"
    return f"{said} in {'and' if off > 0 else 'less'} {abs(off):.3f}"


def words_and(names: Sequence[str]) -> str:
    """Some names in a sentence.

    >>> words_and(["pearl", "opal", "jet"])
    'pearl, opal and jet'
    """
    return " and ".join([", ".join(names[:-1]), names[-1]] if len(names) > 1 else names)


def capital(text: str) -> str:
    """A text as a sentence begins."""
    return text[:1].upper() + text[1:]


def counted(count: int, one: str, more: str = "") -> str:
    """A count with its word: 1 piece, 2 pieces, 3 passes.

    >>> counted(1, "piece"), counted(2, "piece"), counted(3, "pass", "passes")
    ('1 piece', '2 pieces', '3 passes')
    """
    return f"{count} {one if count == 1 else more or one + 's'}"


#: How temperatures are told: in degrees Celsius, or in Fahrenheit beside them.
DEGREES = {"c": "°C", "f": "°C and °F"}
_CELSIUS = re.compile(r"(?<![\d.])(\d+(?:\.\d+)?)(?: to (\d+(?:\.\d+)?))? °C")


def also_fahrenheit(text: str) -> str:
    """A text with every temperature in degrees Celsius told in Fahrenheit too.

    >>> also_fahrenheit("melts and flows at 745 to 790 °C"), also_fahrenheit("hot")
    ('melts and flows at 745 to 790 °C (1373 to 1454 °F)', 'hot')
    """
    return _CELSIUS.sub(lambda found: f"{found[0]} ({fahrenheit(found[1], found[2])} °F)", text)


def fahrenheit(low: str, high: str | None = None) -> str:
    """One temperature, or two, in degrees Celsius as text, in Fahrenheit: F = 1.8 C + 32."""
    return " to ".join(f"{float(one) * 1.8 + 32:.0f}" for one in (low, high) if one)


def placeholders(template: str) -> tuple[str, ...]:
    """The names that a template asks for, in their order."""
    return tuple(match.group("name") for match in _PLACEHOLDER.finditer(template))


def fill(template: str, words: Mapping[str, object]) -> str:
    """A template with its placeholders filled: text as it is, a :class:`Length` by the pattern after the colon.

    Raises KeyError for a name that nobody gave.

    >>> fill("At most {most:g mm}, “{said}”.", {"most": Length(10.16, "in"), "said": "{x}"})
    'At most 0.4″, “{x}”.'
    """
    return _PLACEHOLDER.sub(lambda match: format(words[match["name"]], match["spec"] or ""), template)


def day_words(iso: str) -> str:
    """A day as one says it.

    >>> day_words("2031-11-12")
    '12 November 2031'
    """
    day = date.fromisoformat(iso)
    return f"{day.day} {MONTHS[day.month - 1]} {day.year}"
