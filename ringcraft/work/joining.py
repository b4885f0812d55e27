"""The joints of a piece of work as its card opens them: what is asked at each, all seams with their heats.

A joint is looked at where a step inspects it, and soldered at the step that solders it; both are found by what the
steps do, never by their names.
"""

from __future__ import annotations

import math
from collections.abc import Iterator, Mapping, Sequence
from dataclasses import dataclass, field
from types import MappingProxyType
from typing import Any, TypeGuard

from ringcraft.joint.seams import Holds
from ringcraft.metals import SOLDERS, UNKNOWN_SOLDER, Solder, SolderBook
from ringcraft.planning.joints import CLOSE_C, FIRST_SEAM, HEAD_SEAM, OLD_SEAM, SECOND_SEAM
from ringcraft.planning.made import AsMade, SeamSolder
from ringcraft.routes.steps import Step
from ringcraft.sections import Section, Stock, section_of
from ringcraft.vbench.deeds import Look, SolderJoint, Take
from ringcraft.vbench.pieces import Piece
from ringcraft.vbench.thing import place_on
from ringcraft.work.plan import WorkPlan

LOOKED_AT = ("joint", "first-seam")  # the keys of inspections that look through a joint
SEAM_TITLES = {OLD_SEAM: "the old seam", HEAD_SEAM: "the seams of the head"}
WATER_SHARE = 0.4  # how deep a ring hangs whose stone is kept under water, until somebody says; our own judgement
UNDER_SOLIDUS_C = 50.0  # where a solder of unknown flow is reckoned, below the metal; our own judgement


@dataclass(frozen=True)
class JointLook:
    """What was kept of a joint: passes really made, what the file took beyond the plan [mm], the solder chosen, its
    gap [mm] and the chips that are cut [mm].
    """

    passes: int | None = None
    filed_mm: float = 0.0
    solder: str = ""
    gap_mm: float = 0.0
    chip: Mapping[str, float] | None = None


NO_LOOKS: Mapping[str, JointLook] = MappingProxyType({})


@dataclass(frozen=True)
class AtJoint:
    """A step at a joint: the piece it is about, the joint that is soldered there or next, all that is soldered."""

    step: Step
    piece: str
    joint: str
    deed: SolderJoint | None
    before: Mapping[str, Piece]


@dataclass(frozen=True)
class SeamLine:
    """One seam of the work: in which heat it is made, how many heats it sees after that, the least margin in them.

    ``melts_c`` and ``margin_c`` are None where only a maker's sheet knows; ``stands`` is made, this or later.
    """

    key: str
    title: str
    solder: str
    heat: int
    melts_c: float | None
    flow: str
    later_heats: int
    margin_c: float | None
    holds: Holds
    stands: str
    says: str


def joints_at(plan: WorkPlan) -> Iterator[AtJoint]:
    """Every step of a route at which a joint is looked at or soldered, in order."""
    before: Mapping[str, Piece] = plan.start
    for place, step in enumerate(plan.route):
        deed = next((one for one in step.does if isinstance(one, SolderJoint)), None)
        looked = next((one for one in step.does if _looks_through(one)), None)
        if deed is not None:
            yield AtJoint(step, deed.into, deed.joint, deed, before)
        elif looked is not None:
            yield AtJoint(step, looked.piece, _next_joint(plan.route[place:], looked.piece), None, before)
        before = step.after


def _looks_through(deed: object) -> TypeGuard[Look]:
    return isinstance(deed, Look) and deed.op == "inspect" and deed.key in LOOKED_AT


def _next_joint(route: Sequence[Step], piece: str) -> str:
    """The joint of a piece that is soldered next."""
    for step in route:
        for deed in step.does:
            if isinstance(deed, SolderJoint) and piece in deed.pieces:
                return deed.joint
    return ""


def joint_at(plan: WorkPlan, step: str) -> AtJoint | None:
    """The joint at a step; None where there is none."""
    return next((one for one in joints_at(plan) if one.step.key == step), None)


def look_keys(plan: WorkPlan) -> tuple[str, ...]:
    """The steps at which something of a joint can be kept."""
    return tuple(one.step.key for one in joints_at(plan))


