"""The shorthand line: a whole plan in the words that one jeweler calls across the bench.

``uk n, wishbone 75, d 3x2, gold 9k yellow``: parts between commas in any order. A part is a metal, a style with or
without its first figure, a stock with its measures, a word of the style or of the joint with its value, or a size.
"""

from __future__ import annotations

import difflib
import re
from collections.abc import Iterator
from dataclasses import dataclass
from typing import Any

from ringcraft.errors import BadRequest, CraftError
from ringcraft.measure.asking import ScaleKey
from ringcraft.measure.sizes import read_size
from ringcraft.metals import BLADES, METALS
from ringcraft.planning.request import LEAVE
from ringcraft.planning.rules import RULES
from ringcraft.reading import LONGEST_TEXT
from ringcraft.schema import UnitKey, request
from ringcraft.sections import PROFILES
from ringcraft.styles import STYLES, ring
from ringcraft.styles.base import Style
from ringcraft.styles.orders import first_order
from ringcraft.units import Length
from ringcraft.work.fields import PartSpec, set_path

LONGEST_LINE = 400
MOST_COMPLETIONS = 8
_PARTS = re.compile(r"(?:[^,]|(?<=\d),(?=\d))+")
_PROFILE_NAMES = {
    **{profile.title.lower(): key for key, profile in PROFILES.items()},
    **{key: key for key in PROFILES},
    "half round": "half-round",
    "halfround": "half-round",
    "strip": "rectangle",
    "flat": "rectangle",
    "d wire": "d",
    "wire": "round",
}
_TIMES = {"never": "0", "once": "1", "twice": "2"}
#: words of every ring: what is said, the field, and how the rest of the part is read
_COMMON = {
    "leave": "leave",
    "saw": "join.saw_passes",
    "blade": "join.blade",
    "file": "join.file_passes",
    "trim": "join.trim_mm",
    "rule": "rule",
    "by": "rule",
    "mark to": "round_to_mm",
    "thick": "stock.thickness_mm",
    "wide": "stock.width_mm",
}


@request
class ShorthandRequest:
    """A shorthand line. ``home_scale`` is what a bare size is on, ``style`` the one on the sheet now,
    ``units`` what bare figures are in.
    """

    text: str
    home_scale: ScaleKey = "us"
    style: str = "plain-band"
    units: UnitKey = "mm"


@dataclass(frozen=True)
class Said:
    """A part of the line, from one character to another, and what it was understood as."""

    start: int
    end: int
    fields: dict[str, str]
    means: str


@dataclass(frozen=True)
class Slip:
    """What is wrong, and at which characters of the line."""

    start: int
    end: int
    field: str
    message: str
    hint: str


@dataclass(frozen=True)
class Completion:
    """A way to end the part that is being written: the whole line with it, and what it is."""

    text: str
    word: str
    says: str


@dataclass(frozen=True)
class Shorthand:
    """A line as it was understood: fields by dotted path, parts, mistakes, and how it could go on."""

    fields: dict[str, str]
    said: tuple[Said, ...]
    mistakes: tuple[Slip, ...]
    completions: tuple[Completion, ...]
    summary: str


@dataclass(frozen=True)
class _Piece:
    start: int
    end: int
    text: str


class _NotIt(Exception):
    """A part is not of the kind that was tried."""


def read_shorthand(asked: ShorthandRequest) -> Shorthand:
    """Read a shorthand line; what cannot be read is told in ``mistakes``, never raised."""
    text = asked.text[:LONGEST_LINE]
    pieces = list(_pieces(text))
    style = next((s for s in map(_style_of, pieces) if s), None) or STYLES.get(asked.style, STYLES["plain-band"])
    said: list[Said] = []
    slips: list[Slip] = []
    for piece in pieces:
        try:
            said.append(_understand(piece, style, asked))
        except CraftError as problem:
            slips.append(Slip(piece.start, piece.end, problem.field, problem.message, problem.hint))
    fields: dict[str, str] = {}
    for one in said:
        fields |= one.fields
    summary = ""
    if not slips and pieces:
        summary, slips = _check(style, fields, said, asked, len(text))
    return Shorthand(fields, tuple(said), tuple(slips), tuple(_completions(text, pieces, style)), summary)


def _pieces(text: str) -> Iterator[_Piece]:
    for match in _PARTS.finditer(text):
        inner = match.group().strip()
        if inner:
            start = match.start() + len(match.group()) - len(match.group().lstrip())
            yield _Piece(start, start + len(inner), inner)


