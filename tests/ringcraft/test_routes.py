"""How a route is put together: shared steps, what a style says over them, one blank or joint at a time."""

from dataclasses import dataclass
from typing import Any

import pytest

from ringcraft.metals import METALS
from ringcraft.routes import steps as routes
from ringcraft.routes.facts import Facts, RouteFacts, StyleFacts
from ringcraft.routes.finishing import finish_schedule
from ringcraft.routes.steps import Step, check_route
from ringcraft.routes.steps import route as worked
from ringcraft.sections import Stock, section_of
from ringcraft.styles import STYLES
from ringcraft.units import IN_MM, Length
from ringcraft.vbench.pieces import Piece as Standing
from ringcraft.vbench.pieces import stock_piece
from tests.orders import plan, style_plan

OUTER = Length(66.0, spec=".1f")


@dataclass(frozen=True)
class Piece(RouteFacts):
    cut: Length = OUTER
    blank: str = "outer band"
    thin: bool = True


@dataclass(frozen=True)
class Seam(RouteFacts):
    solder: str = "medium"


def facts(**more: Any) -> Facts:
    base: dict[str, Any] = {
        "values": {
            "cut": Length(60.3, spec=".1f"),
            "blank": "band",
            "solder": "hard",
            "thin": False,
            "wide": True,
            "fahrenheit_too": False,
        },
        "papers": ("320 paper", "rouge"),
        "told": lambda mm: f"{mm:.1f}",
        "length": IN_MM,
        "blanks": {"outer-1": Piece(), "outer-2": Piece()},
        "joints": {"together": Seam()},
        "roles": {"outer": ("outer-1", "outer-2")},
    }
    return Facts(**{**base, **more})


SECTION = section_of(Stock(profile="rectangle", width_mm=4.0, thickness_mm=1.5))


def start() -> dict[str, Standing]:
    return {name: stock_piece("sterling", SECTION, 70.0) for name in ("band", "outer-1", "outer-2")}


def route(table: str, given: Facts) -> tuple[Step, ...]:
    return worked(table, given, start(), {})


@pytest.fixture
def table(monkeypatch: pytest.MonkeyPatch) -> list[dict[str, Any]]:
    """A route that a test fills, with one shared step."""
    listed: list[dict[str, Any]] = []
    monkeypatch.setattr(routes, "_listed", routes._listed.__wrapped__)  # not kept: each test fills its own
    shared = {
        "key": "scribe",
        "station": "cut",
        "title": "Scribe {cut}",
        "do": ["At {cut}."],
        "measure": ["cut-length"],
    }
    monkeypatch.setattr(routes, "record", lambda name: {"step": listed})
    monkeypatch.setattr(routes, "SHARED", {"scribe": shared})
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
    assert steps[0].title == "Scribe 66.0, outer band"
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
    formed = {"op": "form", "shape": "open", "strain": 0.1}
    table += [{"key": "form", "station": "form", "title": "Form", "does": [formed], "each": "outer"}]
    assert {step.becomes for step in route("x", facts())} == {""}
    table[:] = [{"key": "form", "station": "form", "title": "Form", "does": [formed]}]
    assert [step.becomes for step in route("x", facts())] == ["open"]


STEP = {"key": "a", "station": "cut", "title": "a"}


@pytest.mark.parametrize(
    ("deviation", "said"),
    [
        ({"title": "Cut at {cutt}"}, "cutt"),
        ({"do": [{"text": "Shear it.", "when": "sheared"}]}, "sheared"),
        ({"do": [{"text": "Shear it.", "when": "blank"}]}, "bool is called blank"),
        ({"figure": "{wide}"}, "wide"),
        ({"unit": "{mn}"}, "mn"),
        ({"when": "closed"}, "closed"),
        ({"measure": ["length-at-last"]}, "length-at-last"),
        ({"caution": ["blades"]}, "blades"),
        ({"does": [{"op": "sew"}]}, "no op called sew"),
        ({"does": [{"op": "cut", "to_mm": "cutt"}]}, "called cutt"),
        ({"does": [{"op": "cut", "to_mm": "wide"}]}, "called wide"),
        ({"does": [{"op": "cut"}]}, "cut lacks its to_mm"),
        ({"does": [{"op": "cut", "too_mm": 3.0}]}, "no field called too_mm"),
        ({"does": [{"op": "close", "when": "cut"}]}, "bool is called cut"),
        ({"does": [{"op": "{coolop}", "how": "x"}]}, "called coolop"),
    ],
)
def test_a_slip_of_the_pen_in_a_route_is_found_when_the_styles_are_imported(
    table: list[dict[str, Any]], deviation: dict[str, Any], said: str
) -> None:
    table += [{**STEP, "title": "Cut at {cut}", "when": "wide", "measure": ["cut-length"], "caution": ["blade"]}]
    check_route("x", StyleFacts)
    table += [{**STEP, **deviation}]
    with pytest.raises(LookupError, match=said):
        check_route("x", StyleFacts)


@pytest.mark.parametrize(("from_mm", "wide"), [(4.0, True), (9.0, False)])
def test_a_band_is_wide_from_where_the_shop_says(from_mm: float, wide: bool) -> None:
    ways = {"wide_quarter_from_mm": from_mm, "wide_half_from_mm": from_mm + 2}
    made = plan("rectangle", stock={"width_mm": 5.0 if wide else 8.0}, **ways)
    papers = [step.title for step in made.route if step.key.startswith("finish-")]
    assert ("1500 paper" in papers) == wide
    read = next(step for step in made.route if step.key == "round")
    assert ("A band this wide is read at its middle." in read.do) == wide
    assert (made.wide is not None) == wide


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
