"""A route of the shop's own: steps added, left out, moved; worked before it is kept and at every order."""

from __future__ import annotations

import random
from typing import Any

import pytest

from ringcraft.errors import BadRequest
from ringcraft.own_routes import RouteRequest, refuse_breaks, try_route
from ringcraft.planning.own_steps import DEED_TITLES, STATIONS, OwnStep
from ringcraft.routes.own import changed, row_key
from ringcraft.routes.sense import ends_otherwise, looks_misplaced, plain_title
from ringcraft.routes.steps import listed
from ringcraft.styles import STYLES, ring
from ringcraft.styles.own_route import BrokenRouteError
from tests.orders import order, plan, style_order

NUMBER = {"change": "added", "after": "pickle-annealed", "title": "Number the inside", "says": "With the punches.",
          "station": "form", "hands_min": 4, "wait_min": 1}  # fmt: skip


def changes(*rows: dict[str, Any], style: str = "plain-band") -> dict[str, Any]:
    return {"steps": [{"style": style, **row} for row in rows]}


def keys(route: Any) -> list[str]:
    return [step.key for step in route]


def tried(*rows: dict[str, Any], style: str = "plain-band") -> Any:
    return try_route(RouteRequest(style=style, steps=tuple(OwnStep(style=style, **row) for row in rows)))


def test_an_added_step_stands_in_its_place_with_its_words_and_its_minutes() -> None:
    ours, own = plan(), plan(own=changes(NUMBER))
    at = keys(ours.route).index("pickle-annealed") + 1
    assert keys(own.route) == [*keys(ours.route)[:at], "own-number-the-inside", *keys(ours.route)[at:]]
    step = own.route[at]
    assert (step.title, step.do, step.station) == ("Number the inside", ("With the punches.",), "form")
    assert (step.hands_min, step.wait_min, step.torch) == (4.0, 1.0, False)
    assert step.after == own.route[at - 1].after  # it does nothing to the piece
    assert own.blanks == ours.blanks
    assert [one.after for one in own.route[at + 1 :]] == [one.after for one in ours.route[at:]]


@pytest.mark.parametrize("deed", [key for key in DEED_TITLES if key not in ("none", "true")])
def test_an_added_step_can_do_something_to_the_piece(deed: str) -> None:
    own = plan(own=changes({**NUMBER, "deed": deed, "after": "anneal" if deed == "anneal" else NUMBER["after"]}))
    step = next(one for one in own.route if one.key == "own-number-the-inside")
    ops = {"anneal": "anneal", "pickle": "pickle", "rinse": "rinse", "flux": "flux", "wash": "wash"}
    assert step.does[0].op == ops[deed]
    cautions = {"anneal": "hot metal looks cold", "pickle": "acid into water"}
    said = " ".join(step.caution).lower()
    assert cautions.get(deed, "") in said
    assert step.torch is (deed == "anneal")
    if deed != "flux":  # that stays on platinum, which is never pickled: refused
        white = plan(metal="platinum-950", own=changes({**NUMBER, "deed": deed, "after": "anneal"}))
        glares = any("dark glass" in line for one in white.route if one.key == step.key for line in one.caution)
        assert glares is (deed == "anneal")
    if deed == "anneal":  # it comes out of the fire dirty: the next that wants it clean says so
        broken = tried({**NUMBER, "after": "inspect", "deed": "anneal"}).breaks
        assert any("flux goes on clean metal" in one.says for one in broken)


def test_a_step_is_left_out_where_the_ring_is_the_same_without_it() -> None:
    own = plan(own=changes({"change": "out", "step": "flatten"}))
    assert "flatten" not in keys(own.route)
    assert tried({"change": "out", "step": "flatten"}).breaks == ()


@pytest.mark.parametrize(
    ("left", "at", "says"),
    [
        ("close", "saw-joint", "faces are closed before they are sawn or filed parallel"),
        ("pickle-annealed", "solder", "flux goes on clean metal"),
        ("file-solder", "round", "a hump of solder is filed before it is trued"),
        ("saw-joint", "saw-joint", "its length"),  # the ledger reckons with what the saw takes
        ("finish", "finish", "its surfaces"),
    ],
)
def test_what_is_missed_is_told_at_its_step_and_refused(left: str, at: str, says: str) -> None:
    breaks = tried({"change": "out", "step": left}).breaks
    assert (at, True) in {(one.step, says in one.says) for one in breaks}
    assert all(one.first and one.of >= 1 for one in breaks)
    assert max(one.of for one in breaks) > 5  # it is counted, not only found
    assert len({(one.step, one.says.partition(":")[2]) for one in breaks}) == len(breaks)  # and told once
    with pytest.raises(BadRequest) as caught:
        refuse_breaks((OwnStep(style="plain-band", change="out", step=left),))
    assert {one.field for one in caught.value.errors} == {"0.step"}


