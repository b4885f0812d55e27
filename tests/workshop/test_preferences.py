"""How a shop does things, and how a person in it differs."""

from typing import Any

import pytest

from ringcraft.metals import METALS
from ringcraft.planning.tolerance import scatter_of
from tests.resizes import came_in
from tests.workshop.conftest import Shop
from workshop.people.models import User
from workshop.people.preferences import USUAL, Preferences, overrides_of, preferences_of, shop_preferences
from workshop.people.tables import TABLES


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


def test_a_list_is_told_and_taken_row_by_row_and_refused_at_its_cell(ours: Shop) -> None:
    rows = [
        {"grade": "silver-easy", "title": "", "melts_c": "665", "flows_c": "712", "form": "wire"},
        {"grade": "silver-hard", "title": "blue reel", "melts_c": "", "flows_c": "", "form": "chips"},
    ]
    told = put(ours, "workshop", solders=rows).json()
    assert told["workshop"]["solders"] == rows
    assert [one["flows_c"] for one in told["now"]["solders"]] == [712, None]
    for cell, text, at in (
        ("flows_c", "hot", "flows_c"),
        ("grade", "tin", "grade"),
        ("form", "powder", "form"),
        ("melts_c", "800", "flows_c"),  # it cannot flow before it melts
    ):
        wrong = put(ours, "workshop", solders=[rows[1], {**rows[0], cell: text}])
        assert [one["field"] for one in wrong.json()["errors"]] == [f"solders.1.{at}"]
    lone = put(ours, "workshop", solders=[{"grade": "silver-easy", "melts_c": "665"}])
    assert lone.json()["errors"][0]["field"] == "solders.0.flows_c"
    assert put(ours, "workshop", solders=[]).json()["now"]["solders"] == []


@pytest.mark.parametrize("rows", ["[]", 7, [7], [[1]], {"0": {}}, [{"grade": "silver-easy"}] * 200])
def test_what_is_no_list_of_rows_is_refused(ours: Shop, rows: Any) -> None:
    answer = put(ours, "workshop", solders=rows)
    assert answer.status_code == 422
    assert answer.json()["errors"][0]["field"].split(".")[0] == "solders"


def test_a_persons_row_goes_before_the_shops_of_that_name_alone(ours: Shop) -> None:
    put(ours, "workshop", stones_bear=[{"kind": "opal", "bears": "never"}, {"kind": "ruby", "bears": "careful"}])
    now = put(ours, "mine", stones_bear=[{"kind": "opal", "bears": "delicate"}]).json()["now"]["stones_bear"]
    assert {one["kind"]: one["bears"] for one in now} == {"opal": "delicate", "ruby": "careful"}


def test_lists_that_were_kept_as_one_text_are_read_as_rows(ours: Shop) -> None:
    ours.workshop.preferences = {
        "solders": "silver hard (blue reel) 740 785 wire; silver easy 700",
        "torches": "small torch: flowed sterling 8",
        "metal_figures": "sterling 802 893 10.4",
        "step_minutes": "pickle 1 25",
        "papers": "silver: 400 paper, 800 paper, tripoli",
        "stones_bear": "opal never",
        "metal_prices": "sterling 1.10; 14k yellow 38",
    }
    ours.workshop.save()
    told = ours.send("get", "/ways").json()["workshop"]
    assert told["solders"][0] == {
        "grade": "silver-hard", "title": "blue reel", "melts_c": "740", "flows_c": "785", "form": "wire"
    }  # fmt: skip
    assert told["torches"] == [{"title": "small torch", "done": "flowed", "metal": "sterling", "mass_g": "8"}]
    assert told["metal_figures"][0]["density_g_cm3"] == "10.4"
    assert told["step_minutes"] == [{"step": "pickle", "hands_min": "1", "wait_min": "25"}]
    assert told["papers"][0]["papers"] == "400 paper, 800 paper, tripoli"
    assert told["metal_prices"][1] == {"metal": "gold-14k-yellow", "price": "38"}


def test_our_own_figures_stand_beside_the_shops_with_their_source(ours: Shop) -> None:
    form = {one["field"]: one["table"] for one in ours.send("get", "/ways").json()["form"]}
    lists = {name: table for name, table in form.items() if table}
    assert set(lists) == set(TABLES)
    for table in lists.values():
        cells = [column["name"] for column in table["columns"]]
        assert all(list(row["cells"]) == cells and row["source"] for row in table["ours"])
    easy = next(row for row in lists["solders"]["ours"] if row["key"] == "silver-easy")
    assert (easy["cells"]["melts_c"], easy["cells"]["flows_c"]) == ("690", "720")
    assert {row["key"] for row in lists["metal_figures"]["ours"]} == set(METALS)


def test_what_a_solder_leaves_to_its_metals_is_said(ours: Shop) -> None:
    said = put(ours, "workshop", solders=[{"grade": "silver-easy", "melts_c": "771", "flows_c": "788"}]).json()[
        "says"
    ]
    sterling = METALS["sterling"].solidus_c
    assert f"sterling {sterling - 788:.0f} above it" in said["solders"][0]
    hot = put(ours, "workshop", solders=[{"grade": "silver-easy", "flows_c": str(sterling)}]).json()["says"]
    assert f"sterling ({sterling:.0f})" in hot["solders"][0]
    assert put(ours, "workshop", solders=[{"grade": "silver-easy", "flows_c": "600"}]).json()["says"]["solders"] == []


def test_cutters_are_read_and_told_in_the_shops_own_unit(ours: Shop) -> None:
    put(ours, "workshop", units="in")
    told = put(ours, "workshop", units="in", cutter_gaps="0.1, 5/64 3 mm").json()
    assert told["now"]["cutter_gaps"] == pytest.approx([2.54, 1.984375, 3.0])
    assert told["workshop"]["cutter_gaps"] == "0.1 1.9844mm 3mm"
    again = put(ours, "workshop", units="in", cutter_gaps=told["workshop"]["cutter_gaps"]).json()
    assert again["now"]["cutter_gaps"] == pytest.approx(told["now"]["cutter_gaps"], rel=1e-4)
    order = {**came_in(), "ways": "shop", "units": "in", "shank": {"profile": "round", "thickness_mm": "0.06"}}
    assert ours.send("post", "/plan/resize", order).json()["used"]["cutter_gaps_mm"] == again["now"]["cutter_gaps"]
    for wrong in ("2 wide", "0.5", "1 2 3 4 5 6 7 8 9 10 11 12 13", 7):
        answer = put(ours, "workshop", units="in", cutter_gaps=wrong)
        assert answer.json()["errors"][0]["field"] == "cutter_gaps"


def test_cutters_that_were_kept_as_one_text_are_millimetres(ours: Shop) -> None:
    ours.workshop.preferences = {"units": "in", "cutter_gaps": "2 2.5"}
    ours.workshop.save()
    assert ours.send("get", "/ways").json()["now"]["cutter_gaps"] == [2, 2.5]
