"""How a route is put together: shared steps, what a style says over them, one blank or joint at a time."""

from typing import Any

import pytest

from ringcraft import routes
from ringcraft.metals import METALS
from ringcraft.routes import finish_schedule, route
from ringcraft.routes.facts import Facts
from ringcraft.styles import STYLES
from tests.orders import plan, style_plan


def facts(**more: Any) -> Facts:
    blank = Facts({"cut": "66.0", "blank": "outer band"}, {"thin": True}, {"cut": (66.0, "66.0")}, ())
    base: dict[str, Any] = {
        "words": {"cut": "60.3", "blank": "band", "solder": "hard"},
        "holds": {"thin": False, "wide": True},
        "expected": {"cut": (60.3, "60.3")},
        "papers": ("320 paper", "rouge"),
        "blanks": {"outer-1": blank, "outer-2": blank},
        "joints": {"together": {"solder": "medium"}},
        "roles": {"outer": ("outer-1", "outer-2")},
    }
    return Facts(**{**base, **more})


@pytest.fixture
def table(monkeypatch: pytest.MonkeyPatch) -> list[dict[str, Any]]:
    """A route that a test fills, with one shared step."""
    listed: list[dict[str, Any]] = []
    shared = {
        "key": "scribe",
        "station": "cut",
        "title": "Scribe {cut}",
        "do": ["At {cut}."],
        "measure": ["cut-length"],
    }
    monkeypatch.setattr(routes, "record", lambda name: {"step": listed})
    real = routes.rows
    monkeypatch.setattr(routes, "rows", lambda name, key="row": (shared,) if name == "steps" else real(name, key))
    return listed


def test_a_shared_step_is_taken_as_it_is_or_said_over(table: list[dict[str, Any]]) -> None:
    table += [{"use": "scribe"}, {"use": "scribe", "key": "again", "title": "Twice", "more_do": ["Look."]}]
    first, second = route("x", facts())
    assert (first.title, first.do) == ("Scribe 60.3", ("At 60.3.",))
    assert (second.key, second.title, second.do) == ("again", "Twice", ("At 60.3.", "Look."))


def test_a_step_for_each_blank_of_a_role_has_its_own_words_and_measures(table: list[dict[str, Any]]) -> None:
    table += [{"use": "scribe", "each": "outer"}]
    steps = route("x", facts())
    assert [step.key for step in steps] == ["scribe-outer-1", "scribe-outer-2"]
    assert steps[0].title == "Scribe 66.0"
    assert steps[0].measure[0].key == "cut-length@outer-1"
    assert steps[0].measure[0].title == "cut length as measured, outer band"
    assert steps[0].measure[0].expected == 66.0
    assert route("x", facts(roles={})) == ()


def test_steps_in_a_row_for_a_role_are_worked_blank_by_blank(table: list[dict[str, Any]]) -> None:
    one = {"key": "form", "station": "form", "title": "Form", "each": "outer"}
    table += [{"use": "scribe", "each": "outer"}, one, {"use": "scribe", "key": "last"}]
    keys = [step.key for step in route("x", facts())]
    assert keys == ["scribe-outer-1", "form-outer-1", "scribe-outer-2", "form-outer-2", "last"]


def test_a_step_of_one_joint_takes_its_solder(table: list[dict[str, Any]]) -> None:
    table += [{"key": "solder", "station": "join", "title": "With {solder}", "joint": "together"}]
    assert route("x", facts())[0].title == "With medium"


def test_what_does_not_hold_is_left_out(table: list[dict[str, Any]]) -> None:
    line = {"text": "Fine blade.", "when": "thin"}
    table += [
        {"key": "a", "station": "cut", "title": "a", "when": "thin"},
        {"key": "b", "station": "cut", "title": "b", "when": "wide", "do": [line, "Saw."]},
        {"key": "c", "station": "cut", "title": "c", "blank": "outer-1", "do": [line]},
    ]
    made = {step.key: step for step in route("x", facts())}
    assert set(made) == {"b", "c-outer-1"}
    assert made["b"].do == ("Saw.",)
    assert made["c-outer-1"].do == ("Fine blade.",)


def test_a_later_blank_does_not_change_the_shape_of_the_ring(table: list[dict[str, Any]]) -> None:
    table += [{"key": "form", "station": "form", "title": "Form", "becomes": "open", "each": "outer"}]
    assert {step.becomes for step in route("x", facts())} == {""}


@pytest.mark.parametrize("metal", METALS.values(), ids=METALS)
def test_a_wide_band_gets_no_fewer_papers(metal: Any) -> None:
    narrow, wide = finish_schedule(metal, wide=False), finish_schedule(metal, wide=True)
    assert set(narrow) <= set(wide)
    keys = [step.key for step in plan("half-round", metal=metal.key).route if step.key.startswith("finish-")]
    assert len(keys) == len(narrow)


@pytest.mark.parametrize("style", STYLES)
def test_minutes_are_counted_and_waits_are_by_themselves(style: str) -> None:
    made = style_plan(style)
    assert sum(step.hands_min for step in made.route) > 20
    assert all(step.hands_min > 0 for step in made.route)
    if made.joints:
        assert any(step.wait_min >= 5 for step in made.route if step.station == "pickle")


@pytest.mark.parametrize("style", STYLES)
def test_hot_and_sharp_steps_carry_their_caution(style: str) -> None:
    for step in style_plan(style).route:
        said = " ".join((step.title, *step.do)).lower()
        if "blade" in said or " saw " in f" {said} ":
            assert step.caution, step.key
        if step.station == "pickle" and "pickle" in step.title.lower():
            assert any("acid into water" in line for line in step.caution), step.key
