"""The kinds of work that stand on a bench, one entry each: how an order is read, planned, followed and judged.

Bench, card, papers, job file and scheduling ask this registry and know no kind behind it.
"""

from __future__ import annotations

from collections.abc import Callable, Mapping
from dataclasses import dataclass, replace
from types import MappingProxyType
from typing import Any

from pydantic import TypeAdapter

from ringcraft import __version__
from ringcraft.errors import BadRequest, CraftError
from ringcraft.following.inspection import Verdict, replan, sets_the_plan, verdicts
from ringcraft.heat.torch import Torches
from ringcraft.practice import judging as practising
from ringcraft.practice import sheets as practice_sheets
from ringcraft.practice import words as practice_words
from ringcraft.practice.plan import PracticePlan, plan_practice, read_practice
from ringcraft.resize import judging as resizing
from ringcraft.resize import sheets as resize
from ringcraft.resize import words as resize_words
from ringcraft.resize.plan import ResizePlan, answer_type, plan_resize, read_resize
from ringcraft.routes.steps import Step
from ringcraft.styles import AnyPlan, plan_ring, read_ring
from ringcraft.styles import sheets as styles
from ringcraft.styles import words as style_words
from ringcraft.styles.base import RingPlan
from ringcraft.work.fields import FieldSpec
from ringcraft.work.joining import NO_LOOKS, JointLook, made_of
from ringcraft.work.kept import read_kept, with_states
from ringcraft.work.order import AtSheet
from ringcraft.work.plan import PLAN_VERSION, WorkPlan
from ringcraft.work.sheets import JoinSheet, sheet_at
from ringcraft.work.telling import SheetWords

NOTHING_ASKED: Mapping[str, Step] = MappingProxyType({})
SAME_MM = 0.0005  # cut lengths closer than this are one and the same figure


@dataclass(frozen=True)
class Work:
    """One kind of work.

    ``read`` takes plain JSON data to a typed order (raises BadRequest), ``plan`` an order to its plan (CraftError),
    ``measured`` the same for the stock as measured, beside the plan that was kept, ``moves`` whether a measure
    changes the plan at all, ``judge`` what each measure means, ``at_sheet`` what it answers where a joint or a heat
    is opened, ``words`` how the fields of an order are called, ``says`` the paragraphs of its sentence where the kind
    declares them all. ``shape`` is the type of its plan, whose ``kept`` are read whatever their age. ``comes_in``:
    it is a customer's own thing, with a slip, photographs and a metal that is not ours to choose. Not
    ``for_customer``: it is nobody's ring, teaches nothing of rings and stands in no logbook.
    """

    key: str
    title: str
    read: Callable[[object], Any]
    plan: Callable[[Any], WorkPlan]
    measured: Callable[[Any, Any, Mapping[str, float]], WorkPlan]
    moves: Callable[[Any, Mapping[str, float]], bool]
    judge: Callable[[Any, Any, Mapping[str, float]], tuple[Verdict, ...]]
    at_sheet: Callable[[Any, Any], AtSheet]
    words: Callable[[Mapping[str, Any]], SheetWords]
    shape: type[WorkPlan]
    answer: TypeAdapter[Any]
    comes_in: bool = False
    for_customer: bool = True
    says: tuple[tuple[FieldSpec, ...], ...] = ()

    def kept(self, data: object) -> WorkPlan:
        """A kept plan as it was, in today's shape; raises KeptPlanError."""
        return read_kept(self.answer, data)


MAKE = Work(
    key="make",
    title="a ring to make",
    read=read_ring,
    plan=plan_ring,
    measured=lambda order, plan, values: replan(order, values),
    moves=sets_the_plan,
    judge=verdicts,
    at_sheet=styles.at_sheet,
    words=style_words.sheet_words,
    shape=RingPlan,
    answer=TypeAdapter(AnyPlan),
)
RESIZE = Work(
    key="resize",
    title="a ring to resize",
    read=read_resize,
    plan=plan_resize,
    measured=resizing.replan,
    moves=resizing.moves,
    judge=resizing.verdicts,
    at_sheet=resize.at_sheet,
    words=resize_words.sheet_words,
    shape=ResizePlan,
    answer=answer_type(),
    comes_in=True,
    says=(resize_words.SAYS, resize_words.HOW),
)
PRACTICE = Work(
    key="practice",
    title="a practice",
    read=read_practice,
    plan=plan_practice,
    measured=lambda order, plan, values: plan,
    moves=lambda order, values: False,
    judge=practising.verdicts,
    at_sheet=practice_sheets.at_sheet,
    words=practice_words.sheet_words,
    shape=PracticePlan,
    answer=TypeAdapter(PracticePlan),
    says=(practice_words.SAYS, practice_words.STOCK),
    for_customer=False,
)
WORKS: dict[str, Work] = {work.key: work for work in (MAKE, RESIZE, PRACTICE)}


