"""The joints of a piece of work: what its card opens, and that what was really made is what the bench then says."""

from __future__ import annotations

import math
from collections.abc import Iterator
from typing import Any

import pytest

from ringcraft.errors import BadRequest
from ringcraft.heat.answer import answer_heat
from ringcraft.joint.answer import answer_joint
from ringcraft.metals import BLADES
from ringcraft.planning.made import AsMade
from ringcraft.schema import to_json
from ringcraft.work.joining import JointLook, joints_at, look_keys, made_of
from ringcraft.work.sheets import JoinSheet
from ringcraft.works import MAKE, RESIZE, Work, follow, sheet_of
from tests.resizes import came_in
from tests.ringcraft.benchwork import replay
from tests.ringcraft.test_virtual_bench import OPTIONS, order

RESIZES: list[dict[str, Any]] = [
    {"to": "US 4 3/4"},
    {"to": "US 5 7/8"},
    {"to": "US 7 1/4"},
    {"to": "US 7 1/4", "join": {"seam_passes": 1, "blade": "2/0"}},
    {"to": "US 9", "metal": "platinum-950"},
    {"to": "US 6"},
    {"to": "US 5", "metal": "sterling", "stones": [{"kind": "diamond"}], "head": {"span_mm": 6.5}, "features": ["old-seam"]},
]  # fmt: skip


def works() -> Iterator[tuple[str, Work, dict[str, Any]]]:
    for style, options in OPTIONS.items():
        for n, option in enumerate(options):
            for metal in ("sterling", "gold-18k-rose"):
                yield f"{style}-{n}-{metal}", MAKE, order(style, option, metal=metal)
    for n, changes in enumerate(RESIZES):
        yield f"resize-{n}", RESIZE, came_in(**changes)


ALL = list(works())


def opened(work: Work, data: dict[str, Any], step: str, looks: dict[str, JointLook] | None = None) -> JoinSheet:
    plan = work.plan(work.read(data))
    sheet = sheet_of(work, to_json(work.read(data)), plan, {}, looks or {}, step, {})
    assert sheet is not None
    return sheet


@pytest.mark.sweep
@pytest.mark.parametrize(("work", "data"), [one[1:] for one in ALL], ids=[one[0] for one in ALL])
def test_what_was_made_at_a_joint_is_where_the_bench_closes(work: Work, data: dict[str, Any]) -> None:
    plan = work.plan(work.read(data))
    kept = to_json(work.read(data))
    for at in joints_at(plan):
        sheet = opened(work, data, at.step.key)
        if sheet.heat is not None:
            answer_heat(sheet.heat)
            assert sheet.amounts
            assert any(line.stands == "this" for line in sheet.seams)
            continue
        assert sheet.joint is not None
        for more, filed in ((1, 0.1), (-1, 0.0), (2, 0.0)):
            passes = sheet.joint.passes_planned + more
            if passes < 0:
                continue
            looks = {at.step.key: JointLook(passes=passes, filed_mm=filed)}
            now = follow(work, kept, plan, {}, looks)
            assert now.wrong == ""
            again = opened(work, data, at.step.key, looks)
            assert again.joint is not None
            assert again.joint.ring.inside_diameter_mm == pytest.approx(sheet.joint.ring.inside_diameter_mm)
            closes = answer_joint(again.joint).closes_mm
            lost = more * BLADES[sheet.joint.blade] + filed
            assert closes == pytest.approx(sheet.joint.ring.inside_diameter_mm - lost / math.pi, abs=1e-6)
            stands = next(step for step in now.now.route if step.key == at.step.key).after[at.piece]
            assert stands.inside_mm == pytest.approx(closes, abs=1e-6)
            assert [one.cut_length_mm for one in now.now.blanks] == [one.cut_length_mm for one in plan.blanks]


@pytest.mark.parametrize("style", ["plain-band", "wishbone", "stack", "tapered"])
def test_the_bench_is_replayed_with_what_was_made(style: str) -> None:
    """The second bench, which shares no code, comes to the same ring."""
    data = order(style, {})
    plan = MAKE.plan(MAKE.read(data))
    key = look_keys(plan)[0]
    now = follow(MAKE, to_json(MAKE.read(data)), plan, {}, {key: JointLook(passes=3, filed_mm=0.05)}).now
    said = to_json(now)
    state = said["start"]
    for step in said["route"]:
        state = replay(state, step["does"])
        for name, piece in step["after"].items():
            assert state[name]["length_mm"] == pytest.approx(piece["length_mm"], abs=1e-6)


