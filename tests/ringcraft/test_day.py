from datetime import UTC, datetime, timedelta
from typing import Any

from ringcraft.following.day import OpenJob, plan_day

NOW = datetime(2026, 3, 4, 9, 0, tzinfo=UTC)


def job(number: int, **changes: Any) -> OpenJob:
    base: dict[str, Any] = {
        "id": number,
        "name": f"Job {number}",
        "due": NOW + timedelta(days=5),
        "step": "form",
        "title": "Bend to a D",
        "station": "form",
        "torch": False,
        "step_wait_min": 0.0,
        "hands_left_min": 60.0,
        "wait_left_min": 20.0,
        "ready_at": None,
    }
    return OpenJob(**{**base, **changes})


def ids(*jobs: OpenJob) -> list[int]:
    return [place.id for place in plan_day(jobs, NOW).order]


def test_what_is_due_today_goes_before_what_has_time() -> None:
    assert ids(job(1), job(2, due=NOW + timedelta(hours=3))) == [2, 1]


def test_of_two_due_today_the_one_with_more_work_left_goes_first() -> None:
    soon = NOW + timedelta(hours=4)
    assert ids(job(1, due=soon), job(2, due=soon, hands_left_min=180)) == [2, 1]


def test_with_time_to_spare_what_starts_a_wait_goes_first() -> None:
    assert ids(job(1, due=NOW + timedelta(days=3)), job(2, step_wait_min=15), job(3, due=None)) == [2, 1, 3]


def test_what_is_in_the_pot_waits_until_it_is_ready() -> None:
    in_pot = job(1, due=NOW + timedelta(hours=2), ready_at=NOW + timedelta(minutes=7))
    day = plan_day((in_pot, job(2)), NOW)
    assert day.now_id == 2
    assert day.order[1].why == "waits 7 min more"
    assert "Job 1 is ready in 7 min" in day.says
    assert plan_day((in_pot,), NOW + timedelta(minutes=8)).now_id == 1
    alone = plan_day((in_pot,), NOW)
    assert alone.now_id is None
    assert alone.says == "Everything waits. Job 1 is ready in 7 min."


def test_late_is_said_with_how_much() -> None:
    place = plan_day((job(1, due=NOW + timedelta(minutes=50)),), NOW).order[0]
    assert place.late
    assert place.why == "short by 30 min of work"


def test_rings_at_the_torch_can_share_it() -> None:
    torch = [job(n, torch=True, station="join", step_wait_min=3) for n in (1, 2, 3)]
    day = plan_day((*torch, job(4)), NOW)
    assert set(day.torch_ids) == {1, 2, 3}
    assert day.says.startswith("Job 2 and Job 3 can share the torch with it.")
    first = job(9, due=NOW + timedelta(hours=2))
    assert plan_day((first, *torch), NOW).says.startswith("3 rings can share one torch session.")


def test_an_empty_bench_says_so() -> None:
    assert plan_day((), NOW).says == "Nothing is on the bench."
