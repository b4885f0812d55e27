"""Guards over the tables: every row has its source, its columns and a sane figure."""

from typing import Any

import pytest

from ringcraft.metals import METALS, SOLDERS
from ringcraft.planning.rules import RULES
from ringcraft.routes.steps import STATIONS, finish_schedule
from ringcraft.styles import STYLES
from ringcraft.tables import HERE, record, rows

TABLES = ["scales", "metals", "blades", "solders", "families", "cautions", "measures"]


def test_no_table_is_forgotten_here() -> None:
    assert {path.stem for path in HERE.glob("*.toml")} == {*TABLES, "spreads", "steps"}


@pytest.mark.parametrize("table", TABLES)
def test_every_row_has_a_source_and_the_same_columns(table: str) -> None:
    all_rows = rows(table)
    columns = {frozenset(row) for row in all_rows}
    assert len(columns) == 1
    assert all(str(row["source"]).strip() for row in all_rows)
    keys: list[Any] = [row.get("key", i) for i, row in enumerate(all_rows)]
    assert len(keys) == len(set(keys))


def test_spreads_and_rules_have_reasons_and_sources() -> None:
    spreads = [row for row in record("spreads").values() if isinstance(row, dict)]
    assert len(spreads) == 4
    assert all(row["sd_mm"] > 0 and row["why"] and row["source"] for row in spreads)
    assert all(rule.source for rule in RULES.values())


@pytest.mark.parametrize("metal", METALS.values(), ids=METALS)
def test_a_metal_melts_above_its_annealing_and_its_solder(metal: Any) -> None:
    assert metal.anneal_low_c <= metal.anneal_high_c < metal.solidus_c <= metal.liquidus_c
    assert sum(metal.composition.values()) == pytest.approx(1, abs=1e-9)
    assert finish_schedule(metal, wide=False)
    solder = SOLDERS.get(metal.solder)
    if solder:
        assert solder.flow_high_c < metal.solidus_c


def test_the_shared_steps_are_whole_and_each_is_used() -> None:
    table = record("steps")
    assert table["source"]
    keys = [step["key"] for step in table["step"]]
    assert len(keys) == len(set(keys))
    assert {step["station"] for step in table["step"]} <= set(STATIONS)
    used = {step.get("use") for style in STYLES.values() for step in record(f"routes/{style.route}")["step"]}
    assert set(keys) <= used


@pytest.mark.parametrize("path", sorted((HERE / "routes").glob("*.toml")), ids=lambda path: path.stem)
def test_a_route_belongs_to_a_style_and_uses_known_steps(path: Any) -> None:
    table = record(f"routes/{path.stem}")
    assert table["source"]
    assert path.stem in {style.route for style in STYLES.values()}
    known = {step["key"] for step in record("steps")["step"]}
    for step in table["step"]:
        assert step["use"] in known if "use" in step else {"key", "station", "title"} <= set(step)
