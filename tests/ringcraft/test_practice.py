"""Practice: the same thing in rounds, worked on the bench, read at each, and one's own hand shrunk to the table's."""

from __future__ import annotations

import math
import random
from typing import Any

import pytest

from ringcraft.errors import BadRequest
from ringcraft.learning.causes import CUT_SD_MM
from ringcraft.metals import METALS, SOLDERS
from ringcraft.practice.asking import EXERCISES, MOST_ROUNDS
from ringcraft.practice.judging import ENDS, YES_NO, rounds_of, verdicts
from ringcraft.practice.plan import PracticePlan, practice
from ringcraft.schema import to_json
from ringcraft.works import PRACTICE, WORKS, follow


def cuts(*read_mm: float, long: float = 34.0, mine: bool = True, in_force: float = 0.15, **more: Any) -> Any:
    plan = practice({"exercise": "cuts", "length_mm": long, **more})
    measured = {f"cut-length@round-{n}": value for n, value in enumerate(read_mm, start=1)}
    return rounds_of(plan, measured, measured if mine else (), in_force)


def answered(exercise: str, *rounds: dict[str, int]) -> tuple[PracticePlan, dict[str, float]]:
    plan = practice({"exercise": exercise})
    return plan, {f"{key}@round-{n}": float(yes) for n, one in enumerate(rounds, start=1) for key, yes in one.items()}


@pytest.mark.parametrize("exercise", list(EXERCISES))
@pytest.mark.parametrize("metal", list(METALS))
def test_every_exercise_goes_in_every_metal_or_says_why_not(exercise: str, metal: str) -> None:
    try:
        plan = practice({"exercise": exercise, "metal": metal})
    except BadRequest as problem:
        assert exercise == "colours"
        assert [one.field for one in problem.errors] == ["metal"]  # noqa: PT017
        return
    assert len(plan.blanks) == plan.rounds == EXERCISES[exercise].rounds
    assert {blank.role for blank in plan.blanks} == {"round"}
    asks = [ask.key for step in plan.route for ask in step.measure]
    assert len(asks) == len(set(asks))
    per_round = {"cuts": 1, "joint": 2, "colours": 2, "water": 2}[exercise]
    assert len(asks) == per_round * plan.rounds
    if exercise == "colours":
        assert plan.chip_flows_c >= METALS[metal].anneal_high_c + 30
    if EXERCISES[exercise].closes:
        done = plan.route[-1].after
        assert all(piece.shut and len(piece.joined) == 1 for piece in done.values())
        assert len(plan.joints) == plan.rounds


def test_a_round_is_as_every_other() -> None:
    for exercise in EXERCISES:
        plan = practice({"exercise": exercise, "rounds": 3})
        steps = [
            [
                (step.title.replace(f"round {n}", ""), step.do, [deed.op for deed in step.does])
                for step in plan.route
                if step.blank == f"round-{n}"
            ]
            for n in (1, 2, 3)
        ]
        assert steps[0] == steps[1] == steps[2] != []
        assert sum(map(len, steps)) == len(plan.route)


def test_the_hand_is_shrunk_as_in_the_record() -> None:
    """The contract's rule: the table's 0.15 counts as ten cuts. Worked again here in plain arithmetic."""
    offs = [0.12, -0.07, 0.03, 0.2, -0.16, 0.05, -0.02, 0.11, -0.09, 0.04]
    found = cuts(*(34 + off for off in offs))
    wanted = math.sqrt((10 * CUT_SD_MM**2 + sum(off * off for off in offs)) / 20)
    assert found.hand.sd_mm == pytest.approx(wanted, abs=1e-9)
    assert found.offered == f"{wanted:.2f} from ten cuts, not 0.15"
    assert [dot.round for dot in found.dots] == list(range(1, 11))
    assert [dot.off_mm for dot in found.dots] == pytest.approx(offs, abs=1e-9)


