"""Where JSON becomes a typed request and a result becomes JSON, for command line and API alike.

Requests are frozen dataclasses; their fields are annotated with the readers below, so text as
people write it is read in one place and an error carries the dotted path of its field.
"""

from __future__ import annotations

import dataclasses
from collections.abc import Callable, Container, Iterator, Mapping
from contextlib import contextmanager
from contextvars import ContextVar
from functools import cache
from typing import Annotated, Any, TypeVar, dataclass_transform

from pydantic import BeforeValidator, ConfigDict, TypeAdapter, ValidationError, WithJsonSchema, WrapValidator

from ringcraft.errors import BadRequest, CraftError, OutOfRangeError, UnknownNameError, UnreadableError
from ringcraft.reading import LONGEST_TEXT, read_length, read_number, tidy
from ringcraft.units import DEGREES, UNITS

T = TypeVar("T")

#: The unit of figures that are written without one, while one request is read.
_BARE: ContextVar[str] = ContextVar("unit of bare figures", default="mm")

_LENGTH_SCHEMA = WithJsonSchema({"anyOf": [{"type": "number"}, {"type": "string"}]}, mode="validation")


@dataclass_transform(kw_only_default=True, frozen_default=True)
def request(cls: type[T]) -> type[T]:
    """A frozen dataclass that refuses fields it does not know, so that no typing slip is ignored."""
    cls.__pydantic_config__ = ConfigDict(  # type: ignore[attr-defined]
        extra="forbid", serialize_by_alias=True, validate_by_alias=True, validate_by_name=True
    )
    return dataclasses.dataclass(frozen=True, kw_only=True)(cls)


@contextmanager
def bare_figures_in(units: str) -> Iterator[None]:
    """Read text without a unit in these units: a shop that works in inches writes 0.07 for 0.07 in."""
    token = _BARE.set(units)
    try:
        yield
    finally:
        _BARE.reset(token)


def bare_unit() -> str:
    """The unit of figures that are written without one, as requests are read now."""
    return _BARE.get()


def _in_own_units(data: Any, read: Callable[[Any], Any]) -> Any:
    units = data.get("units") if isinstance(data, Mapping) else None
    if not isinstance(units, str) or (key := _UNIT_NAMES.get(units.strip().lower())) is None:
        return read(data)
    with bare_figures_in(key):
        return read(data)


#: Marks a request whose own field ``units`` says in which unit its bare figures are written.
IN_OWN_UNITS = WrapValidator(_in_own_units)


def _length(value: object, *, signed: bool = False) -> float:
    bare = _BARE.get()
    try:
        return read_length(value, signed=signed, bare=bare)
    except CraftError as problem:
        raise problem.in_units(bare) from None


def _positive(value: object) -> float:
    mm = _length(value)
    if mm <= 0:
        raise OutOfRangeError("", "This must be more than nothing.", "Write mm, 17 ga or 3/64 in.")
    return mm


def _size_words(value: object) -> object:
    if isinstance(value, bool) or not isinstance(value, (str, int, float)):
        raise UnreadableError("", "A size is written as text.", "Write US 6 3/4, M½, 51 or 17.1 mm ID.")
    return str(value)


def _count(value: object) -> object:
    if isinstance(value, str):
        value = tidy(value)
        words = {"never": "0", "none": "0", "once": "1", "twice": "2"}
        digits = words.get(value, value)
        if not digits.isdecimal():
            raise UnreadableError("", f"“{value}” is not a count.", "Write 0, 1 or 2.")
        value = int(digits)
    if isinstance(value, bool) or not isinstance(value, (int, float)) or value != value // 1:
        raise UnreadableError("", "A count is a whole number.", "Write 0, 1 or 2.")
    if not 0 <= value <= 12:
        raise OutOfRangeError("", "Nobody does that more than a dozen times.", "Write 0, 1 or 2.")
    return int(value)


