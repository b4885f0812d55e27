"""The sentence of a practice, and how its fields are called."""

from __future__ import annotations

from collections.abc import Mapping
from typing import Any

from ringcraft.metals import METALS
from ringcraft.practice.asking import EXERCISES
from ringcraft.sections import PROFILES
from ringcraft.work.fields import FieldSpec, Option
from ringcraft.work.telling import SheetWords, stock_labels

BEGINS = {"profile": "round", "width_mm": "", "thickness_mm": "1.6", "side_mm": ""}

SAYS = (
    FieldSpec(
        "exercise", "Exercise", "Practise", kind="choice", first="cuts",
        choices=tuple(Option(one.key, one.title) for one in EXERCISES.values()),
    ),
    FieldSpec("length_mm", "Length of each", ", each", "{mm} long,", first="", placeholder="as usual"),
    FieldSpec("rounds", "Rounds", "in", "rounds", "count", placeholder="as many as usual"),
    FieldSpec("water_share", "Share in water", ",", "of it in water", "number", "40 %", when="exercise=water"),
)  # fmt: skip
STOCK = (
    FieldSpec("metal", "Metal", "From", kind="choice", first="copper", listed="ring_metals"),
    FieldSpec("stock", "Stock", kind="stock", first=BEGINS),
)
LABELS = {
    **{word.field: word.label.lower() for word in SAYS},
    **stock_labels("stock"),
    "join.saw_passes": "saw passes",
    "join.blade": "saw blade",
}
TITLES = {
    "exercise": {key: one.title for key, one in EXERCISES.items()},
    "metal": {key: metal.title for key, metal in METALS.items()},
    "stock.profile": {key: profile.title for key, profile in PROFILES.items()},
}


def sheet_words(order: Mapping[str, Any]) -> SheetWords:
    """The words of the sheet of a practice."""
    return SheetWords(LABELS, TITLES)
