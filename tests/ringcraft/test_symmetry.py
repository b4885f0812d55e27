"""Symmetry of a shank by plane arithmetic: the thicker side comes down to the thinner, never under the floor."""

from __future__ import annotations

import pytest

from ringcraft.learning.symmetry import symmetry


def takes(floor: float = 1.0, **mm: float) -> dict[str, float]:
    read = {key.replace("_", "-"): value for key, value in mm.items()}
    return {one.place: pytest.approx(one.take_mm) for one in symmetry(read, floor).places}


def test_the_thicker_side_comes_down_to_the_thinner() -> None:
    assert takes(left_45=1.9, right_45=1.6, bottom=1.4) == {"left-45": 0.3, "bottom": 0, "right-45": 0}
    assert symmetry({"left-90": 1.5, "right-90": 1.52}).says == ("90°: alike.",)
    assert symmetry({"left-end": 1.5, "right-end": 1.5}).says == ("The ends: alike.",)


def test_nothing_goes_under_the_floor() -> None:
    one = symmetry({"left-45": 1.5, "right-45": 0.8, "bottom": 0.9}, 1.2)
    assert {place.place: place.take_mm for place in one.places} == {
        "left-45": pytest.approx(0.3), "bottom": 0.0, "right-45": 0.0
    }  # fmt: skip
    assert one.says[0] == "45° left: take 0.30, no more: 0.40 stays, the floor is there."
    assert one.says[1].startswith("Under 1.20 at the bottom, at 45° right")
    at_floor = symmetry({"left-90": 1.21, "right-90": 0.9}, 1.2)
    assert at_floor.places[0].take_mm == 0
    assert "leave it" in at_floor.says[0]


def test_a_place_without_its_other_side_is_only_told() -> None:
    one = symmetry({"left-45": 1.9, "bottom": 1.4})
    assert one.says == ()
    assert [place.angle_deg for place in one.places] == [-45, 0]