def test_random_hands_come_to_what_they_are() -> None:
    rng = random.Random(24)
    for sd in (0.05, 0.15, 0.4):
        offs = [rng.gauss(0, sd) for _ in range(MOST_ROUNDS)]
        found = cuts(*(34 + off for off in offs), rounds=MOST_ROUNDS)
        wanted = math.sqrt((10 * 0.15**2 + sum(off * off for off in offs)) / (10 + MOST_ROUNDS))
        assert found.hand.sd_mm == pytest.approx(wanted)
        assert found.offered.startswith(f"{wanted:.2f} from twelve cuts") or abs(wanted - 0.15) <= 0.005


def test_nine_cuts_offer_nothing_nor_does_what_is_in_force_already() -> None:
    assert cuts(*[34.3] * 9).offered == ""
    assert "from 10 cuts on" in " ".join(cuts(*[34.3] * 9).says)
    ten = cuts(*[34.3] * 10)
    assert ten.offered
    assert cuts(*[34.3] * 10, in_force=ten.hand.sd_mm).offered == ""


def test_anothers_cuts_are_drawn_and_teach_nothing_of_mine() -> None:
    found = cuts(*[34.3] * 10, mine=False)
    assert len(found.dots) == 10
    assert not any(dot.mine for dot in found.dots)
    assert (found.hand, found.offered) == (None, "")
    assert found.scale_mm == pytest.approx(0.3)
    assert cuts(34.8, 1.3, mine=False).scale_mm == pytest.approx(0.8)  # drawn in whole; a slip of the unit is not
    assert "None of them is read by you" in " ".join(found.says)


def test_a_slip_of_the_unit_is_questioned_and_not_counted() -> None:
    found = cuts(1.34, *[34.0] * 10, rounds=11)  # inches, read as mm
    assert found.hand.n == 10
    assert "1 read so far off that they are not counted." in found.says
    plan = practice({"exercise": "cuts", "length_mm": 34})
    said = verdicts(plan, plan, {"cut-length@round-1": 1.34, "cut-length@round-2": 34.02, "cut-length@round-3": 33.8})
    assert [one.tone for one in said] == ["act", "good", "note"]
    assert "in which unit" in said[0].says
    assert said[1].says == "on its line, 0.02 long"
    assert said[2].says == "0.20 short"


def test_a_shop_in_inches_reads_inches() -> None:
    plan = practice(
        {"exercise": "cuts", "length_mm": "1.2", "units": "in", "stock": {"profile": "round", "thickness_mm": "0.06"}}
    )
    assert plan.blanks[0].cut_length_mm == pytest.approx(30.48)
    found = rounds_of(plan, {"cut-length@round-1": 30.6}, ["cut-length@round-1"], 0.15)
    assert found.dots[0].says == "0.005″ long"
    assert "0.006″ is in force for you" in " ".join(found.says)


@pytest.mark.parametrize("exercise", list(ENDS))
def test_every_answer_has_its_own_words(exercise: str) -> None:
    """Each question of an exercise answered both ways, with every answer beside it."""
    keys = [ask.key.partition("@")[0] for step in practice({"exercise": exercise}).route for ask in step.measure]
    keys = list(dict.fromkeys(keys))
    assert {key for key, _ in ENDS[exercise]} <= set(keys) <= set(YES_NO)
    said: dict[str, set[str]] = {key: set() for key in keys}
    for answers in range(4):
        one = {key: answers >> place & 1 for place, key in enumerate(keys)}
        plan, measured = answered(exercise, one)
        for verdict in verdicts(plan, plan, measured):
            key = verdict.key.partition("@")[0]
            said[key].add(verdict.says)
            wanted = dict(ENDS[exercise]).get(key)
            if wanted is not None:
                assert (verdict.tone == "good") is (bool(one[key]) is wanted)
    assert all(len(words) >= 2 for words in said.values())


def test_a_joint_that_did_not_close_says_whether_light_was_seen() -> None:
    plan, measured = answered(
        "joint",
        {"light-seen": 0, "closed-round": 1},
        {"light-seen": 1, "closed-round": 0},
        {"light-seen": 0, "closed-round": 0},
        {"light-seen": 1},  # not looked at after the pickle yet
    )
    found = rounds_of(plan, measured, measured, 0.15)
    assert [(dot.round, dot.good) for dot in found.dots] == [(1, True), (2, False), (3, False)]
    assert "1 of 3 came out." in found.says
    assert "Of 2 not closed, light was seen before the solder at 1." in found.says
    assert "no light was seen" in found.dots[2].says
    assert (found.hand, found.offered) == (None, "")


