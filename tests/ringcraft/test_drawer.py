"""A piece of stock by length and by mass; near stock; how hard a job's metal is; what it has lost."""

import math

import pytest

from ringcraft import styles
from ringcraft.commands import resize
from ringcraft.errors import BadRequest
from ringcraft.metals import METALS
from ringcraft.schema import read_request
from ringcraft.sections import Section, Stock, section_of
from ringcraft.stock.drawer import PIECE, PieceFigures, figures_of, same_section
from ringcraft.stock.near import AtHandStock, NearWay, Need, near_ways
from ringcraft.styles import STYLES
from ringcraft.work.hardening import hardening
from ringcraft.work.losses import losses
from tests.orders import style_plan


def piece(**said: object) -> PieceFigures:
    return figures_of(read_request(PIECE, {"kind": "wire", "metal": "sterling", "profile": "round", **said}))


def test_length_and_mass_give_each_other_through_the_section() -> None:
    area = math.pi / 4 * 1.5**2
    by_length = piece(thickness_mm=1.5, length_mm=300)
    assert by_length.mass_g == pytest.approx(area * 300 * 10.36 / 1000)
    assert piece(thickness_mm=1.5, mass_g=by_length.mass_g).length_mm == pytest.approx(300)
    sheet = figures_of(
        read_request(
            PIECE, {"kind": "sheet", "metal": "copper", "thickness_mm": 0.9, "width_mm": 80, "length_mm": 120}
        )
    )
    assert sheet.mass_g == pytest.approx(0.9 * 80 * 120 * METALS["copper"].density_g_cm3 / 1000)


def test_a_shops_own_density_goes_before_the_table() -> None:
    own = {"metals": [{"metal": "sterling", "density_g_cm3": 10.2}]}
    assert piece(thickness_mm=2, length_mm=100, own=own).mass_g == pytest.approx(math.pi * 100 * 10.2 / 1000)


@pytest.mark.parametrize(
    ("said", "field"),
    [
        ({"thickness_mm": 1.5}, "length_mm"),
        ({"length_mm": 5}, "thickness_mm"),
        ({"thickness_mm": 1.5, "length_mm": 100, "mass_g": 9}, "mass_g"),
        ({"kind": "scrap"}, "mass_g"),
        ({"kind": "sheet", "thickness_mm": 1, "length_mm": 5}, "width_mm"),
        ({"thickness_mm": 0.01, "length_mm": 5}, "thickness_mm"),
        ({"kind": "treasure"}, "kind"),
        ({"thickness_mm": 1.5, "mass_g": 20_000}, "length_mm"),
        ({"kind": "scrap", "mass_g": 1e30}, "mass_g"),
        ({"thickness_mm": 1.5, "length_mm": 5, "price": -4}, "price"),
        ({"thickness_mm": 1.5, "length_mm": 0.01}, "length_mm"),
        ({"kind": "scrap", "mass_g": 0.0001}, "mass_g"),
    ],
)
def test_what_is_no_piece_is_refused_at_its_field(said: dict[str, object], field: str) -> None:
    with pytest.raises(BadRequest) as refused:
        piece(**said)
    assert refused.value.errors[0].field == field


def section(profile: str, thickness: float, width: float | None = None) -> Section:
    return section_of(Stock(profile=profile, thickness_mm=thickness, width_mm=width))


def test_a_strip_of_sheet_and_a_rectangle_are_one_stock() -> None:
    assert same_section(section("sheet", 1, 5), section("rectangle", 1, 5))
    assert same_section(section("sheet", 2, 2), section("square", 2))
    assert not same_section(section("sheet", 1, 5), section("half-round", 1, 5))
    assert not same_section(section("sheet", 1, 5), section("sheet", 1.05, 5))


def ways(want: Section, *pieces: tuple[str, Section, float], length: float = 60.0) -> dict[str, NearWay]:
    have = [AtHandStock(at, name, one, long) for at, (name, one, long) in enumerate(pieces)]
    return {one.key: one for one in near_ways(Need("sterling", want, length, 0.22), have, scrap_g=2.0)}


def test_too_short_says_what_it_would_come_out_at_and_two_of_them_what_they_cost() -> None:
    want = section("half-round", 1.5, 3)
    made = ways(want, ("offcut 3", want, 58.7), ("offcut 4", want, 30))
    assert made["short"].says == "1.30 mm short: the ring would come out 0.51 US sizes small"
    assert made["two"].ids == (0, 1)
    assert made["two"].takes_mm == pytest.approx(60.2)


