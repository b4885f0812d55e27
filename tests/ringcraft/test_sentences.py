"""The declared sentence of a ring that came in: each of its words is a field of the request, each field is a word."""

from __future__ import annotations

import json
import re
from dataclasses import fields
from typing import Any

import pytest

from ringcraft.errors import BadRequest
from ringcraft.metals import BLADES
from ringcraft.planning.part_orders import KINDS, PART_KEYS
from ringcraft.resize.asking import ResizeRequest
from ringcraft.resize.plan import read_resize
from ringcraft.resize.words import HOW, LABELS, LISTED, SAYS, TITLES, sheet_words
from ringcraft.schema import to_json
from ringcraft.styles import STYLES
from ringcraft.work.fields import FieldSpec, PartSpec, set_path, word_begins
from tests.resizes import came_in
from tests.ringcraft.test_parts import ALL

WORDS = [word for word in SAYS + HOW if word.kind != "own"]
#: What no sentence asks for: what is measured, kept or chosen later, a shop's ways, how it was typed.
ELSEWHERE = {
    "from_mm", "made", "seam_solders", "solders", "own", "cutter_gaps_mm", "home_scale", "units", "half_size",
    "repair_solder", "delicate_stones", "glued_stones", "ways", "from_ways", "from_gauge", "to_gauge",
    "torches", "gap_inside_mm", "kept_outside_mm", "degrees", "finish_with",
}  # fmt: skip


#: What no ring has seven of.
FEW = {"join.faces_mm": "0.2"}


def paths(word: FieldSpec) -> list[tuple[str, PartSpec]]:
    if word.kind != "chosen":
        return [(word.field, word)]
    return [(".".join(filter(None, (word.field, "0", part.field))), part) for part in word.parts]


EACH = [pytest.param(path, part, id=path) for word in WORDS for path, part in paths(word)]


@pytest.mark.parametrize(("path", "part"), EACH)
def test_each_word_is_a_field_of_the_request(path: str, part: PartSpec) -> None:
    """A field that ringcraft does not know is refused as such: none of these is."""
    order: dict[str, Any] = came_in(stones=[{"kind": "opal"}]) if path.startswith("stones") else came_in()
    if path.startswith("parts"):
        _check_part(path, part)
        return
    keys = [one.key for one in part.choices] or list(
        {"blades": BLADES, **LISTED}.get(part.listed, [FEW.get(path, "7")])
    )
    for key in keys[:3]:
        texts = {"flags": dict.fromkeys(filter(None, key.split("-")), True), "yes": {"": key == "yes"}}
        values = texts.get(part.kind, {"": key})
        if part.kind == "stock":
            values = {"profile": "half-round"}
        for name, value in values.items():
            at = path.removesuffix("state") + name if part.kind == "flags" else f"{path}.{name}".rstrip(".")
            if path.startswith("from_sides"):
                order["from_sides"] = ["6", "6"]
            elif path.startswith(("piece", "pattern")):
                first = "pitch_mm" if path.startswith("pattern") else "length_mm"
                order[path.split(".", maxsplit=1)[0]] = {first: 2, at.split(".")[1]: value}
            elif path == "features.0":
                order["features"] = [value]
            else:
                set_path(order, at, value)
        try:
            read_resize(order)
        except BadRequest as refused:
            pytest.fail(f"{path}={key}: {refused}")


def _check_part(path: str, part: PartSpec) -> None:
    """A word of a part is a field of each kind of part that it is asked for."""
    kinds = re.findall(r"\.part=([a-z-]+)", part.when) or list(LISTED["parts"])
    for kind in kinds:
        base = next(one for one in ALL if one["part"] == kind)
        keys = [one.key for one in part.choices] or [kind if path.endswith("part") else base.get(part.field, "")]
        order = came_in(parts=[json.loads(json.dumps(base))])
        for key in filter(None, keys):
            set_path(order, path, key)
            read_resize(order)
        names = [one.name for one in fields(KINDS[PART_KEYS.index(kind)])]
        assert part.field.split(".")[0] in names, (kind, path)


def test_every_field_of_the_request_is_a_word() -> None:
    said = {path.split(".")[0] for word in WORDS for path, _ in paths(word)}
    known = {one.name.rstrip("_") for one in fields(ResizeRequest)}
    assert known - said == ELSEWHERE
    assert not said - known


def test_a_new_sheet_begins_as_the_request_does() -> None:
    """What a word begins with is the request's own default, so that an untouched field changes nothing."""
    usual = to_json(read_resize(came_in()))
    begun = {path: text for word in WORDS for path, text in word_begins(word, "mm").items()}
    for path in ("join.blade", "join.saw_passes", "join.seam_passes", "offcut"):
        whole: Any = usual
        for step in path.split("."):
            whole = whole[step]
        assert begun[path] == str(whole), path
    assert begun["daylight"] == begun["seam_open"] == "no"


def test_each_is_told_by_its_label_and_its_choice_by_its_title() -> None:
    words = sheet_words({})
    told = [(path, words.label(path)) for word in WORDS for path, _ in paths(word) if word.kind != "stock"]
    assert [path for path, label in told if not label] == []
    assert words.label("stones.1.from_joint_mm") == "stone 2 from the cut"
    assert words.label("features.0") == "feature 1"
    assert words.value("seam_open", True, "mm") == "open"
    assert words.value("join.saw_passes", 2, "mm") == "twice"
    assert words.value("stones.1.setting", "claw", "mm") == TITLES["stones.setting"]["claw"]
    assert words.value("piece.length_mm", 2.5, "mm") == "2.5 mm"
    placed = [re.sub(r"^(stones|parts)\.", r"\1.0.", path) for path in LABELS]
    assert "{n}" not in "".join(words.label(path) for path in placed)
    assert words.label("parts.1.stone.length_mm") == "stone 2 long"


def test_what_a_style_asks_for_depends_on_one_field() -> None:
    """The shorthand line and a first order read no more than that, of one value or another."""
    words = [one for style in STYLES.values() for word in style.words for one in (word, *word.parts)]
    assert [
        one.when for one in words if not re.fullmatch(r"([a-z_.]+=[a-z-]+(\|[a-z_.]+=[a-z-]+)*)?", one.when)
    ] == []
