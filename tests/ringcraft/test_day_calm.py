"""A plan that is made again: calm while all goes as planned, better where that saves much."""

import random

import pytest

from tests.ringcraft.daywork import Checked, Day, on_time, random_day
from tests.ringcraft.test_day_plan import a_day, at, planned, step

MOVES = 2000


def starts(out: Day, without: list[Day]) -> dict[tuple[str, int], tuple[float, str]]:
    gone = {(one["job"], one["step"]) for one in without}
    found = {(one["job"], one["step"]): (one["at_min"], one["person"]) for one in out["starts"]}
    return {task: at for task, at in found.items() if task not in gone}


def after_a_tick_on_time(seed: int) -> bool:
    asked = random_day(seed, MOVES)
    out = planned(asked)
    later = on_time(asked, out, random.Random(seed))
    if later is None:
        return True
    again = planned(later)
    assert not Checked(later, again).wrong
    shown = {(one["job"], one["step"]): (one["at_min"], one["person"]) for one in later["before"]}
    return starts(again, later["begun"]) == shown and not again["changed"]


def test_a_tick_on_time_changes_nothing_in_nineteen_of_twenty_days() -> None:
    assert sum(after_a_tick_on_time(seed) for seed in range(100, 120)) >= 19


@pytest.mark.sweep
@pytest.mark.parametrize("tens", range(8))
def test_nor_does_it_in_many_more(tens: int) -> None:
    assert sum(after_a_tick_on_time(seed) for seed in range(200 + 20 * tens, 220 + 20 * tens)) >= 18


def shown(asked: Day, **changes: object) -> Day:
    """The same day planned again, with what the first plan shows."""
    out = planned(asked)
    return {**asked, "before": out["starts"], "sessions": out["sessions"], **changes}


def test_a_new_job_takes_its_place_and_leaves_the_others_theirs() -> None:
    asked = a_day([step("work", 60), step("file", 30)], [step("work", 45)], moves=MOVES)
    first = planned(asked)
    more = [*asked["jobs"], {"id": "new", "steps": [step("work", 20)]}]
    again = planned(shown(asked, jobs=more))
    told = {(one["job"], one["step"], one["at_min"]) for one in again["starts"]}
    assert {(one["job"], one["step"], one["at_min"]) for one in first["starts"]} <= told
    assert not again["changed"]


def test_a_promise_that_is_moved_up_reshuffles_and_says_what_it_saves() -> None:
    asked = a_day(*[[step("work", 60)] for _ in range(4)], moves=MOVES)
    last = max(planned(asked)["starts"], key=lambda one: one["at_min"])["job"]
    pressing = shown(asked)
    pressing["jobs"] = [{**job, "due_min": 130} if job["id"] == last else job for job in asked["jobs"]]
    again = planned(pressing)
    assert again["changed"]
    assert not again["late"]
    assert "late minutes" in again["says"][0]


def test_the_next_half_hour_stays_even_then() -> None:
    asked = a_day(*[[step("work", 20)] for _ in range(4)], moves=MOVES)
    first = planned(asked)
    order = [one["job"] for one in sorted(first["starts"], key=lambda one: one["at_min"])]
    pressing = shown(asked)
    pressing["jobs"] = [{**job, "due_min": 20} if job["id"] == order[-1] else job for job in asked["jobs"]]
    again = planned(pressing)
    assert [at(again, order[0], 0), at(again, order[1], 0)] == [0, 20]
    assert at(again, order[-1], 0) == 40


def test_little_is_not_worth_a_reshuffle() -> None:
    asked = a_day([step("work", 40)], [step("work", 31)], [step("work", 31)], moves=MOVES)
    out = planned(asked)
    order = [one["job"] for one in sorted(out["starts"], key=lambda one: one["at_min"])]
    ends = at(out, order[-1], 0) + (40 if order[-1] == "J0" else 31)
    pressing = shown(asked)
    pressing["jobs"] = [{**job, "due_min": ends - 9} if job["id"] == order[-1] else job for job in asked["jobs"]]
    again = planned(pressing)
    assert not again["changed"]
    assert again["weighted_late_min"] == 9


