"""The ring is a thing: what is chosen of it, and what is done with what is glued."""

from __future__ import annotations

import math
import re
from dataclasses import replace

import pytest

from ringcraft.errors import BadRequest
from ringcraft.resize.places import Cut
from ringcraft.resize.plan import ResizePlan, resize
from ringcraft.vbench.arcs import opened
from ringcraft.vbench.deeds import Open, Round
from ringcraft.vbench.needs import UnmetNeedError
from ringcraft.works import RESIZE, follow
from tests.resizes import advice
from tests.resizes import plan as came_in_plan
from tests.ringcraft.test_thing import came, plan


def test_a_glued_stone_is_taken_off_and_glued_anew() -> None:
    """Glue never makes a stone safer: the pearl on its peg is a way, and its glue is the last thing that is done."""
    made = came_in_plan(to="US 5", stones=[{"kind": "pearl", "setting": "peg", "glued": True}])
    assert advice(made)["take-out"] == "possible"
    keys = [step.key for step in made.route]
    assert keys.index("unglue") < keys.index("solder-sizing")
    assert keys.index("glue-again") > max(keys.index(one) for one in ("wash-sizing", "pickle-sizing"))
    assert made.route[keys.index("glue-again")].wait_min >= 60


def test_two_seams_in_one_heat_are_a_choice_where_both_come_up() -> None:
    one = plan("US 7", "US 8 1/2", method="add-stock", metal="sterling", join={"heats": "together"})
    heats = [deed for step in one.route for deed in step.does if deed.op == "solder"]
    assert len(heats) == 1
    assert set(one.route[-1].after["ring"].joined) == {"first", "second"}
    for changes, field in (
        ({"metal": "gold-14k-yellow"}, "join.heats"),
        ({"metal": "sterling", "to": "US 11", "method": "reshank"}, "join.heats"),
    ):
        with pytest.raises(BadRequest) as refused:
            resize(
                came("US 7", **{"to": "US 8 1/2", "method": "add-stock", "join": {"heats": "together"}, **changes})
            )
        assert refused.value.errors[0].field == field


def read_out(made: ResizePlan) -> str:
    """All that a plan tells a bench to do."""
    return " ".join(line for step in made.route for line in (step.title, *step.do, *step.check))


def test_words_are_of_what_is_on_this_ring() -> None:
    """Common practice: no seam of a head is coated where there is no head, no claw looked at on a plain band."""
    flush = read_out(
        came_in_plan(to="US 7", seam_open=True, stones=[{"kind": "ruby", "setting": "flush", "at_mm": 8}])
    )
    assert "head" not in flush
    assert "nti-flux" not in flush
    assert "the ruby away from the flame" in flush
    assert "No blow on or beside the ruby." in flush
    assert "laws" not in read_out(came_in_plan(to="US 7"))
    beside = read_out(came_in_plan(to="US 7", stones=[{"kind": "ruby", "setting": "bezel", "at_mm": 9}]))
    assert "seams of the settings" in beside
    assert "the head" not in beside
    empty = came_in_plan(to="US 8", stones=[{"kind": "emerald"}], head={"span_mm": 6})
    assert empty.stone_advice[0].advice == "take it out"
    assert "No blow on or beside the head." in read_out(empty)
    assert "what is set in it" not in read_out(empty)


def test_an_emptied_setting_still_stands_where_blows_fall() -> None:
    made = came_in_plan(to="US 7 1/2", stones=[{"kind": "emerald"}])
    true = next(step for step in made.route if step.key == "true-now")
    assert made.stone_advice[0].advice == "take it out"
    assert "No blow on or beside the head." in true.do
    assert [deed.where for deed in true.does if isinstance(deed, Round)] != [None]


@pytest.mark.parametrize(("metal", "said"), [("platinum-950", "cleaned, in"), ("sterling", "cleaned and fluxed, in")])
def test_a_crack_is_fluxed_where_its_metal_takes_flux(metal: str, said: str) -> None:
    made = came_in_plan(from_="US 7", to="US 7", metal=metal, features=["cracked"])
    assert f"The crack too, {said} this heat" in read_out(made)


