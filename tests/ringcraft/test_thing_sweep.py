"""Every three properties of a ring that comes in meet at least once: its route is worked, and again by a second bench.

All pairs run in every `make test`; the triples, by slices, in `make test-all`.
"""

from __future__ import annotations

from collections.abc import Iterable
from typing import Any

import pytest

from ringcraft.errors import CraftError
from ringcraft.resize.judging import replan, verdicts
from ringcraft.resize.plan import ResizePlan, plan_resize, read_resize
from ringcraft.schema import to_json
from ringcraft.vbench.needs import UnmetNeedError
from tests.ringcraft.benchwork import replay
from tests.ringcraft.test_resize_bench import _same
from tests.ringcraft.thingcases import LEVELS, NAMES, Row, covering, order_of

MOST = 6000
PARTS = 24
#: Fields at which a combination is refused on purpose: two heats that cannot be one, a way that is none.
REFUSED = ("join.heats", "method")


def planned(row: Row) -> tuple[dict[str, Any], ResizePlan | None, dict[str, float]]:
    """A row's order with its plan, forced with a reason where it is never done; None where it is refused as it should."""
    data, off = order_of(row)
    try:
        try:
            plan = plan_resize(read_resize(data))
        except CraftError as never:
            if never.field != "override_reason":
                raise
            data["override_reason"] = "she wishes it"
            plan = plan_resize(read_resize(data))
    except UnmetNeedError as broken:
        pytest.fail(f"{data}: {broken}")
    except CraftError as refused:
        if refused.field not in REFUSED:
            pytest.fail(f"{data}: {refused}")
        return data, None, {}
    asked = {ask.key: ask.expected for step in plan.route for ask in step.measure}
    return data, plan, {key: (asked[key] or 0.0) + mm for key, mm in off.items() if asked.get(key) is not None}


def check(data: dict[str, Any], plan: ResizePlan) -> None:
    """What must be so of every plan, whatever the ring."""
    advice = plan.chosen.advice
    assert not plan.unmet or advice == "never", (data, plan.unmet)
    told = to_json(plan)
    state = told["start"]
    for step in told["route"]:
        state = replay(state, step["does"])
        assert _same(state, step["after"]), (data, step["key"])
    ring = plan.route[-1].after["ring"]
    if plan.method not in ("refuse", "true-first") and not plan.unmet:
        assert all(one.in_ or one.loose for one in ring.stones), data
        assert not ring.coats
        assert ring.shut
    for unmet in plan.unmet:
        cautions = next(step.caution for step in plan.route if step.key == unmet.step)
        assert any(unmet.need in caution for caution in cautions), (data, unmet)
    for one in plan.stone_advice:
        if one.care in ("stay", "shield", "water") and plan.chosen.torch and not plan.unmet:
            assert one.high_c is not None, (data, one)
        struck = [deed for step in plan.route for deed in step.does if deed.op in ("true", "round")]
        if not one.struck and not one.comes_out and not plan.unmet:
            assert all(deed.by == "hand" or deed.where for deed in struck), (data, one)  # type: ignore[union-attr]


def sweep(rows: Iterable[Row]) -> int:
    """Every row planned, worked again, followed with its readings; how many plans that were."""
    count = 0
    for row in rows:
        data, plan, measured = planned(row)
        if plan is None:
            continue
        count += 1
        check(data, plan)
        if measured:
            now = replan(read_resize(data), plan, measured)
            assert verdicts(plan, now, measured)
            if now.stopped:
                keys = [step.key for step in now.route]
                assert keys[-1] == "ask-again"
                assert not [step for step in now.route if step.station == "cut"], data
    return count


def test_every_pair_of_properties_is_worked_and_worked_again() -> None:
    rows = covering(2, MOST)
    assert sweep(rows) > len(rows) / 2


def test_the_triples_are_few_enough_and_all_of_them() -> None:
    """The array is one: every three levels of three properties stand in some row. Looked at from its levels."""
    rows = covering(2, MOST)
    for name in NAMES:
        assert {row[NAMES.index(name)] for row in rows} == set(range(len(LEVELS[name])))


@pytest.mark.sweep
@pytest.mark.parametrize("part", range(PARTS))
def test_every_triple_of_properties_is_worked_and_worked_again(part: int) -> None:
    rows = covering(3, MOST)
    assert len(rows) <= MOST
    assert sweep(rows[part::PARTS]) > 0
