"""The patterned strip: cut so that both ends fall at the same place of the repeat."""

from __future__ import annotations

import math
from dataclasses import dataclass, replace
from typing import Literal

from ringcraft.drawing.blanks import across
from ringcraft.drawing.paths import box
from ringcraft.drawing.shapes import Line, Shape, drawing
from ringcraft.errors import OutOfRangeError, UnreadableError
from ringcraft.planning.blank import Blank, BlankSpec
from ringcraft.planning.context import LengthModel, RingContext, length_model, ring_context
from ringcraft.planning.finished_size import sizes_text
from ringcraft.planning.ledger import Handle, Mark, Term
from ringcraft.planning.request import RingRequest
from ringcraft.planning.terms import eaten_mm
from ringcraft.routes.facts import StyleFacts
from ringcraft.schema import Mm, PositiveMm, Whole, name_of, request
from ringcraft.sections import Stock
from ringcraft.styles.base import STOCK_OVERRIDES, Choice, Choices, Figure, OwnFields, RingPlan, Style
from ringcraft.styles.build import Sized, Told, assemble, size
from ringcraft.styles.telling import length_figure
from ringcraft.units import Length
from ringcraft.vbench.pieces import TEXTURED, Faces, Piece, stock_piece
from ringcraft.work.fields import FieldSpec, Option

FINEST_MM = 0.2  # finer is no pattern but a surface; our own judgement
EITHER_SIDE = 2  # fits shown either side of the nearest
MOST_OFF_SIZES = 3.0  # US sizes: a fit further off than that is another ring
MATCHES = {"repeats": "whole repeats", "size": "the exact size"}
MatchKey = name_of("way to match it", MATCHES)
CENTRES = {"none": "where it falls", "lobe": "a lobe", "notch": "a notch"}
CentreKey = name_of("middle of it", CENTRES)
EDGES = {"plain": "with plain edges", "die-cut": "die-cut, its tabs still on"}
EdgesKey = name_of("edges", EDGES)
LEAST_JOINT, MOST_JOINT = 0.5, 1.5  # of a repeat: a repeat across the joint that is seen as another one beyond


@request
class PatternedRequest(RingRequest):
    """The order of a patterned band: ``match`` says what gives way, ``repeats`` chooses among the fits.

    ``start_mm`` is how far into a repeat the ends are cut. ``centre``, where each repeat is alike to its mirror
    image: the blank's middle is a lobe or a notch, so that the ends are alike at any size and the repeat across the
    joint is what is left for it. ``edges``: where it is die-cut, its tabs stay on to the last.
    """

    style: Literal["patterned"] = "patterned"
    repeat_mm: PositiveMm
    match: MatchKey = "repeats"
    repeats: Whole | None = None
    start_mm: Mm = 0.0
    centre: CentreKey = "none"
    edges: EdgesKey = "plain"

    def __post_init__(self) -> None:
        """Refuse a centre where whole repeats say the length; raises CraftError at its field."""
        if self.centre != "none" and self.match != "size":
            raise UnreadableError(
                "centre",
                "With whole repeats both ends fall alike anyway.",
                "Match it to the exact size, or leave it.",
            )


@dataclass(frozen=True)
class RepeatFit:
    """What a number of repeats closes at: inside diameter [mm] and size."""

    repeats: int
    inside_diameter_mm: float
    size: str


@dataclass(frozen=True, kw_only=True)
class PatternedFields(OwnFields):
    """What a patterned band answers beside every plan. ``repeat_error_mm``: how far it misses itself at the joint.

    ``joint_repeat_mm``: how long the repeat across the joint is; None where it is not centred.
    """

    repeats: int
    repeat_error_mm: float
    fits: tuple[RepeatFit, ...]
    offcut_mm: float
    from_repeats: int
    joint_repeat_mm: float | None = None


@dataclass(frozen=True, kw_only=True)
class PatternedPlan(PatternedFields, RingPlan):
    """The plan of a patterned band."""

    style: Literal["patterned"]

    def runs_along(self) -> bool:
        """Its repeat runs along the strip."""
        return True