def _understand(piece: _Piece, style: Style[Any], asked: ShorthandRequest) -> Said:
    low = re.sub(r"\s+", " ", piece.text.lower())
    for reader in (_metal, _style, _stock, _word, _common, _size):
        try:
            fields, means = reader(low, piece.text, style, asked)
        except _NotIt:
            continue
        return Said(piece.start, piece.end, fields, means)
    near = difflib.get_close_matches(low, [name for name, _ in _names(style)], 3, 0.6)
    hint = f"Perhaps {' or '.join(near)}." if near else "A size, a style, a stock, a metal, or a word of the style."
    raise CraftError("", f"“{piece.text[:LONGEST_TEXT]}” is not understood.", hint)


def _metal(low: str, raw: str, style: Style[Any], asked: ShorthandRequest) -> tuple[dict[str, str], str]:
    words = set(re.split(r"[\s-]+", low))
    fits = [key for key, metal in METALS.items() if words <= _metal_words(key, metal.title)]
    if not fits:
        raise _NotIt
    exact = [key for key in fits if words in (set(key.split("-")), set(METALS[key].title.split()))]
    if len(exact or fits) > 1:
        titles = ", ".join(METALS[key].title for key in fits[:5])
        raise CraftError("metal", f"“{raw}” could be several metals.", f"Say which: {titles}.")
    key = (exact or fits)[0]
    return {"metal": key}, METALS[key].title


def _metal_words(key: str, title: str) -> set[str]:
    return {*key.split("-"), *re.split(r"[\s-]+", title.lower())} - {""}


def _style_names(style: Style[Any]) -> tuple[str, ...]:
    return (style.title, style.key, style.key.replace("-", " "), *style.aliases)


def _style_of(piece: _Piece) -> Style[Any] | None:
    low = piece.text.lower()
    found = [
        (name, s) for s in STYLES.values() for name in _style_names(s) if re.match(rf"{re.escape(name)}(?!\S)", low)
    ]
    return max(found, key=lambda pair: len(pair[0]))[1] if found else None


def _style(low: str, raw: str, style: Style[Any], asked: ShorthandRequest) -> tuple[dict[str, str], str]:
    names = [name for name in _style_names(style) if re.match(rf"{re.escape(name)}(?!\S)", low)]
    if not names:
        raise _NotIt
    rest = raw[len(max(names, key=len)) :].strip()
    fields, means = {"style": style.key}, style.title
    if rest:
        word = next((w for w in _valued(style) if w.first or w.kind in ("lines", "text")), None)
        if word is None:
            raise CraftError("style", f"A {style.title} takes no “{rest}” here.", "Put a comma between.")
        fields[word.field] = rest
        means = f"{style.title}, {word.label.lower()} {rest}"
    return fields, means


def _valued(style: Style[Any]) -> Iterator[PartSpec]:
    """The words of a style that take a value, a word of several as the part it begins with."""
    for word in style.words:
        if word.kind == "one-of":
            yield from sorted(word.parts, key=lambda part: part.field != word.first)
        elif word.kind not in ("choice", "stock", "list", "metal"):
            yield word


def _stock(low: str, raw: str, style: Style[Any], asked: ShorthandRequest) -> tuple[dict[str, str], str]:
    names = [name for name in _PROFILE_NAMES if re.match(rf"{re.escape(name)}(?![a-z-])", low)]
    if not names:
        raise _NotIt
    name = max(names, key=len)
    profile = PROFILES[_PROFILE_NAMES[name]]
    figures = [f.strip() for f in re.split(r"\s*[x×*]\s*", raw[len(name) :].strip()) if f.strip()]
    fields = {"stock.profile": profile.key}
    needs = ["stock.width_mm", "stock.thickness_mm"] if "width_mm" in profile.needs else ["stock.thickness_mm"]
    if len(figures) > len(needs):
        said = f"{profile.title.capitalize()} stock has {'two measures' if len(needs) == 2 else 'one measure'}."
        raise CraftError("stock", said, f"Such as {profile.title} {'3.6x1.5' if len(needs) == 2 else '1.9'}.")
    if len(figures) == 1 and len(needs) == 2:
        raise CraftError("stock", f"How wide is the {profile.title}?", f"Such as {profile.title} 4x{figures[0]}.")
    fields |= dict(zip(needs, figures, strict=False))
    return fields, f"{profile.title} {' × '.join(figures)}".strip()


def _word(low: str, raw: str, style: Style[Any], asked: ShorthandRequest) -> tuple[dict[str, str], str]:
    for word in _valued(style):
        for name in word.short:
            match = re.match(rf"{re.escape(name)}\b\s*(?P<value>.+)$", low)
            if match:
                value = raw[match.start("value") :].strip()
                return {word.field: value}, f"{word.label} {value}"
    for choice_word in style.words:
        for choice in choice_word.choices:
            if low in (choice.title.lower(), choice.key):
                return {choice_word.field: choice.key}, choice.title
    raise _NotIt