def test_a_chip_tells_more_than_the_anneal_bears() -> None:
    for metal in ("copper", "sterling", "brass"):
        plan = practice({"exercise": "colours", "metal": metal})
        assert plan.chip_flows_c is not None
        assert plan.chip_flows_c > METALS[metal].anneal_high_c
        assert any(one.flows_c == plan.chip_flows_c for one in SOLDERS.values())
        step = next(step for step in plan.route if step.key.startswith("practice-colour"))
        assert f"{plan.chip_flows_c:.0f} °C" in " ".join(step.check)
    with pytest.raises(BadRequest) as caught:
        practice({"exercise": "colours", "metal": "gold-14k-yellow"})
    assert "above its anneal" in caught.value.errors[0].message


def test_a_metal_that_glows_white_or_takes_no_flux_is_told_so_in_practice_too() -> None:
    for exercise in ("joint", "colours", "water"):
        plan = practice({"exercise": exercise, "metal": "platinum-950", "rounds": 1})
        for step in plan.route:
            if any(deed.op in ("anneal", "solder") for deed in step.does):
                assert any("dark glass" in line for line in step.caution), step.key
                assert any("soot" in line for line in step.do), step.key
        assert not any("Flux " in line for step in plan.route for line in step.do)


def test_water_stands_as_deep_as_was_asked() -> None:
    plan = practice({"exercise": "water", "water_share": "30 %"})
    inside = plan.blanks[0].cut_length_mm / math.pi - plan.section.thickness_mm
    step = next(step for step in plan.route if step.key.startswith("practice-water"))
    assert float(step.figure) == pytest.approx(0.3 * inside, abs=0.05)
    assert [deed.op for deed in step.does if deed.op in ("wet", "solder")] == ["wet", "solder", "wet"]
    assert any("simmers" in line for line in step.do)  # never a finger on what may be hot


@pytest.mark.parametrize(
    ("order", "field"),
    [
        ({"exercise": "juggling"}, "exercise"),
        ({"rounds": 0}, "rounds"),
        ({"rounds": 13}, "rounds"),
        ({"rounds": "2.5"}, "rounds"),
        ({"length_mm": 0.5}, "length_mm"),
        ({"length_mm": 1e6}, "length_mm"),
        ({"exercise": "joint", "length_mm": 20}, "length_mm"),
        ({"exercise": "water", "length_mm": 140}, "length_mm"),
        (
            {"exercise": "joint", "stock": {"profile": "square", "thickness_mm": 9}, "length_mm": 75},
            "stock.thickness_mm",
        ),
        ({"exercise": "water", "water_share": 0.95}, "water_share"),
        ({"exercise": "cuts", "metal": "mud"}, "metal"),
        ({"exercise": "cuts", "customer": "x"}, "customer"),
    ],
)
def test_bad_input_is_said_at_its_field(order: dict[str, Any], field: str) -> None:
    with pytest.raises(BadRequest) as caught:
        practice(order)
    assert [one.field for one in caught.value.errors] == [field]


@pytest.mark.parametrize("exercise", list(EXERCISES))
def test_a_kept_practice_is_read_again_and_followed(exercise: str) -> None:
    order = PRACTICE.read({"exercise": exercise, "rounds": 2})
    plan = PRACTICE.plan(order)
    again = PRACTICE.kept(to_json(plan))
    assert again == plan
    first = next(ask.key for step in plan.route for ask in step.measure)
    seen = follow(PRACTICE, to_json(order), again, {first: 1.0 if exercise != "cuts" else plan.length_mm})
    assert (seen.wrong, seen.older) == ("", "")
    assert [one.key for one in seen.verdicts] == [first]
    assert not again.sets_size("round-1")
    assert WORKS[again.work].for_customer is False
