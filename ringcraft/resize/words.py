"""The sentence of a ring that came in: its words, and how they are called where a change of one is told."""

from __future__ import annotations

from collections.abc import Mapping
from typing import Any

from ringcraft.metals import ALL_METALS
from ringcraft.parts.words import LISTED as PART_LISTS
from ringcraft.parts.words import PARTS_WORD, SURFACE_WORDS
from ringcraft.resize.asking import FEATURES, HEATS, SETTINGS, STONES, SizingJoin
from ringcraft.resize.methods import METHODS
from ringcraft.sections import PROFILES
from ringcraft.work.fields import FieldSpec, Option, PartSpec
from ringcraft.work.telling import SheetWords, stock_labels

USUAL = SizingJoin()
TIMES = tuple(Option(str(i), title) for i, title in enumerate(("never", "once", "twice", "three times")))
STATES = (
    Option("", "as it is"),
    Option("treated", "treated"),
    Option("glued", "glued"),
    Option("treated-glued", "treated and glued"),
)
PULLS = (Option("", "was not tried"), Option("no", "does not pull it"), Option("yes", "pulls it"))
STONE = (
    PartSpec("kind", "Stone {n}", kind="choice", listed="stones"),
    PartSpec("setting", "Setting {n}", "in", kind="choice", first="claw", listed="settings"),
    PartSpec("state", "Stone {n} is", kind="flags", choices=STATES),
    PartSpec("span_mm", "Stone {n} spans", ",", "wide", placeholder="as the head"),
    PartSpec("from_joint_mm", "Stone {n} from the cut", ",", "and", placeholder="in the head"),
)
SHANK = {"profile": "half-round", "width_mm": "", "thickness_mm": "", "side_mm": ""}
PATTERN = "features=pattern-all-round"
PIECE = "piece.length_mm"

