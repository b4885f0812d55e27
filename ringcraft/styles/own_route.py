"""A ring's route with the shop's own changes: worked beside ours, and refused where it breaks anything."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import replace

from ringcraft.errors import CraftError
from ringcraft.planning.own_steps import ADDED
from ringcraft.routes.facts import Facts
from ringcraft.routes.own import changed
from ringcraft.routes.sense import ending_words, ends_otherwise, looks_misplaced
from ringcraft.routes.steps import Step, listed
from ringcraft.vbench.needs import UnmetNeedError


class BrokenRouteError(CraftError):
    """A ring that the shop's own steps cannot be done to; its words name the ``step``, what it ``needs`` in a
    sentence, and the bare ``need``, which is the same for every ring.
    """


def by_own_steps(table: str, facts: Facts, work: Callable[[Facts], tuple[Step, ...]]) -> tuple[Step, ...]:
    """The route of a ring by the shop's own steps; raises BrokenRouteError where they break it.

    It is worked by ours too: nothing is measured against a route that would end in another ring.
    """
    ours = work(replace(facts, own_steps=()))
    rows = listed(table)
    for one in looks_misplaced(rows, changed(rows, facts.own_steps)):
        raise _broken(one.step, one.says)
    titles = {step.key: step.title for step in ours}
    titles |= {one.key: one.title for one in facts.own_steps if one.change == ADDED}
    try:
        own = work(facts)
    except UnmetNeedError as problem:
        need = _need(problem.message)
        said = f"“{titles.get(problem.field, problem.field)}” does not go then: {need}."
        raise _broken(problem.field, said, need) from None
    ends = ending_words(tuple(ends_otherwise(ours, own)))
    if ends:
        raise _broken("", ends)
    return own


def _need(message: str) -> str:
    return message.partition(": ")[2] or message


def _broken(step: str, said: str, need: str = "") -> BrokenRouteError:
    hint = "Make this ring by the usual steps, or change yours in the ways."
    return BrokenRouteError(
        "steps_by", "By your own steps it does not go: {needs}", hint, step=step, needs=said, need=need or said
    )
