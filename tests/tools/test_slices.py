"""Slices of the sweeps: all eight together are all of them, each is stable and has every style and family."""

from __future__ import annotations

import subprocess
import sys

import pytest

from ringcraft.metals import METALS
from ringcraft.styles import STYLES
from tests import slices
from tests.slices import PARTS, chosen, names_in
from tools import ids, tests

IDS = [
    f"tests/x.py::test_{sweep}[{style}-{metal}]"
    for sweep in ("one", "two", "three")
    for style in STYLES
    for metal in METALS
] + ["tests/x.py::test_rare[a]", "tests/x.py::test_rare[b]"]


def test_eight_slices_are_all_of_it_and_each_is_about_an_eighth() -> None:
    parts = [chosen(IDS, part) for part in range(PARTS)]
    assert set.union(*parts) == set(IDS) == chosen(IDS, None)
    for part in parts:
        assert len(IDS) / 16 < len(part) < len(IDS) / 5


@pytest.mark.parametrize("part", range(PARTS))
def test_each_slice_has_every_style_every_family_and_a_case_of_every_sweep(part: int) -> None:
    taken = chosen(IDS, part)
    named = set.union(*(names_in(one) for one in taken))
    assert named >= set(STYLES) | {f"family of {metal.family}" for metal in METALS.values()}
    assert {one.partition("[")[0] for one in taken} == {one.partition("[")[0] for one in IDS}


def test_a_case_stays_in_its_slice_whatever_is_added() -> None:
    for part in range(PARTS):
        before, after = chosen(IDS, part), chosen([*IDS, "tests/new.py::test_new[plain-band]"], part)
        assert before <= after


def test_a_sweep_is_sliced_and_what_is_named_runs() -> None:
    sweep = "tests/ringcraft/test_styles.py"
    command = [sys.executable, "-m", "pytest", "--collect-only", "-q", "-o", ids.PLAIN, "-k", "larger_finger"]

    def counted(*where: str, part: str) -> int:
        done = subprocess.run(
            [*command, *where], check=False, env={"SLICE": part, "PATH": "/usr/bin"}, capture_output=True, text=True
        )
        return done.stdout.count("::test_a_larger_finger_takes_a_longer_blank[")

    assert 0 < counted(sweep, part="3") < len(STYLES)
    assert counted(sweep, part="all") == len(STYLES)
    named = [f"{sweep}::test_a_larger_finger_takes_a_longer_blank[{style}]" for style in STYLES]
    assert counted(*named, part="3") == len(STYLES)


def test_one_exit_status_for_all_that_runs_side_by_side(monkeypatch: pytest.MonkeyPatch) -> None:
    def line(*commands: str) -> tests.Line:
        return tests.Line([tests.Part(command, ["/bin/sh", "-c", command]) for command in commands])

    for given, status in ((("echo a", "exit 3", "echo b"), 1), (("echo a", "true"), 0)):
        made = [line(*given), line("true")]
        monkeypatch.setattr(tests, "lines", lambda quick, made=made: made)
        assert tests.main() == status
        assert [part.status is not None for one in made for part in one.parts] == [True] * (len(given) + 1)


@pytest.mark.parametrize(("part", "asked"), [(None, 60), (3, 20)])
def test_chance_is_asked_as_often_as_said_where_all_run(
    monkeypatch: pytest.MonkeyPatch, part: int | None, asked: int
) -> None:
    monkeypatch.setattr(slices, "SLICE", part)
    assert slices.tries(60) == asked
    assert slices.tries(5) == 5
