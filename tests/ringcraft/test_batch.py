"""Several rings together: what they share, and every piece against every gap."""

from __future__ import annotations

from typing import Any

import pytest

from ringcraft.resize.batch import Batch, BatchRing, batch_of
from tests.resizes import figures, plan


def batch(*rings: dict[str, Any]) -> Batch:
    return batch_of([BatchRing(place, f"ring {place}", plan(**one)) for place, one in enumerate(rings, start=1)])


DOWN, UP = {"to": "US 4 3/4", "offcut": "credited"}, {"to": "US 7 1/4"}


def test_rings_of_one_metal_and_solder_share_torch_and_pot() -> None:
    made = batch(DOWN, {**UP, "metal": "sterling"}, UP, {"to": "US 6 1/4"})
    assert [one.ids for one in made.together] == [(1, 3), (4,), (2,)]
    assert "one lighting, one pot" in made.together[0].says
    assert "one lighting" not in made.together[2].says
    assert made.together[1].says == "worked cold"


def test_a_piece_is_held_against_every_gap_of_its_metal_and_section() -> None:
    made = batch(DOWN, UP, {**UP, "metal": "sterling"}, {**UP, "shank": {"width_mm": 4.0}}, {**UP, "to": "US 7 3/4"})
    piece, need = figures(plan(**DOWN))["piece_mm"], figures(plan(**UP))["insert_mm"]
    assert [(one.giver, one.taker) for one in made.swaps] == [(1, 2), (1, 5)]
    first = made.swaps[0]
    assert first.short_mm == pytest.approx(need - piece)
    assert first.short_us == pytest.approx((need - piece) / 2.5535, abs=1e-4)
    assert f"{need - piece:.2f} mm short" in first.says
    alone = figures(plan(**UP, method="add-stock", piece={"length_mm": piece}))
    assert alone["piece_short_mm"] == pytest.approx(first.short_mm)


def test_what_is_not_credited_goes_back_and_is_said() -> None:
    made = batch({"to": "US 4 3/4"}, UP)
    assert not made.swaps[0].credited
    assert "goes back to its owner" in made.swaps[0].says
    assert made.pieces == ()
    assert batch(DOWN, UP).pieces[0].length_mm == figures(plan(**DOWN))["piece_mm"]


def test_an_unknown_metal_and_a_longer_piece() -> None:
    assert (
        batch(
            {**DOWN, "metal": "unknown", "method": "take-out"}, {**UP, "metal": "unknown", "method": "add-stock"}
        ).swaps
        == ()
    )
    long = batch({"to": "US 3", "offcut": "credited"}, UP)
    assert long.swaps[0].says == "long enough"
    assert (long.swaps[0].short_mm, long.swaps[0].short_us) == (0, 0)
    assert batch().together == ()