def test_a_ring_that_is_not_sized_for_its_own_sake_leaves_its_stones_as_they_are() -> None:
    for feature, setting in (("eternity", "channel"), ("tension-set", "tension")):
        made = came_in_plan(to="US 7", features=[feature], stones=[{"kind": "diamond", "setting": setting}])
        assert (made.method, made.stone_advice[0].advice) == ("refuse", "leave it cold")
        assert made.stone_advice[0].high_c is None
    all_round = came_in_plan(to="US 7", features=["eternity"], stones=[{"kind": "diamond", "setting": "channel"}],
                             method="add-stock", override_reason="her wish")  # fmt: skip
    assert all_round.stone_advice[0].advice == "out, and handed back loose"


def test_a_refusal_says_of_a_stone_once_why() -> None:
    made = came_in_plan(to="US 7", metal="unknown", stones=[{"kind": "unknown", "glued": True}], head={"span_mm": 7})
    assert sum("cannot be kept from the heat" in why for why in made.chosen.why) == 1
    two = came_in_plan(from_="US 7", to="US 6", features=["two-tone"])
    assert "bead" not in " ".join(two.says)


def test_each_temperature_is_told_in_both_where_the_shop_says_so() -> None:
    made = came_in_plan(to="US 7", metal="sterling", degrees="f", method="add-stock")
    said = read_out(made)
    assert "begins to melt at 800 °C (1472 °F)" in said
    assert not re.search(r"(melt|flows?) at \d+(?! °C|\d| to)", said)
    assert len(re.findall("°C", said)) == len(re.findall("°F", said))


def test_compound_spares_the_letters_inside() -> None:
    cold = came_in_plan(from_="US 7", to="US 6 3/4", features=["engraved-inside"])
    assert "no letter stands" in read_out(cold)
    assert "no letter" not in read_out(came_in_plan(from_="US 7", to="US 6 3/4"))


def test_an_old_seam_that_stands_open_is_joined_no_more() -> None:
    made = came_in_plan(to="US 6", metal="bronze", features=["old-seam"], seam_open=True, method="rejoin")
    assert made.unmet == ()
    assert not any("Cut through" in why for why in made.chosen.why)
    assert made.start["ring"].joined == {}


@pytest.mark.parametrize("reads_mm", [16.4919, 16.4889])
def test_what_the_advice_lets_be_stretched_the_bench_stretches(reads_mm: float) -> None:
    """A head gives nothing over the chord that is measured, for both alike: just under the limit nothing is refused."""
    data = came("US 6", "US 6 3/4", method="stretch", head={"span_mm": 11.0}, features=["old-seam"],
                override_reason="x", stones=[{"kind": "pearl", "setting": "peg", "at_mm": 12, "glued": True}])  # fmt: skip
    seen = follow(RESIZE, data, resize(data), {"daylight-now": 0.0, "size-now": reads_mm})
    assert (seen.wrong, seen.now.stopped) == ("", "")


def test_a_ring_that_reads_as_wanted_is_left_alone() -> None:
    """A sixteenth of a US size is finer than a mandrel reads: nobody saws a ring open for less, and nothing is cut."""
    data = came("US 6", "US 6 1/2", stones=[{"kind": "pearl"}])
    kept = resize(data)
    assert kept.method == "add-stock"
    wanted = 11.6332 + 0.8128 * 6.5
    for short, stops in ((0.14, True), (0.18, False), (-0.14, True)):
        now = follow(RESIZE, data, kept, {"daylight-now": 0.0, "size-now": wanted - short / math.pi}).now
        assert bool(now.stopped) == stops, short
        assert (len(now.blanks), len(now.joints)) == ((0, 0) if stops else (1, 2))
    assert "that is the size that was wanted" in now.stopped
    assert any("set again before it goes back" in line for line in now.route[-1].do)
    assert (now.lead.figure, now.says) == ("stop", (now.stopped,))
    small = came("US 6", "16.54 mm", method="add-stock")  # a hair more from the start is the customer's own wish
    assert not follow(RESIZE, small, resize(small), {"daylight-now": 0.0, "size-now": 16.51}).now.stopped


