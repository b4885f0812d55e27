"""The stamped band: names, dates, coordinates, placed outward from the scribed centre."""

from __future__ import annotations

import math
import re
import unicodedata
from dataclasses import dataclass
from typing import Annotated, Literal

from pydantic import BeforeValidator, WithJsonSchema

from ringcraft.drawing.blanks import across, along
from ringcraft.drawing.shapes import Label, Line
from ringcraft.errors import OutOfRangeError, UnreadableError
from ringcraft.planning.blank import BlankSpec
from ringcraft.planning.context import RingContext, length_model, ring_context
from ringcraft.planning.ledger import Handle, Mark
from ringcraft.planning.request import RingRequest
from ringcraft.routes.facts import StyleFacts
from ringcraft.schema import Mm, PositiveMm, SignedMm, name_of, request
from ringcraft.sections import Stock
from ringcraft.styles.base import STOCK_OVERRIDES, OwnFields, RingPlan, Style
from ringcraft.styles.build import Told, assemble, size
from ringcraft.styles.telling import length_figure
from ringcraft.units import Length, counted, words_and
from ringcraft.work.fields import FieldSpec, Option

PITCH_SHARE = 0.9  # of the letter's height: how far apart punches stand; from memory, the punches' own sheet beats it
GAP_SHARE = 0.4  # of the letter's height, between two lines; our own judgement
EDGE_MM = 0.4  # of plain metal above and below the letters; our own judgement
LEAST_LETTER_MM = 0.5  # smaller punches are not made; our own judgement
MOST_LINES, LONGEST_LINE = 4, 60
STAMP_STRAIN = 0.3  # of the skin round a letter; our own judgement
FACES = {"outside": "outside", "inside": "inside"}
FaceKey = name_of("face", FACES)
_BREAK = re.compile(r"(?<!\d)/|/(?!\d)")  # a stroke begins a new line, but not within a date


def _lines(value: object) -> object:
    if isinstance(value, str):
        value = value.splitlines() if "\n" in value else _BREAK.split(value)
    if not isinstance(value, (list, tuple)) or not all(isinstance(line, str) for line in value):
        raise UnreadableError("", "What is stamped is text, a line each.", "Such as: MARA.")
    lines = [" ".join(line.split()) for line in value]
    lines = [line for line in lines if line]
    if not lines:
        raise UnreadableError("", "There is nothing to stamp yet.", "Such as: MARA.")
    if len(lines) > MOST_LINES or max(map(len, lines)) > LONGEST_LINE:
        raise OutOfRangeError(
            "", "No ring holds so much.", f"{MOST_LINES} lines of {LONGEST_LINE} characters at most."
        )
    for char in "".join(lines):
        if unicodedata.category(char)[0] not in "LNPZ" and char not in "+°♥=<>$&":
            raise UnreadableError("", f"There is no punch for “{char}”.", "Letters, figures and points.")
    return lines


Lines = Annotated[
    tuple[str, ...],
    BeforeValidator(_lines),
    WithJsonSchema(
        {"anyOf": [{"type": "array", "items": {"type": "string"}}, {"type": "string"}]}, mode="validation"
    ),
]


@request
class StampedRequest(RingRequest):
    """The order of a stamped band. ``pitch_mm``: from one character to the next, by default of their height.

    ``clear_mm`` stays plain at each end; ``shift_mm`` moves the rows off the centre, to the right if positive.
    ``face``: outside, or inside, a maker's mark or a line, read from the finger hole.
    """

    style: Literal["stamped"] = "stamped"
    lines: Lines
    letter_height_mm: PositiveMm
    pitch_mm: PositiveMm | None = None
    clear_mm: Mm = 3.0
    shift_mm: SignedMm = 0.0
    face: FaceKey = "outside"


@dataclass(frozen=True)
class LetterMark:
    """A character: its line from 0, its middle from the left end of the blank [mm], and when it is struck."""

    line: int
    char: str
    x_mm: float
    strike: int


@dataclass(frozen=True, kw_only=True)
class StampedFields(OwnFields):
    """What a stamped band answers beside every plan: where each character's middle stands from the left end [mm]."""

    marks: tuple[LetterMark, ...]
    pitch_mm: float
    needs_mm: float


@dataclass(frozen=True, kw_only=True)
class StampedPlan(StampedFields, RingPlan):
    """The plan of a stamped band."""

    style: Literal["stamped"]


@dataclass(frozen=True)
class StampedFacts(StyleFacts):
    """What the route of a stamped band says beside every ring's."""

    lines: str
    foot_lines: str
    feet: str
    one_row: bool
    more_rows: bool
    count: str
    pitch: Length
    centre: Length
    clear: Length
    first_char: str
    last_char: str
    right_to_left: bool
    stamp_strain: float
    outside: bool
    inside: bool
    stamped_face: str
    other_face: str


