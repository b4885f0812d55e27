"""The words of the trade: as many as a bench needs, each found where a card says it, drawn where drawing says more."""

from __future__ import annotations

import re
from typing import Any

import pytest

from ringcraft.drawing.paths import flattened
from ringcraft.glossary import DRAWN, words
from ringcraft.routes.steps import SHARED
from ringcraft.styles import STYLES, ring
from ringcraft.tables import HERE, record, rows
from tests.orders import style_order


def test_there_are_as_many_as_a_bench_needs_each_in_its_own_words() -> None:
    found = words()
    assert 60 <= len(found) <= 100
    assert [word.title.lower() for word in found] == sorted(word.title.lower() for word in found)
    assert len({word.says for word in found}) == len(found)
    for word in found:
        assert word.says.endswith(".")
        assert len(word.says.split()) <= 40, word.key
        assert word.title.lower() not in word.says.lower().split()[:2], word.key  # it is not explained by itself
    forms = [form.lower() for word in found for form in word.finds]
    assert len(forms) == len(set(forms))  # no form of two words


def test_every_drawing_is_drawn_and_every_one_is_used() -> None:
    asked = {row["drawing"] for row in rows("glossary")} - {""}
    assert asked == set(DRAWN)
    for word in words():
        if word.drawing is None:
            continue
        assert word.drawing.length_mm > 0
        assert word.drawing.height_mm > 0
        assert all(len(flattened(path, closed=True)) > 2 for one in word.drawing.shapes for path in one.paths)


def _rows(route: str) -> Any:
    return record(f"routes/{route}")["step"]


def test_a_card_says_them() -> None:
    """Every form is one that some step of some route says: none is a link that never shows."""
    said = []
    for style in STYLES:
        for metal in ("sterling", "gold-14k-yellow"):
            plan = ring(style_order(style, metal=metal))
            said += [line for step in plan.route for line in (*step.do, *step.check)]
    steps = [*SHARED.values(), *(row for path in (HERE / "routes").glob("*.toml") for row in _rows(path.stem))]
    for step in steps:
        for line in (*step.get("do", ()), *step.get("check", ()), *step.get("more_do", ())):
            said.append(line if isinstance(line, str) else line["text"])
    text = "\n".join(said).lower()
    never = [
        word.key
        for word in words()
        if word.finds
        and not any(re.search(rf"(?<![\w-]){re.escape(form.lower())}(?![\w-])", text) for form in word.finds)
    ]
    assert never == []


@pytest.mark.parametrize("key", ["bezel", "neutral-line", "kerf", "pickle"])
def test_the_words_that_a_beginner_asks_for_are_there(key: str) -> None:
    assert key in {word.key for word in words()}
