"""The ring is a thing: what is chosen of it, and what is done with what is glued."""

from __future__ import annotations

import pytest

from ringcraft.errors import BadRequest
from ringcraft.resize.plan import resize
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
