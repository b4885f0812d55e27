"""A shop's ways in an order: they fill what it leaves out, once, and nothing else."""

from typing import Any

import pytest

from ringcraft.commands import ring as ring_command
from ringcraft.errors import BadRequest
from ringcraft.planning.request import RingRequest
from ringcraft.planning.ways import applied, ways_from, ways_in
from ringcraft.resize.asking import ResizeRequest
from ringcraft.resize.plan import read_resize, resize
from ringcraft.schema import to_json
from ringcraft.styles import STYLES, read_ring, ring
from tests.orders import order, style_order
from tests.resizes import came_in

WAYS: dict[str, object] = {
    "home_scale": "iso",
    "join.blade": "2/0",
    "join.saw_passes": 2,
    "leave": "exact",
    "spread.truing_mm": 0.3,
    "own.minutes": "solder 11 2",
    "half_size": "add",
    "cutter_gaps_mm": "2 3.5",
}


def test_it_fills_what_is_left_out_and_touches_nothing_that_is_said() -> None:
    said = {"leave": "large", "join": {"saw_passes": 0, "blade": None}, "spread": None}
    filled = applied(said, WAYS, RingRequest)
    assert filled["leave"] == "large"
    assert filled["join"] == {"saw_passes": 0, "blade": "2/0"}
    assert filled["spread"] == {"truing_mm": 0.3}
    assert filled["own"] == {"minutes": "solder 11 2"}
    assert set(filled["from_ways"]) == {"home_scale", "join.blade", "spread.truing_mm", "own.minutes"}
    assert said == {"leave": "large", "join": {"saw_passes": 0, "blade": None}, "spread": None}


def test_each_kind_takes_the_ways_that_it_has() -> None:
    assert "half_size" not in applied({}, WAYS, RingRequest)
    filled = applied({}, WAYS, ResizeRequest)
    assert (filled["half_size"], filled["cutter_gaps_mm"]) == ("add", "2 3.5")
    assert "leave" not in filled
    assert "spread" not in filled


@pytest.mark.parametrize("join", ["often", 7, ["4/0"], True])
def test_what_cannot_be_read_is_left_to_be_refused_at_its_field(join: Any) -> None:
    with ways_from(lambda: WAYS), pytest.raises(BadRequest) as refused:
        read_ring({**order(), "join": join, "ways": "shop"})
    assert {error.field for error in refused.value.errors} == {"join"}


def test_a_ring_is_planned_with_them_and_says_so() -> None:
    with ways_from(lambda: WAYS):
        made = ring({**order(), "ways": "shop", "join": {"blade": "4/0"}})
    assert (made.used.leave, made.used.join.saw_passes, made.used.join.blade) == ("exact", 2, "4/0")
    assert made.used.scatter.truing_mm == 0.3
    assert next(step for step in made.route if step.key == "solder").hands_min == 11
    assert "leave" in made.used.from_ways
    assert "join.blade" not in made.used.from_ways
    plain = ring(order())
    assert (plain.used.leave, plain.used.from_ways) == ("small", ())


def test_a_ring_to_size_is_planned_with_them_and_says_so() -> None:
    with ways_from(lambda: WAYS):
        made = resize({**came_in(), "ways": "shop"})
    assert made.used is not None
    assert (made.used.half_size, made.used.cutter_gaps_mm) == ("add", (2.0, 3.5))
    assert {"half_size", "cutter_gaps_mm", "join.blade"} <= set(made.used.from_ways)


@pytest.mark.parametrize("style", STYLES)
def test_how_a_band_is_left_is_no_way_with_what_is_usually_left_otherwise(style: str) -> None:
    """Common practice: a shank and a tapered band are cut large, a pattern exactly."""
    with ways_from(lambda: {"leave": "exact"}):
        read = read_ring({**style_order(style), "ways": "shop"})
    assert (read.leave == "exact") == (STYLES[style].leave == "small")


def test_a_kept_order_is_never_filled_a_second_time() -> None:
    with ways_from(lambda: {"join.saw_passes": 2}):
        kept = to_json(read_ring({**order(), "ways": "shop"}))
    with ways_from(lambda: WAYS):
        again = read_ring(kept)
    assert (again.join.blade if again.join else "", again.own.minutes) == ("4/0", ())
    assert again.from_ways == ("join.saw_passes",)
    assert to_json(read_ring(kept)) == kept  # without any shop too: on the command line


def test_the_ways_of_a_kept_order_are_those_that_stand_in_it() -> None:
    with ways_from(lambda: WAYS):
        kept = to_json(read_resize({**came_in(), "ways": "shop"}))
    found = ways_in(kept, {**WAYS, "glued_stones": "", "nowhere.at": ""})
    assert found["half_size"] == "add"
    assert found["cutter_gaps_mm"] == [2.0, 3.5]
    assert found["glued_stones"] == "agreed"  # our own default is what it was planned with
    assert "nowhere.at" not in found


def test_the_command_line_knows_no_shop() -> None:
    with pytest.raises(BadRequest) as refused:
        ring_command({**order(), "ways": "shop"})
    assert [error.field for error in refused.value.errors] == ["ways"]
    with pytest.raises(BadRequest):
        read_ring({**order(), "ways": "mine"})