def _whole(value: object) -> object:
    if isinstance(value, str):
        value = tidy(value)
        if not value.isdecimal():
            raise UnreadableError("", f"“{value}” is not a count.", "Write a whole number.")
        value = int(value)
    if isinstance(value, bool) or not isinstance(value, (int, float)) or value != value // 1:
        raise UnreadableError("", "A count is a whole number.", "Write a whole number.")
    if not 1 <= value <= 400:
        raise OutOfRangeError("", f"{value:g} of them is no count for a ring.", "From 1 to 400.")
    return int(value)


MOST_FIGURE = 1e9  # no figure of a bench is larger, and no float overflows below it


def read_figure(value: object, units: tuple[str, ...], hint: str, message: str = "That is not a number.") -> float:
    """A plain figure as a number or as text, one of its units after it; raises CraftError with no field."""
    if isinstance(value, str):
        text = tidy(value)
        for unit in units:
            text = text.removesuffix(unit).strip()
        try:
            value = read_number(text)
        except CraftError as problem:
            raise UnreadableError("", problem.message, hint) from None
    if isinstance(value, bool) or not isinstance(value, (int, float)) or not abs(value) <= MOST_FIGURE:
        raise UnreadableError("", message, hint)
    return float(value)


def _degrees(value: object) -> float:
    return read_figure(value, ("degrees", "degree", "deg", "°"), "Write 72.")


def _share(value: object) -> float:
    percent = isinstance(value, str) and tidy(value).endswith("%")
    share = read_figure(value, ("%",), "Write 3 % or 0.03.") / (100 if percent else 1)
    if not 0 <= share <= 1:
        raise OutOfRangeError("", f"{share:g} is no share.", "Write 3 % or 0.03.")
    return share


#: A length in mm, nought allowed; read from a number or from text with a unit.
Mm = Annotated[float, BeforeValidator(_length), _LENGTH_SCHEMA]
#: A length in mm that must be more than nothing.
PositiveMm = Annotated[float, BeforeValidator(_positive), _LENGTH_SCHEMA]
#: A length in mm that may be less than nothing (a fit, a correction).
SignedMm = Annotated[float, BeforeValidator(lambda v: _length(v, signed=True)), _LENGTH_SCHEMA]
#: How many times something is done: 0 to 12, or "once", "twice", "never".
Count = Annotated[int, BeforeValidator(_count)]
#: How many there are: 1 to 400.
Whole = Annotated[int, BeforeValidator(_whole)]
#: An angle in degrees, with or without its sign.
Degrees = Annotated[float, BeforeValidator(_degrees), _LENGTH_SCHEMA]
#: A share from 0 to 1, or as a percentage with its sign.
Share = Annotated[float, BeforeValidator(_share), _LENGTH_SCHEMA]
#: A finger size as people write it.
SizeText = Annotated[
    str,
    BeforeValidator(_size_words),
    WithJsonSchema({"anyOf": [{"type": "string"}, {"type": "number"}]}, mode="validation"),
]


def name_of(what: str, table: Mapping[str, object], aliases: Mapping[str, str] | None = None) -> Any:
    """The annotated type of a key of ``table``: forgiving of case and spaces, strict otherwise."""
    keys = list(table)
    known = {key.replace("-", ""): key for key in keys}
    known |= {alias.lower().replace("-", "").replace(" ", ""): key for alias, key in (aliases or {}).items()}

    def read(value: object) -> str:
        text = value if isinstance(value, str) else ""
        if value in keys:
            return text
        short = tidy(text[:LONGEST_TEXT]).replace(" ", "").replace("_", "").replace("-", "")
        if short in known:
            return known[short]
        said = f"“{text.strip()[:40]}” is not a {what} known here." if text.strip() else f"Which {what}?"
        raise UnknownNameError("", said, f"It can be {', '.join(keys)}.")

    return Annotated[str, BeforeValidator(read), WithJsonSchema({"type": "string", "enum": keys})]


_INCHES, _MILLIMETRES = ("in", "inch", "inches"), ("mm", "millimetres")
_UNIT_NAMES = dict.fromkeys(_INCHES, "in") | dict.fromkeys(_MILLIMETRES, "mm")
#: Millimetres or inches.
UnitKey = name_of("unit", UNITS, _UNIT_NAMES)
#: Degrees Celsius alone, or Fahrenheit beside them.
DegreesKey = name_of("way to tell temperatures", DEGREES)


