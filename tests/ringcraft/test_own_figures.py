"""A shop's own figures go before our tables: a metal's sheet, minutes, papers, what a stone bears."""

from __future__ import annotations

from typing import Any

import pytest

from ringcraft.errors import BadRequest
from ringcraft.metals import METALS
from ringcraft.planning.own import STEPS
from ringcraft.schema import to_json
from ringcraft.styles import STYLES
from ringcraft.work.kept import compact, with_states
from ringcraft.works import MAKE
from tests.orders import plan, style_order
from tests.resizes import plan as resize


def own(**lists: str) -> dict[str, Any]:
    return {"own": lists}


def test_a_metals_own_sheet_weighs_and_melts_for_it() -> None:
    ours, theirs = plan(), plan(**own(metals="sterling 798 890 10.3; 14k yellow 840"))
    assert theirs.blanks[0].mass_g / ours.blanks[0].mass_g == pytest.approx(10.3 / METALS["sterling"].density_g_cm3)
    step = next(one for one in theirs.route if one.key == "solder")
    assert any("begins to melt at 798" in line for line in step.do)
    last = next(ask for one in theirs.route for ask in one.measure if ask.key == "mass-finished")
    ring = theirs.route[-1].after["band"]
    assert last.expected == pytest.approx(ring.volume_mm3 * 10.3 / 1000)
    assert ring.begins_to_melt_c == 798


def test_every_style_bears_an_own_sheet() -> None:
    for style in STYLES:
        made = MAKE.plan(MAKE.read({**style_order(style), **own(metals="sterling 795 888 10.31")}))
        assert {piece.density_g_cm3 for piece in made.start.values()} == {10.31}


def test_a_solder_that_the_metals_own_sheet_does_not_bear_is_refused() -> None:
    plan(metal="tarnish-resistant-silver")
    with pytest.raises(BadRequest) as refused:
        plan(metal="tarnish-resistant-silver", **own(metals="tarnish-resistant-silver 765"))
    assert refused.value.errors[0].field == "solders"
    assert "765" in refused.value.errors[0].message


def test_minutes_of_hands_and_of_waiting() -> None:
    made = plan(**own(minutes="solder 11,5; pickle 2 30; file to line 9"))
    steps = {one.key: one for one in made.route}
    assert steps["solder"].hands_min == 11.5
    assert steps["solder"].wait_min == next(one for one in plan().route if one.key == "solder").wait_min
    assert (steps["pickle"].hands_min, steps["pickle"].wait_min) == (2, 30)
    assert steps["file-to-line"].hands_min == 9
    again = resize(to="US 7 1/4", **own(minutes="solder sizing 21"))
    soldered = [one.hands_min for one in again.route if one.torch]
    assert soldered == [21, 21]


def test_papers_of_a_family_run_through_the_finish() -> None:
    made = plan(**own(papers="silver: 400 paper, 800 paper, tripoli; platinum: 600 paper"))
    assert [one.title for one in made.route if one.key.startswith("finish-")] == ["400 paper", "800 paper", "Tripoli"]
    gold = plan(metal="gold-14k-yellow", **own(papers="silver: 400 paper"))
    assert "400 paper" not in [one.title for one in gold.route]


def test_a_stone_bears_what_the_shop_has_learnt() -> None:
    stones = {"stones": [{"kind": "garnet"}], "head": {"span_mm": 4}, "to": "US 7 1/4"}
    assert resize(**stones).stone_advice[0].advice == "take it out"
    assert resize(**stones, **own(stones="garnet hardy")).stone_advice[0].advice == "shield it"
    hardy = {**stones, "stones": [{"kind": "ruby"}]}
    assert resize(**hardy).stone_advice[0].advice == "shield it"
    assert resize(**hardy, **own(stones="ruby never")).stone_advice[0].advice == "take it out"


def test_own_figures_come_back_as_they_went_and_are_worked_again_from_a_kept_plan() -> None:
    order = MAKE.read({**style_order("stack"), **own(metals="sterling 10.2", minutes="form 3", papers="silver: 500 paper",
                                                     stones="opal careful")})  # fmt: skip
    assert MAKE.read(to_json(order)) == order
    made = MAKE.plan(order)
    assert with_states(MAKE.kept(compact(made))).route[-1].after == made.route[-1].after


REFUSED = [
    ("metals", "tin 230", "own.metals.0.metal"), ("metals", "sterling", "own.metals"), ("metals", "sterling 1200", "own.metals.0"),
    ("metals", "sterling 5", "own.metals.0"), ("metals", "sterling 890 800", "own.metals.0"),
    ("metals", "sterling 800 890 10 11", "own.metals"), ("minutes", "juggle 3", "own.minutes.0.step"),
    ("minutes", "solder", "own.minutes"), ("minutes", "solder 9999", "own.minutes.0.hands_min"),
    ("papers", "silver: 800 paper, 400 paper", "own.papers.0.papers"), ("papers", "tin: 400 paper", "own.papers.0.family"),
    ("papers", "silver:", "own.papers.0.papers"), ("papers", "silver: sandpaper", "own.papers.0.papers"),
    ("stones", "garnet tough", "own.stones.0.bears"), ("stones", "kryptonite hardy", "own.stones.0.kind"),
]  # fmt: skip


@pytest.mark.parametrize(("name", "text", "field"), REFUSED, ids=[text for _, text, _ in REFUSED])
def test_what_cannot_be_is_refused_at_its_place(name: str, text: str, field: str) -> None:
    with pytest.raises(BadRequest) as refused:
        plan(**own(**{name: text}))
    assert refused.value.errors[0].field == field


def test_every_shared_step_can_have_its_minutes() -> None:
    text = "; ".join(f"{key.replace('-', ' ')} 7" for key in STEPS)
    made = plan(**own(minutes=text))
    assert {one.hands_min for one in made.route} == {7}