@dataclass(frozen=True)
class Followed:
    """A job as it is followed: the plan then, the plan for what was measured, what each measure says.

    ``wrong`` is why the stock as measured cannot be planned, ``older`` what an older plan cannot answer any more.
    """

    plan: WorkPlan
    now: WorkPlan
    wrong: str
    older: str
    verdicts: tuple[Verdict, ...]


def follow(
    work: Work,
    order: object,
    plan: WorkPlan,
    values: Mapping[str, float],
    looks: Mapping[str, JointLook] = NO_LOOKS,
    asked: Mapping[str, Step] = NOTHING_ASKED,
) -> Followed:
    """Follow a kept plan with the measures taken [mm or g] and what was seen at its joints, by step.

    A step that asks for a measure goes on saying what was ``asked`` when it was read, by the measure's key: what was
    read before it counts, not its own reading. Where that was not kept, the kept plan asked.
    Where today's rules give another figure for the same order, the kept figure stands and the measures are judged
    against it: what is new in the rules must not look like something that was measured.
    """
    plan = with_states(plan)
    now, wrong, older = plan, "", ""
    try:
        read = work.read(order)
        made, solders = made_of(plan, looks)
        if made or solders:
            read = replace(read, made=made, seam_solders=solders)
        if made or solders or work.moves(read, values):
            if is_current(plan):
                now = _as_asked(work, read, plan, work.measured(read, plan, values), values, asked)
            elif same_cuts(plan, work.plan(read)):
                now, older = _beside_kept_steps(plan, work.measured(read, plan, values))
            else:
                older = (
                    f"Planned by version {plan.engine}, whose figures stand: what was measured is not worked into "
                    "them. Plan it anew beside it to see what today's rules say."
                )
    except (CraftError, BadRequest) as problem:
        error = problem.errors[0] if isinstance(problem, BadRequest) else problem
        wrong = f"{error.message} {error.hint}".strip()
    return Followed(plan, now, wrong, older, work.judge(plan, now, values))


def _as_asked(
    work: Work, order: Any, plan: WorkPlan, now: WorkPlan, values: Mapping[str, float], asked: Mapping[str, Step]
) -> WorkPlan:
    """The plan as measured, its steps in the words in which they asked for what was measured."""
    kept = {step.key: step for step in plan.route}

    def worded(step: Step) -> Step:
        own = {ask.key: values[ask.key] for ask in step.measure if ask.key in values}
        if not own or not work.moves(order, own):
            return step
        then = next((asked[key] for key in own if key in asked and asked[key].key == step.key), kept.get(step.key))
        return replace(then, after=step.after) if then else step

    return replace(now, route=tuple(worded(step) for step in now.route))


def sheet_of(
    work: Work,
    order: object,
    plan: WorkPlan,
    values: Mapping[str, float],
    looks: Mapping[str, JointLook],
    step: str,
    times: Mapping[str, int],
    torches: Torches = (),
    asked: Mapping[str, Step] = NOTHING_ASKED,
) -> JoinSheet | None:
    """What a step of a kept plan opens: its joint, its heat, its annealing; None for another step.

    Raises CraftError or BadRequest where the order cannot be read any more.
    """
    seen = follow(work, order, plan, values, looks, asked)
    made, solders = made_of(seen.plan, looks)
    read = replace(work.read(order), made=made, seam_solders=solders)
    return sheet_at(read, work.at_sheet(read, seen.now), seen.plan, seen.now, step, times, looks, torches)


def _beside_kept_steps(plan: WorkPlan, now: WorkPlan) -> tuple[WorkPlan, str]:
    """The figures for what was measured, beside the steps as they were kept.

    Today's route is never put in their place, so what moved is said.
    """
    then = {blank.name: blank.cut_text for blank in plan.blanks}
    moved = [f"{one.title} {one.cut_text}" for one in now.blanks if then.get(one.name) != one.cut_text]
    said = f"Planned by version {plan.engine}: its steps stand as they were kept, with the lengths as planned then."
    if moved:
        said += f" For what was measured: {', '.join(moved)}."
    return replace(now, route=plan.route, start=plan.start), said


def is_current(plan: WorkPlan) -> bool:
    """Whether a plan was made by this version."""
    return plan.engine == __version__ and plan.plan_version == PLAN_VERSION


def same_cuts(one: WorkPlan, other: WorkPlan) -> bool:
    """Whether two plans lead with the same figure and cut the same pieces to the same lengths."""
    if one.main_figure() != other.main_figure():
        return False
    cuts = [{blank.name: blank.cut_length_mm for blank in plan.blanks} for plan in (one, other)]
    return cuts[0].keys() == cuts[1].keys() and all(abs(cuts[0][k] - cuts[1][k]) < SAME_MM for k in cuts[0])