def read_request(kind: TypeAdapter[T], data: object, tags: Container[str] = ()) -> T:
    """A typed request from plain JSON data; raises BadRequest with every error and its field.

    ``tags`` are the union tags that must not show in a field's path.
    """
    if not isinstance(data, dict):
        raise BadRequest([UnreadableError("", "The request is one JSON object.", "Write {...}.")])
    if (broken := next(_broken_text(data, ""), None)) is not None:
        raise BadRequest([UnreadableError(broken, "This holds characters that nobody can read.", "Type it anew.")])
    try:
        return kind.validate_python(data)
    except ValidationError as problem:
        raise BadRequest(craft_errors(problem, tags)) from None


def _broken_text(data: object, path: str) -> Iterator[str]:
    """Where text holds a lone surrogate, which no file and no screen can write."""
    if isinstance(data, str):
        if any("\ud800" <= char <= "\udfff" for char in data):
            yield path
    elif isinstance(data, dict):
        for name, value in data.items():
            yield from _broken_text(name, path)
            yield from _broken_text(value, f"{path}.{name}".lstrip("."))
    elif isinstance(data, (list, tuple)):
        for place, value in enumerate(data):
            yield from _broken_text(value, f"{path}.{place}".lstrip("."))


def read_at(field: str, value: object, bare: str, *, signed: bool = False) -> float:
    """One length [mm] as typed, in ``bare`` where it names no unit; raises BadRequest at ``field``."""
    try:
        return read_length(value, signed=signed, bare=bare)
    except CraftError as problem:
        raise BadRequest([problem.at(field).in_units(bare)]) from None


def craft_errors(problem: ValidationError, tags: Container[str] = ()) -> list[CraftError]:
    """Pydantic's errors in the craft's words, each at its dotted field."""
    return [craft_error(dict(error), tags) for error in problem.errors(include_url=False)]


def craft_error(error: dict[str, Any], tags: Container[str] = ()) -> CraftError:
    """One of pydantic's errors in the craft's words, at its dotted field."""
    kind, field = error["type"], field_path(error["loc"], tags)
    cause = error.get("ctx", {}).get("error")
    if isinstance(cause, CraftError):  # one that was found in a whole object names its own part
        return cause.at(".".join(part for part in (field, cause.field) if part))
    if kind == "missing":
        return CraftError(field, "This is still missing.", "Nothing can be worked out without it.")
    if kind in ("unexpected_keyword_argument", "extra_forbidden"):
        return UnknownNameError(field, f"“{error['loc'][-1]}” is not asked for here.", "Leave it out.")
    if kind.startswith("union_tag"):
        about = error.get("ctx", {})
        what = about.get("discriminator", "style").strip("'")
        at = f"{field}.{what}".lstrip(".")
        wanted = about.get("expected_tags")
        if wanted is None:
            return CraftError(at, "This is still missing.", "Nothing can be worked out without it.")
        return UnknownNameError(at, f"That {what} is not known here.", f"It can be {wanted}.")
    if kind.startswith(("float", "int", "finite")):
        return UnreadableError(field, "That is not a number.", "Write a number.")
    if kind in {"bool_parsing", "bool_type"}:
        return UnreadableError(field, "This is a yes or a no.", "Write true or false.")
    if kind.startswith(("dataclass", "dict", "model", "list", "tuple")):
        return UnreadableError(field, "This has its own fields.", "Write them inside { } or [ ].")
    return UnreadableError(field, "This cannot be read.", "See the contract for what is expected.")


def field_path(loc: tuple[Any, ...], tags: Container[str] = ()) -> str:
    """The dotted path of a field, without the tags that pydantic adds for unions."""
    return ".".join(str(step) for step in loc if step not in tags)


@cache
def _writer(kind: type[Any]) -> TypeAdapter[object]:
    return TypeAdapter(kind)


def to_json(result: object) -> Any:
    """A result as plain JSON data (tuples as lists, no NaN)."""
    kind: Any = type(result)
    return _writer(kind).dump_python(result, mode="json")