def test_a_stop_cuts_nothing_though_another_way_fits() -> None:
    data = came("US 7", "US 6")
    now = follow(RESIZE, data, resize(data), {"daylight-now": 0.0, "size-now": 15.7}).now
    assert now.stopped
    assert "fits" in now.stopped
    assert (now.blanks, now.joints) == ((), ())


def test_a_first_cut_that_opens_is_no_pass_of_the_joint() -> None:
    small = {"from_": "US 7", "to": "US 6 3/4", "method": "take-out", "override_reason": "x"}
    planned = came_in_plan(**small)
    assert "twice through" in " ".join(planned.chosen.why)
    as_planned = came_in_plan(**small, made=[{"piece": "ring", "passes": 1}])
    assert as_planned.closes_mm == pytest.approx(planned.closes_mm)
    once_more = came_in_plan(**small, made=[{"piece": "ring", "passes": 2}])
    assert planned.closes_mm - once_more.closes_mm == pytest.approx(0.22 / math.pi)


def test_a_cut_spares_a_seat_to_its_edge() -> None:
    for span, spares in ((0.2, True), (2.6, False)):
        made = came_in_plan(to="US 7", method="add-stock", override_reason="x",
                            stones=[{"kind": "ruby", "setting": "flush", "at_mm": 1.2, "span_mm": span}])  # fmt: skip
        ring = made.start["ring"]
        cut = next(deed for step in made.route for deed in step.does if isinstance(deed, Open))
        if spares:
            assert opened(ring, cut).shape == "open"
        else:
            with pytest.raises(UnmetNeedError, match="no seat"):
                opened(ring.with_(stones=tuple(replace(one, in_=True, loose=False) for one in ring.stones)), cut)


def test_what_sits_on_either_side_moves_on_its_own_side() -> None:
    cut = Cut(reach_mm=1.0, shift_mm=-0.4, seams=(0.0,))
    assert (cut.moved(-5.0), cut.moved(5.0)) == (-4.6, 4.6)


def test_a_way_is_said_as_what_is_done() -> None:
    data = came("US 6", "US 9")
    now = follow(RESIZE, data, resize(data), {"daylight-now": 0.0, "size-now": 11.6332 + 0.8128 * 9}).now
    assert "to set in a new lower part does not fit any more" in now.stopped
    up = {"to": "US 7 1/4", "method": "add-stock", "join": {"seam_passes": 1}}
    assert "With 4/0, each closed seam once;" in read_out(came_in_plan(**up))
    three = read_out(came_in_plan(**up, made=[{"piece": "ring", "passes": 3}]))
    assert "Saw through the seams, three times in all" in three
    assert "each closed seam" not in three


def test_a_hollow_ring_is_vented_drained_and_never_quenched() -> None:
    """Common practice: what is shut in a hollow bursts in the fire, and water in a hot one turns to steam."""
    changes = {"to": "US 7 1/4", "method": "add-stock"}
    made, solid = came_in_plan(**changes, features=["hollow"]), came_in_plan(**changes)
    heats = [step for step in made.route if any(deed.op == "solder" for deed in step.does)]
    assert len(heats) == 2
    for step in heats:
        assert any("never without its vent" in line for line in step.caution)
        assert "Do not quench it: water that gets in" in " ".join(step.do)
        assert not [deed for deed in step.does if deed.op == "quench"]
    assert "soaks into the hollow" in read_out(made)
    assert "hollow" not in read_out(solid)
    assert [deed for step in solid.route for deed in step.does if deed.op == "quench"]