def passes_planned(plan: WorkPlan, at: AtJoint) -> int:
    """How many passes of the saw a kept plan made of this joint by the step at which it is looked at."""
    count = 0
    for step in plan.route:
        if step.key == at.step.key:
            break
        for deed in step.does:
            if isinstance(deed, Take) and deed.op == "saw-joint" and deed.piece == at.piece:
                count += deed.passes
    return count


def made_of(plan: WorkPlan, looks: Mapping[str, JointLook]) -> tuple[tuple[AsMade, ...], tuple[SeamSolder, ...]]:
    """What was kept at the joints as an order takes it; what is as planned is left out. The last look at a piece
    holds.
    """
    made: dict[str, AsMade] = {}
    solders: dict[str, SeamSolder] = {}
    for at in joints_at(plan) if looks else ():
        look = looks.get(at.step.key)
        if look is None:
            continue
        if look.passes is not None and at.deed is None:
            same = look.passes == passes_planned(plan, at) and not look.filed_mm
            for name in plan.order_names(at.piece):
                made.pop(name, None)
                if not same:
                    made[name] = AsMade(piece=name, passes=look.passes, filed_mm=look.filed_mm)
        planned = next((one.solder for one in plan.joints if one.key == at.joint), "")
        if look.solder and look.solder != planned and at.joint:
            solders[at.joint] = SeamSolder(joint=at.joint, solder=look.solder)
        elif look.solder:
            solders.pop(at.joint, None)
    return tuple(made.values()), tuple(solders.values())


def stock_of(section: Section) -> dict[str, Any]:
    """A section as the stock that has it."""
    stock: dict[str, Any] = {"profile": section.profile, "thickness_mm": section.thickness_mm}
    if not section.equal_sided:
        stock["width_mm"] = section.width_mm
    if section.side_mm:
        stock["side_mm"] = section.side_mm
    return stock


def section_at(plan: WorkPlan, at: AtJoint) -> Section:
    """The section that meets at a joint: that of its piece, as it stands there."""
    piece = at.before.get(at.piece) or next(iter(at.before.values()))
    names = {blank.name: blank.section for blank in plan.blanks}
    own = names.get(at.piece, plan.section)
    if abs(own.thickness_mm - piece.thickness_mm) < 1e-6 and abs(own.width_mm - piece.width_mm) < 1e-6:
        return own
    return section_of(Stock(profile="rectangle", width_mm=piece.width_mm, thickness_mm=piece.thickness_mm))


def inner_piece(at: AtJoint) -> Piece:
    """The piece at a joint that goes round the finger: of several, the smallest inside."""
    names = at.deed.pieces if at.deed else (at.piece,)
    pieces = [at.before[name] for name in names if name in at.before] or list(at.before.values())
    return min(pieces, key=lambda one: (one.shape == "strip", one.inside_mm))


def seams_before(plan: WorkPlan, at: AtJoint) -> tuple[tuple[str, str, bool], ...]:
    """The seams that are there already: key, solder, whether they are coated."""
    names = at.deed.pieces if at.deed else (at.piece,)
    return tuple(
        (key, solder, at.before[name].guarded)
        for name in names
        if name in at.before
        for key, solder in at.before[name].joined.items()
        if key != at.joint
    )


def seam_title(plan: WorkPlan, key: str) -> str:
    """How a seam is called."""
    return next((one.title for one in plan.joints if one.key == key), SEAM_TITLES.get(key, key))


@dataclass
class _Line:
    """A seam while the route is walked."""

    solder: Solder
    heat: int
    later: int = 0
    margins: list[float | None] = field(default_factory=list)
    guarded: list[bool] = field(default_factory=list)
    by_grade: list[bool] = field(default_factory=list)


def seam_lines(plan: WorkPlan, here: str, book: SolderBook) -> tuple[SeamLine, ...]:
    """Every seam of the work in the order of its heats, with what the later ones make of it; ``here`` is the joint
    that is looked at.
    """
    lines: dict[str, _Line] = {}
    order, heat, place = [], 0, 0
    for at in joints_at(plan):
        if at.deed is None:
            continue
        heat += 1
        new = book[at.deed.solder]
        for key, solder, guarded in seams_before(plan, at):
            line = lines.setdefault(key, _Line(book[solder], 0))
            line.later += 1
            melts = line.solder.melts_c
            line.margins.append(None if melts is None or new.flows_c is None else melts - new.flows_c)
            line.guarded.append(guarded)
            line.by_grade.append(new.series == line.solder.series and new.rank > line.solder.rank)
        lines.setdefault(at.joint, _Line(new, heat))
        order.append(at.joint)
        place = len(order) if at.joint == here and not place else place
    done = set(order[: max(place - 1, 0)])
    return tuple(
        _seam_line(plan, key, line, "this" if key == here else "made" if key in done or line.heat == 0 else "later")
        for key, line in sorted(lines.items(), key=lambda one: one[1].heat)
    )