@dataclass(frozen=True)
class PatternedFacts(StyleFacts):
    """What the route of a patterned band says beside every ring's."""

    repeats: str
    pitch: Length
    pieces: str
    offcut: Length
    error: Length
    whole: bool
    misses: bool
    joint_takes: Length
    half_joint: Length
    whole_eaten: bool
    whole_exact: bool
    needs: Length
    eaten_falls: bool
    exact_falls: bool
    centred: bool
    centre_word: str
    half: Length
    joint_repeat: Length
    tabs: bool


def plan_patterned(order: PatternedRequest) -> PatternedPlan:
    """Plan a patterned band; raises CraftError naming the field."""
    context = ring_context(order, STYLE.leave)
    turn, pitch = length_model(context), order.repeat_mm
    around = math.pi * context.target.inside_mm + turn.adds(context.used.rule)[0]
    if pitch < FINEST_MM:
        raise OutOfRangeError(
            "repeat_mm", "A repeat of {pitch:g} is not seen.", "At least {least:g mm}.", pitch=pitch, least=FINEST_MM
        )
    if pitch > around / 2:
        raise OutOfRangeError(
            "repeat_mm",
            "A repeat of {pitch:g} hardly goes round.",
            "At most {most:.1f mm}.",
            pitch=pitch,
            most=around / 2,
        )
    if order.start_mm >= pitch:
        raise OutOfRangeError("start_mm", "That is the next repeat already.", "Less than {pitch:g mm}.", pitch=pitch)
    whole = order.match == "repeats"
    count = _count(order, context, around) if whole else max(1, round(around / pitch))
    gives = count * pitch - around if whole else 0.0
    if whole:  # the pattern says the length: nothing is left or rounded
        context = replace(context, used=replace(context.used, leave="exact", round_to_mm=0.0))
    length, one = context.length, f"{context.length(pitch):g}"
    why = f"{count} of {one} are {length(count * pitch):.2f}"
    sized = size(context, turn, [Term("repeats", "whole repeats", gives, why)] if whole else [], gives_mm=gives)
    fits = _fits(order, context, turn, count)
    centred = order.centre != "none"
    if centred:
        count = _centred(order, _kept_mm(sized))
    spare, pieces = _offcut(sized.cut_mm, pitch, count if centred else None)
    error = 0.0 if whole or centred else _error(sized, pitch)
    joint = _kept_mm(sized) - (count - 1) * pitch if centred else None
    return assemble(
        STYLE,
        sized,
        [_blank(order, sized)],
        Told(
            title=f"patterned {context.section.title} band",
            figures=(
                Figure("repeats", "repeats", count, str(count), f"of {length(pitch):g mm}"),
                length_figure(context, "offcut", "off each end", spare, ".2f", f"of a piece of {pieces} repeats"),
                length_figure(context, "error", "misses itself by", error, ".2f", "at the joint")
                if joint is None
                else length_figure(context, "joint-repeat", "repeat across the joint", joint, ".2f", f"of {one}"),
            ),
            warnings=_joint_warning(order, context, joint, _kept_mm(sized)),
            fit_table=_table(fits, context, count, whole),
            facts=_facts(order, sized, count, (spare, pieces), error, joint),
            as_closed=f"{count} whole repeats make it {sized.closing.text}: leave it there." if whole else "",
            textured=("outside",),
            start={"band": _piece_of_repeats(context, pieces * pitch)},
        ),
        PatternedFields(
            repeats=count,
            repeat_error_mm=error,
            fits=fits,
            offcut_mm=spare,
            from_repeats=pieces,
            joint_repeat_mm=joint,
        ),
    )