@pytest.mark.parametrize("leave", ["small", "exact", "large"])
def test_the_size_on_the_card_follows(leave: str) -> None:
    data = order("plain-band", {}, leave=leave)
    plan = MAKE.plan(MAKE.read(data))
    kept = to_json(MAKE.read(data))
    now = follow(MAKE, kept, plan, {}, {"inspect": JointLook(passes=4)}).now
    off = math.pi * (now.closing.inside_diameter_mm - plan.closing.inside_diameter_mm)
    assert off == pytest.approx(-3 * 0.22)
    assert "as it was sawn" in now.closing.says
    rounds = [next(step for step in one.route if step.key == "round") for one in (plan, now)]
    asks = [next(ask for ask in step.measure if ask.key == "size-rounded").expected for step in rounds]
    assert asks[1] == pytest.approx(asks[0] - 0.66 / math.pi)
    assert [step.key for step in plan.route] == [step.key for step in now.route]
    titles = [next(step.title for step in one.route if step.key == "saw-joint") for one in (plan, now)]
    assert titles == ["Saw through the joint, once", "Saw through the joint, four times"]


def test_made_as_planned_is_nothing() -> None:
    data = order("plain-band", {})
    plan = MAKE.plan(MAKE.read(data))
    assert made_of(plan, {"inspect": JointLook(passes=1)}) == ((), ())
    assert made_of(plan, {"inspect": JointLook(passes=2)})[0] == (AsMade(passes=2), AsMade(piece="band", passes=2))
    filed = made_of(plan, {"inspect": JointLook(passes=1, filed_mm=0.2)})[0]
    assert filed[0] == AsMade(passes=1, filed_mm=0.2)
    assert made_of(plan, {"solder": JointLook(passes=5)}) == ((), ())
    assert made_of(plan, {"gone": JointLook(passes=5)}) == ((), ())
    now = follow(MAKE, to_json(MAKE.read(data)), plan, {}, {"inspect": JointLook(passes=1)})
    assert now.now == plan


def test_another_solder_is_said_by_the_steps_and_counted_in_the_margins() -> None:
    data = order("folded", {}, metal="sterling")
    plan = MAKE.plan(MAKE.read(data))
    kept = to_json(MAKE.read(data))
    looks = {"solder": JointLook(solder="silver-easy")}
    now = follow(MAKE, kept, plan, {}, looks).now
    assert next(step.title for step in now.route if step.key == "solder") == "Solder with silver easy"
    before, after = (opened(MAKE, data, "solder", one) for one in ({}, looks))
    assert (before.solder, after.solder) == ("silver-medium", "silver-easy")
    margins = [{line.key: line.margin_c for line in sheet.seams}["layers"] for sheet in (before, after)]
    assert margins == [-20, 25]
    assert after.seams[0].holds == "unsure"
    wrong = follow(MAKE, kept, plan, {}, {"solder": JointLook(solder="platinum-1700")})
    assert "another metal" in wrong.wrong


def test_the_least_margin_of_all_later_heats_is_told() -> None:
    lines = {line.key: line for line in opened(MAKE, order("channel-inlay", {}, metal="sterling"), "solder").seams}
    assert (lines["inner"].later_heats, lines["inner"].margin_c) == (2, -20)  # medium, and then easy
    assert "2 heats more" in lines["inner"].says
    assert (lines["outer"].later_heats, lines["outer"].margin_c) == (1, 0)
    assert lines["holes"].says.startswith("made last")


def test_a_vee_is_told_by_the_size_it_comes_to() -> None:
    data = order("wishbone", {})
    sheet = opened(MAKE, data, "inspect")
    assert sheet.joint is not None
    assert sheet.joint.later_mm < -1
    assert answer_joint(sheet.joint).closes_text == MAKE.plan(MAKE.read(data)).closing.text


def test_two_seams_of_a_resize() -> None:
    data = came_in(to="US 7 1/4", metal="sterling")
    first, second = (opened(RESIZE, data, key) for key in ("solder-sizing", "solder-second"))
    assert first.apart_mm > 1
    assert second.apart_mm == 0  # the first is made by then: there are no two in one heat any more
    assert first.heat is not None
    assert first.heat.insert_mm == 0  # the route solders one after the other
    assert [(seam.key, seam.at_mm) for seam in second.heat.seams] == [("first", pytest.approx(-first.apart_mm))]  # type: ignore[union-attr]
    assert [line.says for line in second.seams][1].startswith("made last")
    assert [line.heat for line in second.seams] == [1, 2]
    chosen = follow(
        RESIZE, data, RESIZE.plan(RESIZE.read(data)), {}, {"solder-second": JointLook(solder="silver-easy")}
    )
    assert next(step.title for step in chosen.now.route if step.key == "solder-second").endswith("silver easy")


def test_hard_always_stays_hard_where_the_other_seam_got_another() -> None:
    data = came_in(to="US 7 1/4", metal="sterling", repair_solder="hard")
    plan = RESIZE.plan(RESIZE.read(data))
    assert [one.solder for one in plan.joints] == ["silver-hard", "silver-hard"]
    assert plan.joints[1].guarded
    now = follow(RESIZE, data, plan, {}, {"solder-sizing": JointLook(solder="silver-medium")}).now
    assert [one.solder for one in now.joints] == ["silver-medium", "silver-hard"]