def test_near_stock_is_filed_trimmed_or_rolled_and_volume_is_kept() -> None:
    want = section("sheet", 1.5, 4)
    thick, wide, bar = section("sheet", 1.8, 4), section("sheet", 1.5, 6), section("rectangle", 3, 4)
    made = ways(want, ("thick", thick, 100), ("wide", wide, 100), ("bar", bar, 40))
    assert made["filed"].takes_mm == 60
    assert f"{0.3 * 4 * 60 * 10.36 / 1000:.2f} g to the filings" in made["filed"].says
    assert f"{2 * math.pi * 0.15:.1f} longer" in made["filed"].says
    assert "a strip 1.8 wide stays" in made["trimmed"].says
    assert made["rolled"].takes_mm == pytest.approx(60 * 1.5 / 3)
    assert made["melted"].says.startswith(f"{60 * 6 * 10.36 / 1000 * 1.08 / 0.98:.1f} g melted")
    square = ways(section("half-round", 1.5, 3), ("bar", section("square", 4), 40))
    assert square["rolled"].takes_mm * 16 == pytest.approx(60 * section("half-round", 1.5, 3).area_mm2)


def test_other_stock_that_does_not_do_is_not_named() -> None:
    made = ways(
        section("half-round", 2, 4), ("thin", section("half-round", 1.5, 4), 300), ("round", section("round", 1), 500)
    )
    assert set(made) == {"melted"}


@pytest.mark.parametrize("style", STYLES)
def test_the_bar_fills_with_the_virtual_bench_and_soldering_empties_it(style: str) -> None:
    plan = style_plan(style)
    bars = hardening(plan)
    after = {step.key: step.after for step in plan.route}
    assert bars
    for one in bars:
        state = after[one.step][one.piece]
        assert one.strain == state.strain
        assert one.filled == pytest.approx(state.strain / state.of.of_family.strain_limit)
        assert not one.due
    soldered = [one for one in bars if "soldering" in one.says]
    assert all(one.filled == 0 for one in soldered)
    poured = {(one.step, one.piece): one for one in hardening(plan, poured=True)}
    assert all(poured[one.step, one.piece].filled >= one.filled for one in bars)


def test_poured_metal_is_past_its_due_where_bought_is_not() -> None:
    plan = styles.ring(
        {"style": "tapered", "size": "US 6", "metal": "sterling", "stock": {"profile": "square", "thickness_mm": 4}}
    )
    full = max(hardening(plan), key=lambda one: one.filled)
    assert full.filled > 0.95
    poured = max(hardening(plan, poured=True), key=lambda one: one.filled)
    assert poured.due
    assert "anneal before this" in poured.says


@pytest.mark.parametrize("style", STYLES)
def test_losses_add_up_to_what_the_card_expects(style: str) -> None:
    plan = style_plan(style)
    found = losses(plan)
    if found is None:
        return
    last = {name: one for name, one in plan.route[-1].after.items() if name != "offcut"}
    assert found.should_g == pytest.approx(sum(one.mass_g * one.count for one in last.values()), abs=0.02)
    assert all(line.mass_g < 0 for line in found.lines[1:])


@pytest.mark.parametrize(
    ("share", "verdict", "said"),
    [(0.985, "good", "nothing is missing"), (0.95, "note", "filings"), (0.85, "look", "in the drawer or on the floor"),
     (1.06, "note", "more than it should"), (None, "", "Papers take about")],
)  # fmt: skip
def test_what_is_missing_is_said(share: float | None, verdict: str, said: str) -> None:
    plan = style_plan("plain-band")
    should = losses(plan).should_g  # type: ignore[union-attr]
    found = losses(plan, None if share is None else share * should)
    assert found is not None
    assert found.verdict == verdict
    assert said in found.says


def test_nobody_knows_what_a_customers_ring_should_weigh() -> None:
    plan = resize(
        {
            "from": "US 8",
            "to": "US 7",
            "metal": "sterling",
            "shank": {"profile": "half-round", "width_mm": 3, "thickness_mm": 1.4},
        }
    )
    assert losses(plan, 3.0) is None