def _facts(
    order: PatternedRequest, sized: Sized, count: int, off: tuple[float, int], error: float, joint: float | None
) -> PatternedFacts:
    """What the route says: ``off`` is what goes off each end, of a piece of how many repeats."""
    context, pitch, (spare, pieces) = sized.context, order.repeat_mm, off
    length, whole, centred = context.length, order.match == "repeats", joint is not None
    takes = sized.eaten_mm - context.used.join.trim_mm
    return PatternedFacts(
        repeats=str(count),
        pitch=length(pitch),
        pieces=str(pieces),
        offcut=Length(spare, context.used.units, ".2f"),
        error=Length(abs(error), context.used.units, ".2f"),
        whole=whole,
        misses=abs(error) > 0.05,
        joint_takes=Length(takes, context.used.units, ".2f"),
        half_joint=Length(takes / 2, context.used.units, ".2f"),
        whole_eaten=whole and takes > 0,
        whole_exact=whole and takes == 0,
        needs=Length(pieces * pitch, context.used.units, ".1f"),
        eaten_falls=takes > 0 and not centred,
        exact_falls=takes == 0 and not centred,
        centred=centred,
        centre_word=CENTRES[order.centre],
        half=Length(sized.cut_mm / 2, context.used.units, ".2f"),
        joint_repeat=Length(joint or 0.0, context.used.units, ".2f"),
        tabs=order.edges == "die-cut",
    )


def _piece_of_repeats(context: RingContext, length_mm: float) -> Piece:
    """The strip as bought: its outside is patterned already."""
    return replace(stock_piece(context.metal.key, context.section, length_mm), faces=Faces(outside=TEXTURED))


def _count(order: PatternedRequest, context: RingContext, around: float) -> int:
    exact = around / order.repeat_mm
    if order.repeats is None:
        return {"small": math.floor, "large": math.ceil}.get(context.used.leave, round)(exact)
    off = abs(order.repeats * order.repeat_mm - around) / context.target.scale.circumference_per_size_mm
    if off > MOST_OFF_SIZES:
        low, high = math.floor(exact), math.ceil(exact)
        raise OutOfRangeError("repeats", f"{order.repeats} repeats make another ring.", f"{low} or {high} come near.")
    return order.repeats


def _blank(order: PatternedRequest, sized: Sized) -> Blank:
    """The strip with its repeats, and what is cut off a piece of whole repeats at either end."""
    context, cut, pitch = sized.context, sized.cut_mm, order.repeat_mm
    wide = context.section.width_mm
    centred = order.centre != "none"
    spare, _ = _offcut(cut, pitch, _centred(order, _kept_mm(sized)) if centred else None)
    face = (eaten_mm(sized.terms) - context.used.join.trim_mm) / 2  # what the saw takes, half from either end
    lines: list[Line] = []
    x, i = face - order.start_mm - math.floor((face + spare) / pitch) * pitch, 0
    if centred:
        x = -spare
    while x <= cut + spare + 1e-9:
        if x >= -spare - 1e-9:
            i += 1
            lines.append(across(f"repeat-{i}", "texture", x, wide))
        x += pitch
    ghosts = [Shape("offcut-left", "ghost", (box(-spare, 0, 0, wide),)),
              Shape("offcut-right", "ghost", (box(cut, 0, cut + spare, wide),))] if spare > 1e-6 else []  # fmt: skip
    if centred:
        marks = [Mark("repeat", cut / 2, f"{CENTRES[order.centre]} in the middle")]
        shape = Shape("blank", "metal", (box(0, 0, cut, wide),))
        return sized.draw(BlankSpec(marks=marks, drawing=drawing([shape, *ghosts], lines)))
    handle = Handle("start_mm", "start in the repeat", order.start_mm, -1.0, 0.0, math.floor(pitch * 99) / 100)
    first = next((line.path[0][0] for line in lines if line.path[0][0] >= face - 1e-9), face)
    marks = [Mark("repeat", first, "the repeat begins here", handle)]
    shape = Shape("blank", "metal", (box(0, 0, cut, wide),))
    return sized.draw(BlankSpec(marks=marks, drawing=drawing([shape, *ghosts], lines)))


def _offcut(cut: float, pitch: float, count: int | None = None) -> tuple[float, int]:
    """The same offcut at each end, from the shortest piece of whole repeats that leaves something to square.

    Where it is centred, ``count`` says whether the middle of that piece is a lobe (odd) or a notch (even).
    """
    pieces = math.ceil(cut / pitch + 0.2)
    if count is not None and (pieces - count) % 2:
        pieces += 1
    return (pieces * pitch - cut) / 2, pieces


def _kept_mm(sized: Sized) -> float:
    """What closes to the ring, once the joint has taken its part [mm]."""
    return sized.cut_mm - eaten_mm(sized.terms)


