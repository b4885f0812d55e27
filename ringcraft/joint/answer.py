"""The answer to a joint as it is seen: what to do next, what it costs, where it closes, with what it is soldered."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Annotated

from pydantic import TypeAdapter

from ringcraft.drawing.shapes import Drawing
from ringcraft.errors import BadRequest, CraftError
from ringcraft.joint.actions import Action, JointCase, alternatives_of, case_of, next_of, passes_left
from ringcraft.joint.asking import JointRequest
from ringcraft.joint.chips import Amount, amounts, chip_count, chip_reason
from ringcraft.joint.drawing import ring_drawing, view_drawings
from ringcraft.joint.seams import SeamView, metal_words, seam_views, solidus_margin_c
from ringcraft.measure.sizes import SCALES
from ringcraft.planning.joints import solder_book
from ringcraft.routes.building import times
from ringcraft.schema import IN_OWN_UNITS, read_request

AnyJoint = Annotated[JointRequest, IN_OWN_UNITS]
_READER: TypeAdapter[JointRequest] = TypeAdapter(AnyJoint)


@dataclass(frozen=True)
class NextStep:
    """What can be done at a joint: what it takes along the neutral line [mm, US sizes], where it closes then."""

    key: str
    title: str
    says: str
    costs_mm: float
    us_sizes: float
    costs_text: str
    closes_text: str


@dataclass(frozen=True)
class JointAnswer:
    """A joint as it stands. Lengths [mm]; ``closes_mm`` is its inside diameter if it is soldered so.

    ``instead`` is what file and saw would cost in place of the next step. ``chips`` is how much solder it wants with
    ``chip_reason`` why; ``amounts`` is the same in every form. ``seams`` are the earlier ones against this flow,
    ``solidus_margin_c`` [K] the metal's own; None where only a sheet knows. ``pass_mm`` is what a pass takes,
    ``passes_left`` how many leave it within half a size of what is wanted.
    """

    sound: bool
    next: NextStep
    alternatives: tuple[NextStep, ...]
    instead: str
    closes_mm: float
    closes_text: str
    lost_mm: float
    pass_mm: float
    pass_text: str
    passes_left: int | None
    pass_says: str
    limit_mm: float
    chips: int
    chip_reason: str
    amounts: tuple[Amount, ...]
    solder: str
    solder_title: str
    flow: str
    seams: tuple[SeamView, ...]
    solidus_margin_c: float | None
    metal_says: str
    views: dict[str, Drawing]
    ring: Drawing
    ring_says: str


def joint(data: object) -> JointAnswer:
    """From plain JSON data to an answer; raises BadRequest."""
    return answer_joint(read_request(_READER, data))


def answer_joint(order: JointRequest) -> JointAnswer:
    """The answer to a joint; raises BadRequest naming the field, its lengths in the order's own units."""
    try:
        return _answer(case_of(order))
    except CraftError as problem:
        raise BadRequest([problem.in_units(order.units)]) from None


def _answer(case: JointCase) -> JointAnswer:
    order, action = case.order, next_of(case)
    book = solder_book(order.solders)
    solder = book[order.solder or case.metal.solder]
    margin = solidus_margin_c(case.metal, solder)
    count = chip_count(case.section, order.gap_mm, order.chip)
    views, limit = view_drawings(case), case.seen.limit_mm
    return JointAnswer(
        sound=action.key == "solder",
        next=_step(case, action),
        alternatives=tuple(_step(case, one) for one in alternatives_of(case)),
        instead=_instead(case),
        closes_mm=case.closes_mm,
        closes_text=case.told(case.reads_mm),
        lost_mm=case.lost_mm,
        pass_mm=case.kerf_mm,
        pass_text=f"{case.length(case.kerf_mm):.2f}",
        passes_left=passes_left(case),
        pass_says=_pass_words(case),
        limit_mm=limit,
        chips=count,
        chip_reason=chip_reason(case.section, order.gap_mm, order.chip, count, case.length, limit),
        amounts=amounts(case.section, order.gap_mm, order.chip, order.units, fluxed=case.metal.of_family.fluxed),
        solder=solder.key,
        solder_title=solder.title,
        flow=solder.flow,
        seams=seam_views(order.seams, solder, case.metal, book),
        solidus_margin_c=margin,
        metal_says=metal_words(case.metal, solder, margin),
        views=views,
        ring=ring_drawing(case, action.where(case)),
        ring_says={"opposite": "bend here and here"}.get(action.where(case), ""),
    )


def _step(case: JointCase, action: Action) -> NextStep:
    costs = action.costs(case)
    sizes = costs / SCALES["us"].circumference_per_size_mm
    text = f"{case.length(costs):.2f}" if costs else ""
    return NextStep(action.key, action.title, action.says(case), costs, sizes, text, case.after(costs))


def _instead(case: JointCase) -> str:
    """What the file and the saw would cost instead, in a sentence; empty where there is no choice."""
    names = {"file": "filing it true", "saw": f"sawing it, {times(case.saw_passes)},"}
    said = []
    for one in alternatives_of(case):
        costs = one.costs(case)
        said.append(f"{names[one.key]} would cost {case.length(costs):.2f} and close it at {case.after(costs)}")
    return f"Instead, {'; '.join(said)}." if said else ""


def _pass_words(case: JointCase) -> str:
    left = passes_left(case)
    if left is None:
        return ""
    wanted = case.told(case.order.wanted_mm or 0.0)
    if left == 0:
        return f"not one more: it would close more than half a size below {wanted}"
    return f"{left} more {'leaves' if left == 1 else 'leave'} it within half a size of {wanted}"