def test_the_stone_that_is_nearest_to_what_it_bears_is_in_the_picture() -> None:
    stones = [{"kind": "moissanite"}, {"kind": "ruby", "at_mm": -11}, {"kind": "emerald"}]
    data = came_in(to="US 5 1/2", stones=stones, head={"span_mm": 6})
    heat = opened(RESIZE, data, "solder-sizing").heat
    assert heat is not None
    # the emerald is out by then, the moissanite, bare, comes within 40 degrees of what it bears; the ruby sits to the left, so much nearer as the cut took
    assert (heat.stone, heat.water_share) == ("moissanite", None)
    heat = opened(RESIZE, came_in(to="US 5 1/2", stones=stones[1:], head={"span_mm": 6}), "solder-sizing").heat
    assert heat is not None
    assert heat.stone_at_mm == pytest.approx(-(11 - 1.2767 / 2), abs=1e-3)
    strong = [{"title": "torch", "done": "flowed", "metal": "sterling", "mass_g": 400}]
    wet = came_in(to="US 5 1/2", stones=[{"kind": "topaz", "setting": "channel"}], torches=strong)
    heat = opened(RESIZE, wet, "solder-sizing").heat
    assert heat is not None
    assert (heat.stone, heat.water_share) == ("topaz", 0.4)


def test_two_seams_of_a_part_see_a_head_from_their_own_sides() -> None:
    """A head opposite the back is no head opposite the seam: of half a ring it sits a quarter away, less its half."""
    data = came_in(from_="US 8", to="US 9 1/4", method="reshank", stones=[{"kind": "diamond"}], head={"span_mm": 6},
                   shank={"thinnest_mm": 0.8})  # fmt: skip
    first, second = (opened(RESIZE, data, step).heat for step in ("solder-sizing", "solder-second"))
    assert first is not None
    assert second is not None
    assert first.stone_at_mm == pytest.approx(-(second.stone_at_mm or 0.0), abs=0.2)
    assert abs(first.stone_at_mm or 0.0) < 13
    apart = {seam.key: seam.at_mm for seam in second.seams}["first"]
    assert abs(apart) == pytest.approx(32, abs=1)  # half of the ring away, whichever way round


def test_chips_lie_where_the_step_lays_them() -> None:
    signet, plain = order("hollow-signet", {}), order("plain-band", {})
    assert "inside, the flame outside" in opened(MAKE, plain, "solder").amounts[0].says
    assert "on top, the flame from below" in opened(MAKE, signet, "solder-wrap").amounts[0].says
    assert opened(MAKE, signet, "solder-plate").amounts[0].says.startswith("along the seam")


def test_a_resize_closes_where_its_joint_lets_it() -> None:
    data = came_in(to="US 4 3/4")
    plan = RESIZE.plan(RESIZE.read(data))
    now = follow(RESIZE, data, plan, {}, {"inspect": JointLook(passes=3)}).now
    assert now.closes_mm == pytest.approx(plan.closes_mm - 2 * 0.22 / math.pi)
    sized = next(step for step in now.route if step.key == "to-size")
    assert "US 4 3/4" in sized.title
    assert "0.44" in " ".join(sized.do)


def test_a_flow_that_only_the_sheet_knows_is_reckoned_and_says_so() -> None:
    sheet = opened(MAKE, order("plain-band", {}, metal="gold-14k-yellow"), "solder")
    assert "maker’s sheet" in sheet.reckoned
    assert sheet.heat is not None
    assert sheet.heat.flow_c == 780
    own = order("plain-band", {}, metal="gold-14k-yellow", solders="14k yellow hard 720 745")
    known = opened(MAKE, own, "solder")
    assert known.reckoned == ""
    assert known.heat is not None
    assert known.heat.flow_c == 745


def test_chips_as_they_were_cut_and_seen() -> None:
    look = JointLook(passes=1, gap_mm=0.05, chip={"length_mm": 0.5, "width_mm": 0.5, "thickness_mm": 0.2})
    plain = opened(MAKE, order("plain-band", {}), "solder")
    small = opened(MAKE, order("plain-band", {}), "solder", {"inspect": look})
    assert "1 × 1 × 0.25" in plain.amounts[0].title
    assert "0.5 × 0.5 × 0.2" in small.amounts[0].title
    around = opened(MAKE, order("hollow-signet", {}), "solder-wrap")
    assert [one.form for one in around.amounts] == ["chips", "wire", "paste"]


def test_annealing_opens_its_heat_and_counts() -> None:
    data = order("plain-band", {})
    plan = MAKE.plan(MAKE.read(data))
    sheet = sheet_of(MAKE, data, plan, {}, {}, "anneal", {"anneal": 2, "solder": 1})
    assert sheet is not None
    assert sheet.anneal is not None
    assert sheet.anneal.heated == "In the fire so far: annealed 2 times, once soldered."
    assert sheet_of(MAKE, data, plan, {}, {}, "hand-over", {}) is None
    assert sheet_of(MAKE, data, plan, {}, {}, "no such step", {}) is None


def test_a_file_that_takes_too_much_is_refused() -> None:
    with pytest.raises(BadRequest) as caught:
        MAKE.read({**order("plain-band", {}), "made": [{"piece": "", "filed_mm": 11}]})
    assert caught.value.errors[0].field == "made.0.filed_mm"