def _centred(order: PatternedRequest, kept: float, centre: str = "") -> int:
    """How many repeats a blank has whose middle is a lobe (odd) or a notch (even): the nearest of that kind."""
    odd = (centre or order.centre) == "lobe"
    exact = kept / order.repeat_mm
    low = 2 * math.floor((exact - odd) / 2) + odd
    return max(2 - odd, low if exact - low <= 1 else low + 2)


def _joint_warning(
    order: PatternedRequest, context: RingContext, joint: float | None, kept: float
) -> tuple[str, ...]:
    """What is seen of a repeat across the joint far from its neighbours; the other middle, where that is better."""
    if joint is None or LEAST_JOINT <= joint / order.repeat_mm <= MOST_JOINT:
        return ()
    other = "notch" if order.centre == "lobe" else "lobe"
    instead = kept - (_centred(order, kept, other) - 1) * order.repeat_mm
    said = f"The repeat across the joint is {context.length(joint):.2f}"
    said += f", its neighbours {context.length(order.repeat_mm):g}"
    better = abs(instead - order.repeat_mm) < abs(joint - order.repeat_mm)
    tail = f": with {CENTRES[other]} in the middle it would be {context.length(instead):.2f}." if better else "."
    return (said + tail,)


def _error(sized: Sized, pitch: float) -> float:
    """How far the pattern misses itself where the ring closes [mm]: what is left over whole repeats."""
    kept = _kept_mm(sized)
    return kept - round(kept / pitch) * pitch


def _fits(order: PatternedRequest, context: RingContext, turn: LengthModel, count: int) -> tuple[RepeatFit, ...]:
    adds, out = turn.adds("centroid")[0], []
    for n in range(max(1, count - EITHER_SIDE), count + EITHER_SIDE + 1):
        inside = (n * order.repeat_mm - adds) / math.pi
        out.append(RepeatFit(n, inside, context.target.told(inside)))
    return tuple(out)


def _table(fits: tuple[RepeatFit, ...], context: RingContext, count: int, whole: bool) -> Choices:
    rows = []
    for fit in fits:
        off = (fit.inside_diameter_mm - context.target.inside_mm) * math.pi
        said = sizes_text(off / context.target.scale.circumference_per_size_mm, context.target.scale)
        rows.append(
            Choice("repeats", str(fit.repeats), (str(fit.repeats), fit.size, said), whole and fit.repeats == count)
        )
    return Choices("What whole repeats close at", ("repeats", "size", "against the finger"), tuple(rows))


STYLE = Style(
    key="patterned",
    title="patterned band",
    request=PatternedRequest,
    plan=plan_patterned,
    answer=PatternedPlan,
    leave="exact",
    route="patterned",
    first=Stock(profile="rectangle", width_mm=5.0, thickness_mm=1.2),
    overrides_from_measures=STOCK_OVERRIDES,
    aliases=("pattern", "beaded"),
    words=(
        FieldSpec(
            "repeat_mm", "Repeat of the pattern", "its pattern repeats every", "{mm},", first=2.5, short=("repeat",)
        ),
        FieldSpec(
            "match",
            "Match",
            "matched to",
            kind="choice",
            first="repeats",
            choices=tuple(Option(key, title) for key, title in MATCHES.items()),
        ),
        FieldSpec(
            "repeats",
            "Number of repeats",
            "in",
            "repeats,",
            "count",
            placeholder="what fits",
            when="match=repeats",
            short=("repeats",),
        ),
        FieldSpec(
            "centre",
            "Middle of the blank",
            "its middle",
            kind="choice",
            first="none",
            choices=tuple(Option(key, title) for key, title in CENTRES.items()),
            when="match=size",
            short=("centre",),
        ),
        FieldSpec(
            "start_mm",
            "Start in the repeat",
            "cut",
            "{mm} into a repeat",
            first=0.0,
            when="centre=none",
            short=("start",),
        ),
        FieldSpec(
            "edges",
            "Its edges",
            "",
            kind="choice",
            first="plain",
            choices=tuple(Option(key, title) for key, title in EDGES.items()),
            short=("edges",),
        ),
    ),
    facts=PatternedFacts,
)