def _seam_line(plan: WorkPlan, key: str, line: _Line, stands: str) -> SeamLine:
    known = [margin for margin in line.margins if margin is not None]
    margin = min(known) if known and len(known) == len(line.margins) else None
    holds: Holds = "yes"
    if line.later:
        by_grade = margin is None and all(line.by_grade)
        least = margin if margin is not None else CLOSE_C if by_grade else -1.0
        holds = "yes" if least >= CLOSE_C else "unsure" if margin is None or least > 0 else "no"
    return SeamLine(
        key=key,
        title=seam_title(plan, key),
        solder="nobody knows which" if line.solder.key == UNKNOWN_SOLDER else line.solder.title,
        heat=line.heat,
        melts_c=line.solder.melts_c,
        flow=line.solder.flow,
        later_heats=line.later,
        margin_c=margin,
        holds=holds,
        stands=stands,
        says=_line_words(line, margin, holds),
    )


def _line_words(line: _Line, margin: float | None, holds: Holds) -> str:
    if not line.later:
        return "made last: nothing is heated after it"
    heats = "one heat" if line.later == 1 else f"{line.later} heats"
    coat = "coated for it" if all(line.guarded) else "coat it with anti-flux"
    if margin is None and holds == "yes":
        return f"sees {heats} more, each of a lower grade: it stays, by the maker's sheet"
    if margin is None:
        return f"sees {heats} more; where it begins to melt nobody knows: {coat}"
    if holds == "yes":
        return f"sees {heats} more; begins to melt {margin:.0f} above their flow: it stays whole"
    if margin > 0:
        return f"sees {heats} more; begins to melt only {margin:.0f} above their flow: flame off at the flash, {coat}"
    how = "just where they flow" if margin == 0 else f"{-margin:.0f} below their flow"
    return f"sees {heats} more; begins to melt {how}: {coat}, keep the flame off it"


def reckoned_flow_c(plan: WorkPlan, at: AtJoint, solder: Solder) -> tuple[float, bool]:
    """Where the solder of a joint flows [C], and whether that is only reckoned, below where the metal melts."""
    if solder.flows_c is not None:
        return solder.flows_c, False
    return inner_piece(at).begins_to_melt_c - UNDER_SOLIDUS_C, True


def solder_of(plan: WorkPlan, at: AtJoint, book: SolderBook) -> Solder:
    """The solder that a joint is made with."""
    if at.deed is not None:
        return book[at.deed.solder]
    planned = next((one.solder for one in plan.joints if one.key == at.joint), "")
    return book.get(planned) or SOLDERS[inner_piece(at).of.solder]


def places_of(plan: WorkPlan, at: AtJoint) -> Mapping[str, float]:
    """Where other seams lie, along the neutral line from the joint [mm]: to the right above nought.

    What runs along the new seam, or crosses it, lies at it. An older plan knows no places: there the seams of a head
    lie opposite and the two of an insert its length apart.
    """
    piece = inner_piece(at)
    round_mm = math.tau * (piece.inside_mm / 2 + piece.neutral_mm)
    here = (at.deed.at_mm or 0.0) if at.deed else 0.0
    known = {one.key: one.at_mm for one in piece.seams if one.at_mm is not None}
    if known:
        away = {key: place_on(place - here, round_mm) for key, place in known.items()}
        return {key: away.get(key, 0.0) for key, _, _ in seams_before(plan, at)}
    insert = insert_mm(plan, at)
    return {key: round_mm / 2 if key == HEAD_SEAM else -insert for key, _, _ in seams_before(plan, at)}


def insert_mm(plan: WorkPlan, at: AtJoint) -> float:
    """How far the two seams of an insert are apart [mm]; nought where there is but one."""
    insert = next((blank for blank in plan.blanks if blank.role == "insert"), None)
    if insert is None or at.joint not in (FIRST_SEAM, SECOND_SEAM):
        return 0.0
    return insert.formed_length_mm