def plan_stamped(order: StampedRequest) -> StampedPlan:
    """Plan a stamped band; raises CraftError naming the field, with the smallest size or letter that would do."""
    context = ring_context(order, STYLE.leave)
    turn = length_model(context)
    pitch = order.pitch_mm or PITCH_SHARE * order.letter_height_mm
    sized = size(context, turn)
    kept = sized.cut_mm - context.used.join.trim_mm
    _check_height(order, context)
    needs = _check_length(order, context, pitch, sized.exact_mm, turn.adds(context.used.rule)[0])
    middle = kept / 2 + order.shift_mm
    letters = _letters(order, middle, pitch)
    room = max(0.0, (kept - needs) / 2)
    handle = Handle("shift_mm", "shift of the letters", order.shift_mm, 1.0, -room, room)
    lines, labels = _drawn(order, context, letters, kept)
    mark = Mark("centre", middle, "middle of the letters", handle)
    length, units = context.length, context.used.units
    room_words = f"{length(kept - needs):.1f mm} of room beside them, {length(order.clear_mm):g} clear at each end"
    return assemble(
        STYLE,
        sized,
        [sized.draw(BlankSpec(marks=[mark], lines=lines, labels=labels))],
        Told(
            title=f"{context.section.title} stamped inside"
            if order.face == "inside"
            else f"stamped {context.section.title}",
            figures=(
                length_figure(context, "pitch", "pitch", pitch, ".2f", "from one character to the next"),
                length_figure(context, "needs", "letters take", needs - 2 * order.clear_mm, ".1f", room_words),
                length_figure(context, "centre", "centre", middle, ".2f", "from the square end"),
            ),
            facts=StampedFacts(
                lines=" / ".join(order.lines),
                foot_lines="the foot line" if len(order.lines) == 1 else f"{counted(len(order.lines), 'foot line')}",
                feet=words_and([f"{Length(mm, units):.2f}" for mm in _feet(order, context)]),
                one_row=len(order.lines) == 1,
                more_rows=len(order.lines) > 1,
                count=str(len(letters)),
                pitch=Length(pitch, units, ".2f"),
                centre=Length(middle, units, ".2f"),
                clear=length(order.clear_mm),
                first_char=min(letters, key=lambda mark: mark.strike).char,
                last_char=max(letters, key=lambda mark: mark.strike).char,
                right_to_left=any(_runs_left(line) for line in order.lines),
                stamp_strain=STAMP_STRAIN,
                outside=order.face == "outside",
                inside=order.face == "inside",
                stamped_face=order.face,
                other_face="outside" if order.face == "inside" else "inside",
            ),
            textured=(order.face,),
        ),
        StampedFields(marks=letters, pitch_mm=pitch, needs_mm=needs),
    )


def _runs_left(line: str) -> bool:
    """Whether a line is read from right to left: its first letter says so (Unicode bidirectional algorithm, P2)."""
    kinds = (unicodedata.bidirectional(char) for char in line)
    return next((kind for kind in kinds if kind in ("L", "R", "AL")), "L") != "L"


def _as_seen(line: str) -> str:
    """A line in the order it stands in, from the left: what is read from the right is turned, its figures are not.

    >>> _as_seen("MARA"), _as_seen("אב 12") == "12 בא"
    ('MARA', True)
    """
    if not _runs_left(line):
        return line
    turned = line[::-1]
    return re.sub(r"[0-9A-Za-z]+(?:[.,:/-][0-9A-Za-z]+)*", lambda run: run.group()[::-1], turned)


def _rows_mm(order: StampedRequest) -> float:
    n, h = len(order.lines), order.letter_height_mm
    return n * h + (n - 1) * GAP_SHARE * h


def _check_height(order: StampedRequest, context: RingContext) -> None:
    if order.letter_height_mm < LEAST_LETTER_MM:
        raise OutOfRangeError(
            "letter_height_mm",
            "No punch is {high:g} high.",
            "At least {least:g mm}; in which unit is it?",
            high=order.letter_height_mm,
            least=LEAST_LETTER_MM,
        )
    if order.pitch_mm is not None and order.pitch_mm < LEAST_LETTER_MM / 2:
        raise OutOfRangeError(
            "pitch_mm",
            "Letters {pitch:g} apart stand in each other.",
            "At least {least:g mm}.",
            pitch=order.pitch_mm,
            least=LEAST_LETTER_MM / 2,
        )
    wide, needs = context.section.width_mm, _rows_mm(order) + 2 * EDGE_MM
    if needs > wide + 1e-9:
        n = len(order.lines)
        most = (wide - 2 * EDGE_MM) / (n + (n - 1) * GAP_SHARE)
        rows = f"{n} lines" if n > 1 else "A line"
        said = f"{rows} of {{high:g}} needs {{needs:.1f}} of width, here is {{wide:g}}."
        hint = "Letters of {fits:g} would fit." if most >= LEAST_LETTER_MM else "A strip {needs:.1f} wide."
        raise OutOfRangeError(
            "letter_height_mm", said, hint,
            high=order.letter_height_mm, needs=needs, wide=wide, fits=math.floor(most * 10) / 10,
        )  # fmt: skip