def _common(low: str, raw: str, style: Style[Any], asked: ShorthandRequest) -> tuple[dict[str, str], str]:
    if low in LEAVE:
        return {"leave": low}, f"left {low}"
    if low in BLADES:
        return {"join.blade": low}, f"blade {low}"
    rules = {rule.title: key for key, rule in RULES.items()} | {key: key for key in RULES}
    if low in rules:
        return {"rule": rules[low]}, RULES[rules[low]].title
    for name, field in _COMMON.items():
        match = re.match(rf"{re.escape(name)}\s+(?P<value>.+)$", low)
        if match:
            value = match.group("value")
            known = {**rules, **_TIMES} if field in ("rule", "join.saw_passes", "join.file_passes") else {}
            return {field: known.get(value, value)}, f"{name} {value}"
    raise _NotIt


def _size(low: str, raw: str, style: Style[Any], asked: ShorthandRequest) -> tuple[dict[str, str], str]:
    try:
        size = read_size(raw, home=asked.home_scale, units=asked.units)
    except CraftError as problem:
        if re.match(r"(us|uk|iso|jp|it|size)\b|[\d½¼¾.,/\s-]+$", low):
            raise problem.at("size").in_units(asked.units) from None
        raise _NotIt from None
    return {"size": raw}, f"{size.text}, {Length(size.inside_diameter_mm, asked.units):.2f mm} inside"


def _check(
    style: Style[Any], fields: dict[str, str], said: list[Said], asked: ShorthandRequest, end: int
) -> tuple[str, list[Slip]]:
    """Plan the line over what its style begins with; each mistake at the part that said its field."""
    order = first_order(style, asked.units) | {"home_scale": asked.home_scale}
    _clear_one_of(order, style, fields)
    for path, value in fields.items():
        set_path(order, path, value)
    try:
        plan = ring(order)
    except BadRequest as problem:
        return "", [_slip(error, said, end) for error in problem.errors]
    return f"{plan.blanks[0].cut_text} {plan.blanks[0].unit}, {plan.title}, {plan.summary}, {plan.target.text}", []


def _clear_one_of(order: dict[str, Any], style: Style[Any], fields: dict[str, str]) -> None:
    """A part of a word of several that the line gives takes the place of the one it begins with."""
    for word in style.words:
        given = [part.field for part in word.parts if part.field in fields] if word.kind == "one-of" else []
        if given:
            order.pop(str(word.first), None)
    profile = PROFILES.get(fields.get("stock.profile", ""))
    if profile and profile.equal_sided:
        order["stock"].pop("width_mm", None)


def _slip(error: CraftError, said: list[Said], end: int) -> Slip:
    """The part of the line that said a field, or a part of it; else the end of the line."""
    field = error.field
    for one in said:
        if any(field == path or field.startswith(f"{path}.") or path.startswith(f"{field}.") for path in one.fields):
            return Slip(one.start, one.end, field, error.message, error.hint)
    for one in said:
        if any(path.split(".")[0] == field.split(".")[0] for path in one.fields):
            return Slip(one.start, one.end, field, error.message, error.hint)
    return Slip(end, end, field, error.message, error.hint)


def _names(style: Style[Any]) -> Iterator[tuple[str, str]]:
    """Every name that a part can begin with, and what it is."""
    for one in STYLES.values():
        yield one.title, "style"
        for alias in one.aliases:
            yield alias, f"style: {one.title}"
    for metal in METALS.values():
        yield metal.title, "metal"
    for profile in PROFILES.values():
        yield profile.title, "stock"
    for word in _valued(style):
        for name in word.short:
            yield name, word.label.lower()
    for choice_word in style.words:
        for choice in choice_word.choices:
            yield choice.title, choice_word.label.lower()
    for leave in LEAVE:
        yield f"leave {leave}", "what to leave"
    for rule in RULES.values():
        yield rule.title, "rule for the thickness"


def _completions(text: str, pieces: list[_Piece], style: Style[Any]) -> Iterator[Completion]:
    """How the part at the end of the line could go on."""
    if not pieces or pieces[-1].end < len(text.rstrip()):
        return
    last = pieces[-1]
    low, seen = last.text.lower(), 0
    for name, says in _names(style):
        starts = name.lower().startswith(low) or any(w.startswith(low) for w in name.lower().split())
        if starts and name.lower() != low:
            yield Completion(text[: last.start] + name, name, says)
            seen += 1
            if seen == MOST_COMPLETIONS:
                return
