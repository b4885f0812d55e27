"""Guards over the tables: every row has its source, its columns and a sane figure."""

from typing import Any

import pytest

from ringcraft.metals import METALS, SOLDERS
from ringcraft.parts import PARTS
from ringcraft.planning.rules import RULES
from ringcraft.practice.asking import EXERCISES
from ringcraft.resize.methods import METHODS
from ringcraft.resize.plan import STOP
from ringcraft.routes.finishing import finish_schedule
from ringcraft.routes.steps import STATIONS
from ringcraft.styles import STYLES
from ringcraft.tables import HERE, record, rows

TABLES = ["scales", "metals", "blades", "families", "cautions", "measures", "quenches", "ring-metals", "stones",
          "settings", "features", "resize-rules", "risks", "heat-bands", "heat-colours", "melting", "milling",
          "fuels", "stone-degrees", "surfaces", "glossary", "practice"]  # fmt: skip
STEPS = ("steps", "resize-steps")
ROUTES = {one.route for one in (*STYLES.values(), *METHODS.values(), *PARTS.values(), *EXERCISES.values())} | {STOP}


def test_no_table_is_forgotten_here() -> None:
    assert {path.stem for path in HERE.glob("*.toml")} == {
        *TABLES,
        "solders",
        "spreads",
        "day",
        "flux",
        "size-answers",
        "causes",
        "own-deeds",
        *STEPS,
    }


@pytest.mark.parametrize("table", TABLES)
def test_every_row_has_a_source_and_the_same_columns(table: str) -> None:
    all_rows = rows(table)
    columns = {frozenset(row) for row in all_rows}
    assert len(columns) == 1
    assert all(str(row["source"]).strip() for row in all_rows)
    keys: list[Any] = [row.get("key", i) for i, row in enumerate(all_rows)]
    assert len(keys) == len(set(keys))


def test_solders_stand_from_the_highest_flow_down() -> None:
    for series in rows("solders", "series"):
        assert series["source"]
        for column in ("melts_c", "flows_c"):
            figures = series.get(column, [])
            assert len(figures) in (0, len(series["grades"]))
            assert figures == sorted(figures, reverse=True)
    assert {metal.solder for metal in METALS.values()} <= set(SOLDERS)
    assert all(one.melts_c < one.flows_c for one in SOLDERS.values() if one.melts_c and one.flows_c)


def test_spreads_and_rules_have_reasons_and_sources() -> None:
    spreads = [row for row in record("spreads").values() if isinstance(row, dict)]
    assert len(spreads) == 4
    assert all(row["sd_mm"] > 0 and row["why"] and row["source"] for row in spreads)
    ours = [record("day"), *(row for row in record("day").values() if isinstance(row, dict))]
    assert all(row["why"] and row["source"] for row in ours)
    assert all(rule.source for rule in RULES.values())


@pytest.mark.parametrize("metal", METALS.values(), ids=METALS)
def test_a_metal_melts_above_its_annealing_and_its_solder(metal: Any) -> None:
    assert metal.anneal_low_c <= metal.anneal_high_c < metal.solidus_c <= metal.liquidus_c
    assert sum(metal.composition.values()) == pytest.approx(1, abs=1e-9)
    assert finish_schedule(metal, wide=False)
    solder = SOLDERS[metal.solder]
    assert solder.flows_c is None or solder.flows_c < metal.solidus_c


def test_the_shared_steps_are_whole_and_each_is_used() -> None:
    assert all(record(table)["source"] for table in STEPS)
    shared = [step for table in STEPS for step in record(table)["step"]]
    keys = [step["key"] for step in shared]
    assert len(keys) == len(set(keys))
    assert {step["station"] for step in shared} <= set(STATIONS)
    blocks = {block["key"]: block["steps"] for table in STEPS for block in record(table)["block"]}
    rows_of = [row for route in ROUTES for row in record(f"routes/{route}")["step"]]
    blocked = {key: [step.partition(" as ")[0] for step in steps] for key, steps in blocks.items()}
    used = {key for row in rows_of for key in [row.get("use"), *blocked.get(row.get("block"), [])]}
    assert set(blocks) == {row["block"] for row in rows_of if "block" in row}
    assert set(keys) <= used


@pytest.mark.parametrize("path", sorted((HERE / "routes").glob("*.toml")), ids=lambda path: path.stem)
def test_a_route_belongs_to_a_style_and_uses_known_steps(path: Any) -> None:
    table = record(f"routes/{path.stem}")
    assert table["source"]
    assert path.stem in ROUTES
    known = {step["key"] for shared in STEPS for step in record(shared)["step"]}
    for step in table["step"]:
        if "block" in step:
            continue
        assert step["use"] in known if "use" in step else {"key", "station", "title"} <= set(step)
