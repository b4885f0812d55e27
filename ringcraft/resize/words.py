"""How the fields of a ring that came in are called, where a change of one is told."""

from __future__ import annotations

from collections.abc import Mapping
from typing import Any

from ringcraft.metals import ALL_METALS
from ringcraft.resize.asking import FEATURES, SETTINGS, STONES
from ringcraft.resize.methods import METHODS
from ringcraft.sections import PROFILES
from ringcraft.work.telling import SheetWords, stock_labels

LABELS = {
    "from": "present size",
    "from_gauge": "read on",
    "daylight": "daylight",
    "to": "wanted size",
    "to_gauge": "wanted on",
    "metal": "metal",
    **stock_labels("shank"),
    "shank.thinnest_mm": "thinnest",
    "head.span_mm": "head",
    "features": "feature",
    "pattern.pitch_mm": "pitch",
    "pattern.at": "pitch measured",
    "seam_open": "seam open",
    "method": "way",
    "override_reason": "reason",
    "join.blade": "saw blade",
    "join.saw_passes": "saw passes",
    "join.seam_passes": "passes of each seam",
    "join.faces_mm": "off each face",
    "piece.length_mm": "piece at hand",
    "piece.width_mm": "piece wide",
    "piece.thickness_mm": "piece thick",
    "piece.at": "piece measured",
    "tested.mark": "mark",
    "tested.magnet": "magnet",
    "tested.touch": "touch",
    "offcut": "what is taken out",
    "stones.kind": "stone",
    "stones.setting": "setting",
    "stones.glued": "glued, stone",
    "stones.treated": "treated, stone",
    "stones.from_joint_mm": "from the cut, stone",
}
TITLES = {
    "metal": {key: metal.title for key, metal in ALL_METALS.items()},
    "shank.profile": {key: profile.title for key, profile in PROFILES.items()},
    "method": {key: method.title for key, method in METHODS.items()},
    "features": {key: row["title"] for key, row in FEATURES.items()},
    "stones.kind": {key: row["title"] for key, row in STONES.items()},
    "stones.setting": {key: row["title"] for key, row in SETTINGS.items()},
}


def sheet_words(order: Mapping[str, Any]) -> SheetWords:
    """The words of the sheet of a ring that came in."""
    return SheetWords(LABELS, TITLES)