def test_only_the_metals_that_it_breaks_are_counted() -> None:
    """Gold oxidises in the anneal and has to be pickled before it is fluxed; fine silver does not: common practice."""
    breaks = tried({"change": "out", "step": "pickle-annealed"}).breaks
    assert not any("fine silver" in one.first for one in breaks)
    assert any("sterling" in one.first for one in breaks)
    plan(metal="fine-silver", own=changes({"change": "out", "step": "pickle-annealed"}))
    with pytest.raises(BadRequest):
        ring(order(metal="gold-14k-yellow", own=changes({"change": "out", "step": "pickle-annealed"})))


def test_a_ring_of_another_weight_is_another_ring() -> None:
    """The outline is sawn off flat, before anything is bent: only the metal that is left tells that it was not."""
    own = changes({"change": "out", "step": "outline"}, style="adjustable")
    assert ring(style_order("adjustable") | {"own": own}).route  # a lapped one has no outline
    with pytest.raises(BadRequest) as caught:
        ring(style_order("adjustable", layout="bypass", dish_mm=0.4) | {"own": own})
    assert "how much metal is in it" in caught.value.errors[0].message


def test_at_a_later_order_the_sheet_names_the_step_and_ours_is_one_word_away() -> None:
    own = changes({"change": "out", "step": "pickle-annealed"})
    with pytest.raises(BadRequest) as caught:
        ring(order(metal="gold-14k-yellow", own=own))
    (problem,) = caught.value.errors
    assert isinstance(problem, BrokenRouteError)
    assert problem.field == "steps_by"
    assert problem.words["step"] == "solder"
    assert "Solder with" in problem.message
    assert "flux goes on clean metal" in problem.message
    ours = ring(order(metal="gold-14k-yellow", own=own, steps_by="ours"))
    assert keys(ours.route) == keys(plan(metal="gold-14k-yellow").route)


def test_what_stays_says_why_and_is_refused_at_its_cell() -> None:
    stays = {one.key: one.stays for one in tried().steps}
    assert "held against the plan" in stays["round"]
    assert "hand-over" in stays["hand-over"]
    assert "creeps out" in stays["rinse"]
    assert stays["flatten"] == ""
    with pytest.raises(BadRequest) as caught:
        tried({"change": "out", "step": "rinse"})
    assert caught.value.errors[0].field == "steps.0.step"
    route = keys(plan(own=changes({"change": "out", "step": "rinse"})).route)
    assert "rinse" in route  # and one that is kept all the same, by an older version, changes nothing


def test_the_hand_over_stays_last_and_nothing_is_done_behind_it() -> None:
    rows = listed(STYLES["plain-band"].route)
    for change in (
        OwnStep(style="plain-band", change="moved", step="hand-over", after="cut"),
        OwnStep(style="plain-band", change="moved", step="wash", after="hand-over"),
        OwnStep(style="plain-band", change="added", title="x", after="no-such-step"),
    ):
        assert row_key(changed(rows, [change])[-1]) == "hand-over"
    for row in ({"change": "moved", "step": "hand-over", "after": "cut"}, {**NUMBER, "after": "hand-over"}):
        with pytest.raises(BadRequest):
            tried(row)


def test_a_look_stays_between_what_it_is_of_and_what_goes_by_it() -> None:
    late = tried({"change": "moved", "step": "scribe", "after": "cut"}).breaks
    assert [(one.step, "now comes before it" in one.says) for one in late] == [("scribe", True)]
    early = tried({"change": "moved", "step": "square-end", "after": "scribe"}).breaks
    assert any(one.step == "scribe" and "now comes after it" in one.says for one in early)


def test_names_that_are_in_no_route_and_two_of_one_name_are_refused_at_their_cells() -> None:
    for rows, field in (
        ([{"change": "out", "step": "no-such-step"}], "steps.0.step"),
        ([{"change": "moved", "step": "wash", "after": "nowhere"}], "steps.0.after"),
        ([NUMBER, {**NUMBER, "after": "cut"}], "steps.1.title"),
        ([{"change": "out", "step": "flatten"}, {**NUMBER, "after": "flatten"}], "steps.1.after"),
    ):
        with pytest.raises(BadRequest) as caught:
            tried(*rows)
        assert field in [one.field for one in caught.value.errors]


