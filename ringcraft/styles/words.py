"""How the fields of a ring's order are called, where a change of one is told."""

from __future__ import annotations

from collections.abc import Mapping
from typing import Any

from ringcraft.metals import METALS
from ringcraft.parts.words import LABELS as PART_LABELS
from ringcraft.parts.words import PARTS_WORD, SURFACE_WORDS
from ringcraft.planning.own_steps import STEPS_BY
from ringcraft.planning.rules import RULES
from ringcraft.sections import PROFILES
from ringcraft.styles import STYLES
from ringcraft.work.telling import SheetWords, stock_labels

#: What every ring can have beside its style's own words.
EVERY_RING = (*SURFACE_WORDS, PARTS_WORD)
LABELS = {
    "style": "style",
    "size": "finger size",
    "gauge": "read on",
    "metal": "metal",
    **stock_labels("stock"),
    "rule": "rule",
    "join.saw_passes": "saw passes",
    "join.blade": "saw blade",
    "join.file_passes": "file passes",
    "join.trim_mm": "trim",
    "leave": "leave it",
    "round_to_mm": "mark to",
    "steps_by": "whose steps",
    "wide": "wide band",
}
TITLES = {
    "style": {key: style.title for key, style in STYLES.items()},
    "metal": {key: metal.title for key, metal in METALS.items()},
    "stock.profile": {key: profile.title for key, profile in PROFILES.items()},
    "rule": {key: rule.title for key, rule in RULES.items()},
    "steps_by": STEPS_BY,
}


def sheet_words(order: Mapping[str, Any]) -> SheetWords:
    """The words of the sheet of an order's style."""
    style = STYLES.get(str(order.get("style", "")))
    own = {word.field: word.label for word in style.words} if style else {}
    parts = {part.field: part.label for word in style.words for part in word.parts} if style else {}
    every = {word.field: word.label[:1].lower() + word.label[1:] for word in EVERY_RING}
    return SheetWords({**LABELS, **PART_LABELS, **every, **own, **parts}, TITLES)
