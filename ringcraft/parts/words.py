"""The words of the parts in an order's sentence, one list for every kind of work."""

from __future__ import annotations

from ringcraft.parts import PARTS
from ringcraft.planning.part_orders import FILE_MM, MOST_PARTS, SHAPES
from ringcraft.planning.surfaces import BY, FACES, SURFACES, TUMBLE_HOURS
from ringcraft.work.fields import FieldSpec, Option, PartSpec

_STRAIGHT = ".part=bezel&.stone.shape=cushion|.part=bezel&.stone.shape=rectangle"
_NOT_ROUND = f".part=bezel&.stone.shape=oval|{_STRAIGHT}"


def _only(*kinds: str) -> str:
    return "|".join(f".part={kind}" for kind in kinds)


#: One word for each field of a part, asked for by its kind.
PART_WORDS = (
    PartSpec("part", "Part {n}", kind="choice", listed="parts"),
    PartSpec("stone.shape", "Shape of stone {n}", "round a", "stone", "choice", "round",
             choices=tuple(Option(key, title) for key, title in SHAPES.items()), when=_only("bezel")),
    PartSpec("stone.length_mm", "Stone {n} long", "", "", first=5.5, when=_only("bezel")),
    PartSpec("stone.width_mm", "Stone {n} wide", "×", "", when=_NOT_ROUND),
    PartSpec("stone.corner_mm", "Corner of stone {n}", ", corners", "", placeholder="sharp", when=_STRAIGHT),
    PartSpec("play_mm", "Play {n}", ", play", "", first=0.15, when=_only("bezel")),
    PartSpec("height_mm", "Height {n}", ", high", "", first=2.8, when=_only("bezel", "prong")),
    PartSpec("seat_mm", "Seat {n} up", ", its seat", "up", placeholder="none", when=_only("bezel")),
    PartSpec("inside_mm", "Inside {n}", "inside", "", first=5.0, when=_only("seat-ring")),
    PartSpec("count", "Prongs {n}", ",", "of them", "count", first="4", when=_only("prong")),
    PartSpec("gap_mm", "Gap over part {n}", "over a gap of", "along the outside", placeholder="the ring's",
             when=_only("under-plate")),
    PartSpec("outside_radius_mm", "Outside radius {n}", ", outside radius", "", placeholder="the ring's",
             when=_only("under-plate")),
    PartSpec("shank_mm", "Shank over part {n}", ", shank", "thick", placeholder="the ring's",
             when=_only("under-plate")),
    PartSpec("width_mm", "Width {n}", ", wide", "", placeholder="the ring's", when=_only("under-plate")),
    PartSpec("width_mm", "Strip {n} wide", ", wide", "", first=7.0, when=_only("dish")),
    PartSpec("dish_mm", "Dish {n}", ", dished", "", first=0.4, when=_only("dish")),
    PartSpec("length_mm", "Strip {n} long", ", long", "", first=58.0, when=_only("dish")),
    PartSpec("thickness_mm", "Thickness {n}", ", of sheet", "", first=0.35, when=_only("bezel")),
    PartSpec("thickness_mm", "Plate {n} thick", ", of sheet", "", first=0.7, when=_only("under-plate", "dish")),
    PartSpec("wire_mm", "Wire {n}", ", of wire", "", first=0.9, when=_only("seat-ring", "prong")),
    PartSpec("wire_mm", "Wire {n}", ", of wire", "", first=1.6, when=_only("flattened-ends")),
    PartSpec("between_mm", "Between the flats {n}", ",", "between the flats", first=14.0,
             when=_only("flattened-ends")),
    PartSpec("flat_mm", "Flat {n} long", ", each flat", "long", first=4.0, when=_only("flattened-ends")),
    PartSpec("flat_width_mm", "Flat {n} wide", "×", "", first=2.0, when=_only("flattened-ends")),
    PartSpec("flat_thickness_mm", "Flat {n} thick", "×", "", first=0.9, when=_only("flattened-ends")),
    PartSpec("notch_mm", "Notch {n}", ", notched", "", placeholder="not", when=_only("prong")),
    PartSpec("notch_at_mm", "Notch {n} up", ", so far up", "", placeholder="three quarters",
             when=".part=prong&.notch_mm"),
    PartSpec("file_mm", "To file {n}", ",", "to file at its ends", first=FILE_MM, when=_only("under-plate")),
    PartSpec("left_mm", "Left end", "left", "high", first=2.6, when=_only("end-heights")),
    PartSpec("right_mm", "Right end", ", right", "high", first=2.4, when=_only("end-heights")),
    PartSpec("floor_mm", "Floor", ", never under", "; and", first=1.9, when=_only("end-heights")),
    PartSpec("metal", "Metal {n}", ", in", "; and", "choice", listed="part_metals",
             when=_only("bezel", "seat-ring", "prong", "under-plate", "dish", "flattened-ends")),
)  # fmt: skip


def _surface(face: str, before: str, when: str = "") -> FieldSpec:
    return FieldSpec(
        f"surfaces.{face}", f"Surface of the {face}", before, "", "choice", placeholder="as usual", choices=_SURFACES,
        when=when,
    )  # fmt: skip


_SURFACES = (Option("", "as usual"), *(Option(one.key, one.title) for one in SURFACES.values()))
_ASKED = "surfaces.inside|surfaces.edges|surfaces.outside"
_TUMBLED = "|".join(f"surfaces.{face}=tumbled" for face in FACES)
#: The surface of each face, one sentence for every kind of work.
SURFACE_WORDS = (
    _surface("outside", ". Finished outside"),
    _surface("inside", ", inside", _ASKED),
    _surface("edges", ", at its edges", _ASKED),
    FieldSpec("surfaces.by", "Order of the finish", ",", kind="choice", first="grit", when=_ASKED,
              choices=tuple(Option(key, title) for key, title in BY.items())),
    FieldSpec("surfaces.tumble_hours", "Hours in the tumbler", ", tumbled", "hours", "number",
              first=f"{TUMBLE_HOURS:g}", when=_TUMBLED),
)  # fmt: skip
PARTS_WORD = FieldSpec(
    "parts", "Part", ". For its top", kind="chosen", placeholder="no part", parts=PART_WORDS, most=MOST_PARTS
)
LISTED = {"parts": {key: kind.title for key, kind in PARTS.items()}}
LABELS = {f"parts.{word.field}": word.label[:1].lower() + word.label[1:] for word in reversed(PART_WORDS)}
