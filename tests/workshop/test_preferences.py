"""How a shop does things, and how a person in it differs."""

from typing import Any

import pytest

from ringcraft.planning.tolerance import scatter_of
from tests.workshop.conftest import Shop
from workshop.people.models import User
from workshop.people.preferences import USUAL, Preferences, overrides_of, preferences_of, shop_preferences


def put(shop: Shop, level: str, **ways: Any) -> Any:
    """Set the ways as one who has just read them."""
    version = shop.send("get", "/ways").json()[f"{level}_version"]
    return shop.send("put", f"/ways/{level}", {**ways, "version": version})


def test_a_person_follows_the_shop_and_the_shop_the_usual(ours: Shop) -> None:
    put(ours, "workshop", leave="exact", blade="3/0")
    answer = put(ours, "mine", blade="6/0").json()
    assert answer["usual"]["leave"] == "small"
    assert (answer["shop"]["leave"], answer["shop"]["blade"]) == ("exact", "3/0")
    assert (answer["now"]["leave"], answer["now"]["blade"]) == ("exact", "6/0")
    ours.workshop.refresh_from_db()
    colleague = User.objects.create_user("colleague", password="a long enough word", workshop=ours.workshop)
    assert preferences_of(colleague, ours.workshop).blade == "3/0"
    assert shop_preferences(ours.workshop).leave == "exact"


def test_what_is_taken_back_follows_again(ours: Shop) -> None:
    put(ours, "mine", truing_spread_mm=0.5)
    assert put(ours, "mine").json()["now"]["truing_spread_mm"] == USUAL.truing_mm


def test_the_usual_scatter_is_ringcrafts_own() -> None:
    usual = scatter_of(None, None)
    ways = Preferences()
    assert ways.thickness_spread_mm == usual.thickness_mm
    assert ways.cutting_spread_mm == usual.cutting_mm
    assert ways.saw_pass_spread_mm == usual.saw_pass_mm
    assert ways.truing_spread_mm == usual.truing_mm
    assert ways.costly_share == usual.chance


@pytest.mark.parametrize(
    ("ways", "field"),
    [
        ({"truing_spread_mm": 9}, "truing_spread_mm"),
        ({"thickness_spread_mm": "-1"}, "thickness_spread_mm"),
        ({"cutting_spread_mm": "💍"}, "cutting_spread_mm"),
        ({"saw_pass_spread_mm": 5}, "saw_pass_spread_mm"),
        ({"costly_share": 0.9}, "costly_share"),
        ({"costly_share": "never"}, "costly_share"),
        ({"round_to_mm": 5}, "round_to_mm"),
        ({"wide_quarter_from_mm": 8, "wide_half_from_mm": 6}, "wide_half_from_mm"),
        ({"blade": "12"}, "blade"),
        ({"leave": "loose"}, "leave"),
        ({"home_scale": "moon"}, "home_scale"),
        ({"units": "cubits"}, "units"),
        ({"saw_passes": "often"}, "saw_passes"),
        ({"colour": "blue"}, "colour"),
    ],
)
def test_a_way_that_cannot_be_is_refused_at_its_field_and_changes_nothing(
    ours: Shop, ways: dict[str, Any], field: str
) -> None:
    put(ours, "workshop", leave="large")
    answer = put(ours, "workshop", **{"leave": "exact", **ways})
    assert answer.status_code == 422
    assert [error["field"] for error in answer.json()["errors"]] == [field]
    ours.workshop.refresh_from_db()
    assert ours.workshop.preferences == {"leave": "large"}


def test_a_share_may_be_said_as_a_percentage(ours: Shop) -> None:
    assert put(ours, "mine", costly_share="5 %").json()["now"]["costly_share"] == 0.05


def test_a_way_that_is_no_longer_known_is_let_go() -> None:
    assert overrides_of({"leave": "exact", "hat": "on"}).leave == "exact"


def test_one_shops_ways_are_not_anothers(ours: Shop, theirs: Shop) -> None:
    put(ours, "workshop", units="in")
    assert theirs.send("get", "/ways").json()["now"]["units"] == "mm"


def test_choosing_inches_does_not_make_an_inch_of_what_stood_there_in_mm(ours: Shop) -> None:
    put(ours, "mine", round_to_mm="0.1", wide_quarter_from_mm="5")
    now = put(ours, "mine", units="in", round_to_mm="0.1", wide_quarter_from_mm="5").json()
    assert (now["now"]["round_to_mm"], now["now"]["wide_quarter_from_mm"]) == (0.1, 5)
    assert now["mine"]["wide_quarter_from_mm"] == "5 mm"
    again = put(ours, "mine", units="in", wide_quarter_from_mm="0.2").json()
    assert again["now"]["wide_quarter_from_mm"] == pytest.approx(5.08)


def test_what_waited_on_a_device_is_read_in_the_unit_it_was_typed_in(ours: Shop) -> None:
    job, path = ours.job(), "measures/stock-thickness"
    sent = {"text": "0.07", "typed_in": "in"}  # typed in inches, delivered when the caliper types mm
    measured = ours.send("put", f"/jobs/{job.pk}/{path}", sent).json()["measures"][0]
    assert measured["value"] == pytest.approx(1.778)
    assert put(ours, "mine", round_to_mm="0.004", typed_in="in").json()["now"]["round_to_mm"] == pytest.approx(0.1016)
