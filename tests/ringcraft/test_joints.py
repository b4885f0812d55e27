"""Joints and their solders: the ladder falls, the metal stands above, and what is not known is said."""

import itertools

import pytest

from ringcraft.metals import METALS
from ringcraft.planning.joints import Seam, joints_of, ladder

metals = pytest.mark.parametrize("metal", METALS.values(), ids=METALS)


@metals
def test_one_heat_takes_the_metals_own_solder(metal) -> None:  # type: ignore[no-untyped-def]
    assert [solder.key for solder in ladder(metal, 1)] == [metal.solder]
    assert [solder.key for solder in ladder(metal, 0)] == [metal.solder]


@metals
@pytest.mark.parametrize("heats", [2, 3, 4])
def test_the_ladder_only_falls(metal, heats: int) -> None:  # type: ignore[no-untyped-def]
    grades = ladder(metal, heats)
    assert len(grades) == heats
    for before, after in itertools.pairwise(grades):
        assert after == before or after.stays_below(before)
        if before.flows_c and after.flows_c and before != after:
            assert after.flows_c < before.flows_c
            assert after.melts_c < before.melts_c
    for grade in grades:
        if grade.flows_c:
            assert grade.flows_c < metal.solidus_c


def test_platinum_goes_by_its_own_numbers() -> None:
    keys = [solder.key for solder in ladder(METALS["platinum-950"], 3)]
    assert keys == ["platinum-1700", "platinum-1500", "platinum-1300"]


def test_a_later_joint_says_how_near_the_earlier_one_is() -> None:
    first, second = joints_of(METALS["sterling"], [Seam("a", "a", 6), Seam("b", "b", 60, 2)])
    assert (first.solder, second.solder) == ("silver-hard", "silver-medium")
    assert "watch" not in first.says  # it is the metal's usual solder: no alarm on every ring
    assert "The joint before begins to melt at 745" in second.says
    assert (first.chips, second.chips) == (2, 20)
    assert "745 to 790" in first.says


def test_joints_of_one_heat_share_a_grade_and_do_not_warn_of_one_another() -> None:
    made = joints_of(METALS["sterling"], [Seam("a", "a", 3), Seam("b", "b", 3), Seam("c", "c", 3, 2)])
    assert [joint.solder for joint in made] == ["silver-hard", "silver-hard", "silver-medium"]
    assert "joint before" not in made[1].says


def test_a_solder_that_only_its_sheet_knows_says_so() -> None:
    made = joints_of(METALS["gold-14k-yellow"], [Seam("a", "a", 3), Seam("b", "b", 3, 2)])
    assert made[0].melts_c is None
    assert made[0].flows_c is None
    assert made[0].solder == "gold-14k-yellow-hard"
    assert "read its flow off the maker's sheet" in made[0].says
    assert "It must flow below the 14k yellow hard" in made[1].says


def test_the_end_of_the_ladder_warns_of_the_joint_before() -> None:
    made = joints_of(METALS["brass"], [Seam(str(i), "x", 3, i) for i in (1, 2, 3, 4)])
    assert made[-1].solder == made[-2].solder == "silver-extra-easy"
    assert made[-1].guarded
    assert not made[-2].guarded
    assert "coat that one" in made[-1].says