def test_a_ring_that_went_to_the_setter_loses_its_place_and_holds_nobody_up() -> None:
    asked = a_day([step("work", 40), step("work", 40)], [step("work", 50)], moves=MOVES)
    gone = shown(asked)
    gone["jobs"] = [{**job, "from_min": 1440} if job["id"] == "J0" else job for job in asked["jobs"]]
    again = planned(gone)
    assert at(again, "J0", 0) == 1440
    assert at(again, "J1", 0) == 0


def test_hands_that_are_free_early_may_begin_early() -> None:
    asked = a_day([step("work", 20)], [step("work", 20)], moves=0)
    before = [
        {"job": "J0", "step": 0, "at_min": 20, "person": "a"},
        {"job": "J1", "step": 0, "at_min": 40, "person": "a"},
    ]
    stays = planned({**asked, "now_min": 10, "before": before})
    assert (at(stays, "J0", 0), at(stays, "J1", 0)) == (20, 40)
    sooner = planned({**asked, "now_min": 10, "before": before, "pull": True})
    assert (at(sooner, "J0", 0), at(sooner, "J1", 0)) == (10, 30)


def test_a_pin_moves_its_own_job_and_leaves_the_others_where_they_were() -> None:
    asked = a_day([step("work", 10), step("file", 10)], [step("work", 20)], [step("work", 20)], moves=0)
    asked["jobs"][0]["due_min"] = 40
    first = planned(asked)
    assert at(first, "J0", 0) == 0
    pinned = shown(asked, pinned=[{"job": "J0", "step": 0, "at_min": 100, "person": "a"}], pull=True)
    again = planned(pinned)
    assert (at(again, "J0", 0), at(again, "J0", 1)) == (100, 110)
    assert sorted([at(again, "J1", 0), at(again, "J2", 0)]) == [0, 20]


def test_a_person_gone_home_leaves_the_work_to_the_other() -> None:
    asked = a_day([step("work", 60)], [step("work", 60)], moves=MOVES)
    asked["people"].append({"key": "b", "hours": [[0, 240]]})
    alone = shown(asked)
    alone["people"] = [asked["people"][0]]
    again = planned(alone)
    assert {one["person"] for one in again["starts"]} == {"a"}
    assert not Checked(alone, again).wrong


@pytest.mark.parametrize("pull", [False, True])
def test_who_is_back_only_tomorrow_leaves_today_s_work_to_the_other(pull: bool) -> None:
    asked = a_day([step("work", 60)], [step("work", 60)], [step("work", 30)], moves=0)
    asked["people"] = [{"key": key, "hours": [[0, 240], [1440, 1680]]} for key in "ab"]
    left = shown(asked, pull=pull, now_min=10)
    left["people"][1]["hours"] = [[0, 10], [1440, 1680]]
    again = planned(left)
    assert {one["person"] for one in again["starts"]} == {"a"}
    assert max(one["at_min"] for one in again["starts"]) < 240
    assert not Checked(left, again).wrong


def test_a_midday_or_an_evening_leaves_a_step_to_whose_it_is() -> None:
    asked = a_day([step("work", 60)], [step("work", 60)], moves=0)
    asked["people"] = [{"key": "a", "hours": [[0, 65], [145, 300]]}, {"key": "b", "hours": [[0, 300]]}]
    first = shown(asked)
    mine = {one["job"]: one["person"] for one in first["before"]}
    assert sorted(mine.values()) == ["a", "b"]
    again = planned({**first, "now_min": 70})
    assert {one["job"]: one["person"] for one in again["starts"]} == mine


def test_a_torch_that_is_lit_goes_on_without_being_lit_again() -> None:
    asked = a_day([step("solder", 5)], now_min=30)
    asked["sessions"] = [{"person": "a", "from_min": 2, "lit_min": 10, "to_min": 30, "flame_min": 20}]
    again = planned(asked)
    assert (at(again, "J0", 0), len(again["sessions"])) == (30, 1)
    asked["now_min"] = 51
    assert at(planned(asked), "J0", 0) == 59
