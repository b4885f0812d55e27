"""Numbers and lengths the way people write them at a bench.

``7 1/2``, ``7½``, ``7,5``, ``16 ga``, ``1/16 in``, ``0.068"``, ``1.8 mm``, ``0.18 cm``: all read
here and nowhere else. Readers raise with an empty field; the border knows the field.
"""

from __future__ import annotations

import math
import re
import unicodedata

from ringcraft.errors import OutOfRangeError, UnreadableError
from ringcraft.units import INCH_MM

LONGEST_TEXT = 80
LONGEST_LIST = 4000  # letters of a text that lists several things
LONGEST_MM = 10_000.0

_NUMBER = re.compile(
    r"^(?P<sign>[+-]?)\s*(?:(?P<whole>\d+(?:\.\d*)?|\.\d+))?"
    r"(?:(?P<gap>[\s-]*)(?P<over>\d+)\s*/\s*(?P<under>\d+))?$"
)
_UNITS = re.compile(
    r"^(?P<number>.*?)\s*"
    r"(?P<unit>millimet(?:er|re)s?|mm|cm|inch(?:es)?|in\.?|\"|''|gauge|ga\.?|awg|g)?$"
)
_GAUGE_FIRST = re.compile(r"^(?:awg|gauge|ga\.?)\s*(?P<number>.+)$")


def tidy(text: str) -> str:
    """Text in lower case with plain spaces, dots, minus signs and spelled-out fractions."""
    if len(text) > LONGEST_TEXT:
        raise UnreadableError("", "That is too long to be a measure.", "A few characters do.")
    out: list[str] = []
    for char in text:
        spelled = unicodedata.normalize("NFKC", char)
        if unicodedata.category(char) != "No":
            out.append(spelled)
        elif "\u2044" in spelled:
            out.append(" " + spelled.replace("\u2044", "/"))
        else:
            out.append(char)  # a superscript is no digit of a measure
    plain = "".join(out).replace("\u2044", "/").replace("\u2212", "-").replace("\u2019", "'")
    plain = plain.replace("\u201d", '"').replace("\u2033", '"').replace("''", '"')
    plain = re.sub(r"(?<=\d),(?=\d)", ".", plain)
    return re.sub(r"\s+", " ", plain).strip().lower()


def entries(text: str) -> list[str]:
    """The entries of a list typed as one text, apart by semicolons or lines; raises OutOfRangeError for one too long.

    >>> entries("sterling  1.10;; 14k yellow 38")
    ['sterling 1.10', '14k yellow 38']
    """
    if len(text) > LONGEST_LIST:
        raise OutOfRangeError("", "That list is too long to keep.", f"At most {LONGEST_LIST} letters.")
    return [" ".join(entry.split()) for entry in text.replace("\n", ";").split(";") if entry.strip()]


def read_number(text: str) -> float:
    """A number, with a decimal comma or point, a fraction, or a whole with a fraction.

    >>> read_number("7 1/2"), read_number("7½"), read_number("7,5"), read_number("-1/4")
    (7.5, 7.5, 7.5, -0.25)
    """
    plain = tidy(text)
    match = _NUMBER.match(plain)
    if not plain or match is None or not any(match.group("whole", "over")):
        raise UnreadableError("", f"“{text.strip()}” is not a number.", "Write 1.4 or 6 3/4.")
    whole, over, under = match.group("whole"), match.group("over"), match.group("under")
    if whole and over and (not match.group("gap") or "." in whole):
        raise UnreadableError("", f"“{text.strip()}” mixes a number and a fraction.", "Write 6 3/4.")
    value = float(whole) if whole else 0.0
    if over:
        if int(under) == 0:
            raise UnreadableError("", "A fraction cannot be over nought.", "Write 1/2.")
        value += int(over) / int(under)
    if not math.isfinite(value):
        raise OutOfRangeError("", "That number is beyond all measure.", "Write it in mm.")
    return -value if match.group("sign") == "-" else value


def gauge_to_mm(number: float) -> float:
    """Diameter of an AWG (Brown & Sharpe) gauge number [mm]: d = 0.127 x 92^((36 - n) / 39).

    Source: ASTM B258, which defines the series between 0.0050 in (36) and 0.4600 in (0000).

    >>> round(gauge_to_mm(18), 3)
    1.024
    """
    if not -3 <= number <= 40 or number != int(number):
        raise OutOfRangeError("", "Wire and sheet gauges run from 0 to 40, in whole numbers.", "Write 17 ga, or mm.")
    return float(0.127 * 92 ** ((36 - number) / 39))


def read_length(value: object, *, signed: bool = False, bare: str = "mm") -> float:
    """A length [mm] from a number of mm or from text; ``bare`` is the unit of text that names none: mm or in.

    Raises UnreadableError or OutOfRangeError with an empty field.

    >>> read_length("1/16 in"), round(read_length("16 ga"), 3), read_length("1,8")
    (1.5875, 1.291, 1.8)
    >>> read_length("1/16", bare="in"), read_length("1.8 mm", bare="in")
    (1.5875, 1.8)
    """
    if isinstance(value, bool) or not isinstance(value, (int, float, str)):
        raise UnreadableError("", "That is not a length.", "Write mm, a gauge or inches.")
    mm = _length_from_text(value, bare) if isinstance(value, str) else _as_float(value)
    if not math.isfinite(mm):
        raise UnreadableError("", "That is not a number.", "Write 1.4 mm.")
    if mm < 0 and not signed:
        raise OutOfRangeError("", "A length cannot be less than nothing.", "Write it without minus.")
    if abs(mm) > LONGEST_MM:
        raise OutOfRangeError("", "That is longer than any bar on a bench.", "Lengths are in mm.")
    return mm


def _as_float(value: float) -> float:
    try:
        return float(value)
    except OverflowError:
        return math.inf


def _length_from_text(text: str, bare: str) -> float:
    plain = tidy(text)
    if not plain:
        raise UnreadableError("", "Nothing is written here yet.", "Write mm, 17 ga or 3/64 in.")
    first = _GAUGE_FIRST.match(plain)
    if first:
        return gauge_to_mm(read_number(first.group("number")))
    match = _UNITS.match(plain)
    assert match is not None  # the pattern matches any text
    number, unit = match.group("number"), (match.group("unit") or "").rstrip(".")
    if unit in ("g", "ga", "gauge", "awg"):
        if unit == "g":
            raise UnreadableError("", "g is a weight here.", "Write 17 ga for a gauge.")
        return gauge_to_mm(_gauge_number(number))
    try:
        amount = read_number(number)
    except UnreadableError:
        raise UnreadableError("", f"“{text.strip()}” is not a length.", "Write 1.4 mm, 17 ga or 3/64 in.") from None
    if (unit or bare) in ("in", "inch", "inches", '"'):
        return amount * INCH_MM
    if unit == "cm":
        return amount * 10
    if not unit and "/" in number and abs(amount) < 1:
        raise UnreadableError("", "A bare fraction: is it inches?", f"Write {number} in, or mm.")
    return amount


def _gauge_number(text: str) -> float:
    """Gauge number, where 0, 00, 2/0 and so on are the heavy end (00 is -1)."""
    text = text.strip()
    if re.fullmatch(r"0{2,4}", text):
        return 1 - len(text)
    heavy = re.fullmatch(r"([2-4])/0", text)
    return 1 - int(heavy.group(1)) if heavy else read_number(text)