@pytest.mark.parametrize(
    ("row", "field"),
    [
        ({"change": "added", "title": "  "}, "own.steps.0.title"),
        ({"change": "out"}, "own.steps.0.step"),
        ({**NUMBER, "title": "a {length}"}, "own.steps.0.title"),
        ({**NUMBER, "says": "x" * 301}, "own.steps.0.says"),
        ({**NUMBER, "hands_min": "1e9"}, "own.steps.0.hands_min"),
        ({**NUMBER, "deed": "melted"}, "own.steps.0.deed"),
        ({**NUMBER, "title": "tab\x07"}, "own.steps.0.title"),
        ({"change": "out", "step": "../etc"}, "own.steps.0.step"),
    ],
)
def test_bad_input_is_said_at_its_field(row: dict[str, Any], field: str) -> None:
    with pytest.raises(BadRequest) as caught:
        ring(order(own=changes(row)))
    assert [one.field for one in caught.value.errors] == [field]


def test_two_steps_of_one_name_are_one_and_every_name_fits_where_it_is_kept() -> None:
    twice = keys(plan(own=changes(NUMBER, {**NUMBER, "after": "cut"})).route)
    assert len(twice) == len(set(twice))
    for title in ("x" * 50, "\u6d4b\u8bd5" * 20, "Ω"):
        (own,) = [key for key in keys(plan(own=changes({**NUMBER, "title": title})).route) if key.startswith("own-")]
        assert 4 < len(own) <= 60  # as long as the key of a step that was done


def test_a_change_of_another_style_changes_nothing() -> None:
    assert plan(own=changes({"change": "out", "step": "wash"}, style="stack")).route == plan().route


def test_a_step_that_no_ring_tried_has_says_so() -> None:
    found = try_route(
        RouteRequest(
            style="plain-band", steps=(OwnStep(style="plain-band", change="moved", step="plate", after="wash"),)
        )
    )
    assert next(one for one in found.steps if one.key == "plate").untried is False  # white gold is tried
    adjustable = tried({"change": "out", "step": "outline"}, style="adjustable")
    assert adjustable.left_out[0].untried is True


@pytest.mark.parametrize("style", list(STYLES))
def test_the_list_of_each_style_names_each_step_once(style: str) -> None:
    found = tried(style=style)
    assert len({one.key for one in found.steps}) == len(found.steps) == len(found.ours)
    assert all(one.title and "{" not in one.title for one in found.steps)
    assert found.steps[-1].key == "hand-over"


def worked(order: dict[str, Any]) -> tuple[list[str], Any]:
    """Where an order is refused, and its plan where it is not."""
    try:
        return [], ring(order)
    except BadRequest as problem:
        return [one.field for one in problem.errors], None


@pytest.mark.parametrize("style", list(STYLES))
def test_no_change_leaves_a_ring_otherwise_without_saying_so(style: str) -> None:
    """Random changes: each is refused in the craft's words, or the ring ends as by ours, cut the same."""
    rng = random.Random(style)
    rows = listed(STYLES[style].route)
    names = [row_key(row) for row in rows]
    ours = ring(style_order(style))
    for _ in range(12):
        own = []
        for n in range(rng.randint(1, 3)):
            change = rng.choice(["out", "moved", "moved", "added"])
            row: dict[str, Any] = {"style": style, "change": change, "after": rng.choice(["", *names])}
            if change == "added":
                row |= {"title": f"own {n}", "deed": rng.choice(list(DEED_TITLES)), "station": rng.choice(STATIONS)}
            else:
                row["step"] = rng.choice(names)
            own.append(row)
        fields, theirs = worked(style_order(style) | {"own": {"steps": own}})
        assert fields == ([] if theirs else ["steps_by"])
        if theirs is None:
            continue
        assert theirs.blanks == ours.blanks
        assert not list(ends_otherwise(ours.route, theirs.route))
        assert theirs.route[-1].key == "hand-over"
        asked = [ask.key for step in ours.route for ask in step.measure]
        assert sorted(asked) == sorted(ask.key for step in theirs.route for ask in step.measure)


def test_ours_itself_has_no_look_out_of_place_and_ends_as_it_ends() -> None:
    for style in STYLES.values():
        rows = listed(style.route)
        assert not list(looks_misplaced(rows, rows))
    route = plan().route
    assert not list(ends_otherwise(route, route))
    assert plain_title("Solder {blank} with {solder}") == "Solder … with …"


def test_a_part_for_the_top_is_made_before_the_finish_also_beside_own_steps() -> None:
    bezel = {"part": "bezel", "stone": {"shape": "round", "length_mm": 5}, "thickness_mm": 0.3, "height_mm": 3}
    row = {**NUMBER, "after": "flatten", "title": "Look at it once more", "station": "finish"}
    route = keys(plan(parts=[bezel], own=changes(row)).route)
    first = next(n for n, key in enumerate(route) if key.startswith("finish"))
    assert any("bezel" in key for key in route[:first])