#: What it is and what it shall be.
SAYS = (
    FieldSpec("from", "Present size", "It reads", kind="text", placeholder="size"),
    FieldSpec(
        "from_sides.1",
        "Present size from the other side",
        "and",
        "from the other side",
        "text",
        placeholder="the same",
    ),
    FieldSpec("from_gauge", "Read on", ", on", kind="own", seen="gauges"),
    FieldSpec(
        "daylight",
        "Daylight under it",
        ",",
        "under it",
        "yes",
        "no",
        choices=(Option("no", "no daylight"), Option("yes", "daylight")),
    ),
    FieldSpec("to", "Wanted size", ". Make it", kind="text", placeholder="size"),
    FieldSpec("to_gauge", "Wanted on", "on", kind="own", seen="gauges"),
    FieldSpec("metal", "Metal", ".", kind="choice", first="gold-14k-yellow", listed="ring_metals"),
    FieldSpec("shank", "", ", shank", kind="stock", first=SHANK),
    FieldSpec("shank.thinnest_mm", "Thinnest place", ", thinnest", placeholder="the same"),
    FieldSpec("stones", "Stone", ". Set with", kind="chosen", placeholder="nothing", parts=STONE),
    FieldSpec(
        "head.span_mm",
        "Span of the head, at the inside",
        "(the head",
        "across)",
        placeholder="not measured",
        when="stones.0.kind|head.span_mm",
    ),
    FieldSpec(
        "features",
        "Feature",
        ". It has",
        kind="chosen",
        placeholder="nothing else to it",
        parts=(PartSpec("", "Feature {n}", after="and", kind="choice", listed="features"),),
    ),
    FieldSpec("pattern.pitch_mm", "Pitch of the pattern", ", its pitch", placeholder="not measured", when=PATTERN),
    FieldSpec(
        "pattern.at",
        "Pitch measured",
        kind="choice",
        first="outside",
        choices=(Option("outside", "outside"), Option("neutral", "along the neutral line")),
        when=f"{PATTERN}&pattern.pitch_mm",
    ),
)
#: How it is done, and what is found of it.
HOW = (
    FieldSpec("method", "Way", "By", kind="choice", listed="methods"),
    FieldSpec(
        "override_reason",
        "Why all the same",
        ", all the same because",
        kind="text",
        placeholder="a reason",
        seen="never",
    ),
    FieldSpec("join.blade", "Saw blade", ", with", kind="choice", first=USUAL.blade, listed="blades"),
    FieldSpec(
        "join.saw_passes",
        "Saw passes",
        ", saw through the joint",
        kind="choice",
        first=str(USUAL.saw_passes),
        choices=TIMES,
        seen="!insert",
    ),
    FieldSpec(
        "join.faces_mm", "Off each face", ", file", "off each face", placeholder=float(USUAL.faces_mm), seen="insert"
    ),
    FieldSpec(
        "join.seam_passes",
        "Passes of each seam",
        ", saw through each seam",
        kind="choice",
        first=str(USUAL.seam_passes),
        choices=TIMES,
        seen="insert",
    ),
    FieldSpec(
        "join.heats",
        "Heats",
        ", solder the seams",
        kind="choice",
        first=USUAL.heats,
        choices=tuple(Option(key, said.partition(":")[0]) for key, said in HEATS.items()),
        seen="insert",
    ),
    FieldSpec(PIECE, "Piece at hand", "; a piece at hand is", "long", placeholder="none", seen="insert"),
    FieldSpec(
        "piece.at",
        "Piece measured",
        kind="choice",
        first="neutral",
        choices=(Option("neutral", "in its middle"), Option("outside", "outside")),
        when=PIECE,
        seen="insert",
    ),
    FieldSpec("piece.width_mm", "Piece wide", ",", "wide", placeholder="as the shank", when=PIECE, seen="insert"),
    FieldSpec(
        "piece.thickness_mm", "Piece thick", ",", "thick", placeholder="as the shank", when=PIECE, seen="insert"
    ),
    FieldSpec("piece", "", kind="own", seen="insert"),
    FieldSpec(
        "seam_open",
        "Its seam",
        ". Its seam is",
        kind="yes",
        first="no",
        choices=(Option("no", "closed"), Option("yes", "open")),
    ),
    FieldSpec(
        "offcut",
        "What comes out",
        ". What comes out is",
        kind="choice",
        first="returned",
        choices=(Option("returned", "handed back"), Option("credited", "credited to them")),
        seen="comes-out",
    ),
    *SURFACE_WORDS,
    PARTS_WORD,
    FieldSpec("tested.mark", "Its mark", ". Its mark reads", kind="text", placeholder="nothing", seen="tested"),
    FieldSpec("tested.magnet", "Magnet", ", a magnet", kind="choice", choices=PULLS, seen="tested"),
    FieldSpec("tested.touch", "Touch", ", touch says", kind="text", placeholder="not tried", seen="tested"),
)
#: What the catalogue lists, by the lists' names.
LISTED = {
    "ring_metals": {key: metal.title for key, metal in ALL_METALS.items()},
    "methods": {key: method.title for key, method in METHODS.items()},
    "stones": {key: row["title"] for key, row in STONES.items()},
    "settings": {key: row["title"] for key, row in SETTINGS.items()},
    "features": {key: row["title"] for key, row in FEATURES.items()},
    **PART_LISTS,
}


def _each() -> dict[str, PartSpec]:
    """Every word and part by its path, without the places of lists."""
    out: dict[str, PartSpec] = {}
    for word in SAYS + HOW:
        if word.kind == "chosen":
            out |= {".".join(filter(None, (word.field, part.field))): part for part in word.parts}
        else:
            out[word.field] = word
    return out


LABELS = {
    **{path: word.label[:1].lower() + word.label[1:] for path, word in _each().items() if word.label},
    **stock_labels("shank"),
    "from_sides": "present size from both sides",
    "features": "feature",
    "stones.glued": "stone {n} glued",
    "stones.treated": "stone {n} treated",
}
TITLES = {
    **{path: {one.key: one.title for one in word.choices} for path, word in _each().items() if word.choices},
    **{path: LISTED[word.listed] for path, word in _each().items() if word.listed in LISTED},
    "shank.profile": {key: profile.title for key, profile in PROFILES.items()},
}


def sheet_words(order: Mapping[str, Any]) -> SheetWords:
    """The words of the sheet of a ring that came in."""
    return SheetWords(LABELS, TITLES)