def _check_length(order: StampedRequest, context: RingContext, pitch: float, kept: float, adds: float) -> float:
    longest = max(order.lines, key=len)
    needs = len(longest) * pitch + 2 * (order.clear_mm + abs(order.shift_mm))
    if needs > kept + 1e-9:
        fits = (kept - 2 * (order.clear_mm + abs(order.shift_mm))) / len(longest)
        said = "“{longest}” needs {needs:.1f} and the ring has {kept:.1f}."
        hints = []
        inside = (needs - adds) / math.pi
        scale = context.target.scale
        number = math.ceil(scale.number(inside) / scale.label_step - 1e-9) * scale.label_step
        if scale.holds(number):
            hints.append(f"{scale.title} {scale.label(number)} would hold it")
        at = math.floor(fits * 100) / 100
        if fits / PITCH_SHARE >= LEAST_LETTER_MM:
            hints.append("letters {high:g} high, {at:g} apart, would fit")
        hint = ", or ".join(hints) or "fewer characters"
        field = "shift_mm" if needs - 2 * abs(order.shift_mm) <= kept else "lines"
        high = math.floor(at / PITCH_SHARE * 10) / 10
        raise OutOfRangeError(
            field, said, f"{hint[0].upper()}{hint[1:]}.", longest=longest, needs=needs, kept=kept, high=high, at=at
        )
    return needs


def _letters(order: StampedRequest, middle: float, pitch: float) -> tuple[LetterMark, ...]:
    """Every character with its place; struck from the middle outward, left and right in turn, line by line."""
    out, strike = [], 0
    for row, line in enumerate(map(_as_seen, order.lines)):
        places = [(char, middle + (i - (len(line) - 1) / 2) * pitch) for i, char in enumerate(line)]
        order_of = sorted(range(len(places)), key=lambda i: (round(abs(places[i][1] - middle), 6), i))
        turn = {}
        for i in order_of:
            if places[i][0] != " ":
                strike += 1
                turn[i] = strike
        out += [LetterMark(row, char, x, turn[i]) for i, (char, x) in enumerate(places) if char != " "]
    return tuple(out)


def _feet(order: StampedRequest, context: RingContext) -> list[float]:
    """How high the feet of each row stand above the lower edge [mm], the first row highest."""
    high = order.letter_height_mm
    first = (context.section.width_mm + _rows_mm(order)) / 2 - high
    return [first - row * (1 + GAP_SHARE) * high for row in range(len(order.lines))]


def _drawn(
    order: StampedRequest, context: RingContext, letters: tuple[LetterMark, ...], kept: float
) -> tuple[list[Line], list[Label]]:
    h, wide, feet = order.letter_height_mm, context.section.width_mm, _feet(order, context)
    lines = [along(f"foot-{i}", "scribe", y, order.clear_mm, kept - order.clear_mm) for i, y in enumerate(feet)]
    lines += [across("clear-left", "scribe", order.clear_mm, wide)]
    lines += [across("clear-right", "scribe", kept - order.clear_mm, wide)]
    labels = [Label(mark.char, mark.x_mm, feet[mark.line], h) for mark in letters]
    return lines, labels


STYLE = Style(
    key="stamped",
    title="stamped band",
    request=StampedRequest,
    plan=plan_stamped,
    answer=StampedPlan,
    leave="small",
    route="stamped",
    first=Stock(profile="sheet", width_mm=6.0, thickness_mm=1.2),
    overrides_from_measures=STOCK_OVERRIDES,
    aliases=("stamp", "name"),
    words=(
        FieldSpec("lines", "What is stamped", "stamped", kind="lines", first="MARA", short=("text", "stamped")),
        FieldSpec(
            "letter_height_mm", "Height of the letters", "in letters", "{mm} high,", first=2.5, short=("letters",)
        ),
        FieldSpec("pitch_mm", "Pitch", "", "apart,", placeholder="usual", short=("pitch",)),
        FieldSpec("clear_mm", "Clear at the ends", "", "{mm} clear at each end,", first=3.0, short=("clear",)),
        FieldSpec(
            "face",
            "Stamped face",
            "on its",
            kind="choice",
            first="outside",
            choices=tuple(Option(key, title) for key, title in FACES.items()),
        ),
        FieldSpec("shift_mm", "Shift of the letters", "shifted by", "{mm}", "signed", first=0.0, short=("shift",)),
    ),
    facts=StampedFacts,
)
