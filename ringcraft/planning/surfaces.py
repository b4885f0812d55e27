"""Which surface each face of a ring is to have, and with what each is worked to it, from coarse to fine."""

from __future__ import annotations

import re
from collections.abc import Iterator, Mapping, Sequence
from dataclasses import dataclass
from typing import Annotated, Any

from pydantic import BeforeValidator

from ringcraft.errors import CraftError, OutOfRangeError, UnreadableError
from ringcraft.metals import Metal
from ringcraft.schema import name_of, read_figure, request
from ringcraft.tables import rows
from ringcraft.units import words_and

FACES = ("inside", "edges", "outside")
PAPER = "paper"
#: What ends with a grain of its own, and how it is laid.
ONE_WAY = {
    "satin brush": "one way only, along the band, until nothing but its own lines is left",
    "steel wool": "round and round, lightly, until it is even and dull",
}
#: By hand: each paper from coarse to fine, then a cloth. Common practice, no published source.
BY_HAND = ("220 paper", "400 paper", "600 paper", "1200 paper", "cloth")
FINISH_WITH = {"wheel": "at the wheel", "hand": "by hand"}
FinishWithKey = name_of("way to finish", FINISH_WITH)
#: One grit on every face before the next, or one face to its end.
BY = {"grit": "grit by grit", "face": "face by face"}
ByKey = name_of("order of the finish", BY)
TUMBLE_HOURS = 4.0  # in steel shot, until somebody says; our own starting value
MOST_HOURS = 48.0


@dataclass(frozen=True)
class Surface:
    """A surface: how far its papers go, whether compounds follow, what it ends with, what is done after the wash."""

    key: str
    title: str
    papers: str
    grit: int
    compounds: bool
    last: str
    does: str
    families: tuple[str, ...]
    why_not: str
    source: str


SURFACES: dict[str, Surface] = {
    row["key"]: Surface(**{**row, "families": tuple(row["families"])}) for row in rows("surfaces")
}
SurfaceKey = name_of("surface", SURFACES, {"": "mirror"})


def _hours(value: object) -> float:
    said = read_figure(value, ("hours", "hour", "h"), "Write 4 h.", "These are no hours.")
    if not 0.5 <= said <= MOST_HOURS:
        raise OutOfRangeError("", "No ring is tumbled for that long.", f"From half an hour to {MOST_HOURS:.0f}.")
    return said


Hours = Annotated[float, BeforeValidator(_hours)]


@request
class Surfaces:
    """Which surface each face is to have; ``by``: each grit on every face before the next, or a face to its end."""

    inside: SurfaceKey = "mirror"
    edges: SurfaceKey = "mirror"
    outside: SurfaceKey = "mirror"
    by: ByKey = "grit"
    tumble_hours: Hours = TUMBLE_HOURS

    def of(self, face: str) -> Surface:
        """The surface of a face."""
        return SURFACES[getattr(self, face)]

    def faces_that(self, does: str) -> tuple[str, ...]:
        """The faces whose surface wants this done after the wash."""
        return tuple(face for face in FACES if self.of(face).does == does)


@dataclass(frozen=True)
class Grit:
    """One paper, compound or brush, and the faces that see it; ``touched`` on their heights, ``aside`` not at all."""

    with_: str
    faces: tuple[str, ...]
    touched: tuple[str, ...]
    aside: tuple[str, ...]


def schedules(
    surfaces: Surfaces | None, papers: Sequence[str], textured: Sequence[str]
) -> dict[str, tuple[str, ...]]:
    """With what each face is worked, from coarse to fine; a textured face sees no paper."""
    out = {}
    for face in FACES:
        steps = list(papers) if surfaces is None else list(_of(surfaces.of(face), papers))
        if face in textured:
            steps = [one for one in steps if PAPER not in one and one != "steel wool"]
        out[face] = tuple(steps)
    return out


def _of(surface: Surface, papers: Sequence[str]) -> Iterator[str]:
    only = [one for one in papers if PAPER in one]
    if surface.papers == "first":
        yield from only[:1]
    elif surface.papers == "grit":
        yield from [one for one in only if grit_of(one) <= surface.grit] or only[:1]
    elif surface.papers == "all":
        yield from only
    if surface.compounds:
        yield from (one for one in papers if PAPER not in one)
    if surface.last:
        yield surface.last


_AFTER = {"steel wool": 1.5e4, "satin brush": 2e4, "tripoli": 1e5, "rouge": 1e6, "rouge, barely": 1e6, "cloth": 2e6}


def grit_of(text: str) -> float:
    """How fine a paper, brush or compound is: papers by their grit, then what comes after them."""
    found = re.match(r"(\d+) ", text)
    return float(found[1]) if PAPER in text and found else _AFTER.get(text, 0.0)


def grid(faces: Mapping[str, Sequence[str]], textured: Sequence[str], by: str = "grit") -> tuple[Grit, ...]:
    """The finish as rows of a grid: each grit with its faces, or each face with its grits one after another."""
    if by == "face":
        return tuple(one for face in FACES for one in grid({face: faces[face]}, textured))
    out = []
    for name in sorted({one for steps in faces.values() for one in steps}, key=grit_of):
        here = tuple(face for face in FACES if name in faces.get(face, ()))
        touched = tuple(face for face in here if face in textured)
        aside = tuple(face for face in textured if PAPER in name and face in faces)
        out.append(Grit(name, here, touched, aside))
    return tuple(out)


def check(surfaces: Surfaces, metal: Metal, textured: Sequence[str], glued: bool = False) -> None:
    """Refuse a surface that this metal, this style or these faces do not take; raises CraftError at its field."""
    for face in FACES:
        surface = surfaces.of(face)
        if surface.families and metal.family not in surface.families:
            raise UnreadableError(f"surfaces.{face}", surface.why_not, "Choose another surface.")
        if surface.key == "hammered" and face not in textured:
            raise _not_struck(face)
        if surface.last and surfaces.faces_that("tumble"):
            raise UnreadableError(
                f"surfaces.{face}",
                f"Shot brightens every face: {surface.title} is gone after it.",
                "Tumble it, or not.",
            )
        if glued and surface.does:
            raise UnreadableError(
                f"surfaces.{face}", "What is glued in bears no shot, no hot bath and no plating.",
                "Mirror, satin or matte.",
            )  # fmt: skip
    if surfaces.faces_that("plate") and surfaces.faces_that("patina"):
        face = surfaces.faces_that("patina")[0]
        raise UnreadableError(
            f"surfaces.{face}",
            "Plating goes over what is dark, and liver of sulfur over what is plated.",
            "One of them.",
        )


def _not_struck(face: str) -> CraftError:
    hint = "Order a textured band: hammering grows it, and its length counts that."
    return UnreadableError(f"surfaces.{face}", "Nothing strikes this face on this ring's way.", hint)


def surface_facts(surfaces: Surfaces | None, textured: Sequence[str]) -> dict[str, Any]:
    """What the steps after the wash say: tumbled, darkened, plated, and which faces for."""
    said = surfaces or Surfaces()
    dark, shot, plated = (said.faces_that(one) for one in ("patina", "tumble", "plate"))
    bright, spared = (tuple(face for face in FACES if face not in done) for done in (dark, plated))
    return {
        "tumbles": bool(shot),
        "tumble_min": said.tumble_hours * 60,
        "tumble_words": f"{said.tumble_hours:g} hours" if said.tumble_hours != 1 else "one hour",
        "darkens": bool(dark),
        "dark_words": faces_words(dark),
        "bright_words": faces_words(bright),
        "rubs_back": bool(dark) and bool(bright),
        "rhodium": bool(plated),
        "rhodium_words": faces_words(plated),
        "stops_off": bool(plated) and len(plated) < len(FACES),
        "stop_words": faces_words(spared),
        "spared_faces": spared,
        "dark_hollows": any(face in textured for face in dark),
    }


def faces_words(faces: Sequence[str]) -> str:
    """Faces as one says them: the inside, the edges and the outside."""
    return words_and([f"the {face}" for face in faces]) if faces else ""


def grit_words(one: Grit) -> str:
    """What is done with a grit, on which faces."""
    worked = [face for face in one.faces if face not in one.touched]
    said = []
    if worked:
        order = ", then ".join(f"the {face}" for face in worked)
        way = f": {ONE_WAY[one.with_]}" if one.with_ in ONE_WAY else ""
        said.append(f"{order[:1].upper()}{order[1:]}{way}.")
    if one.touched:
        what = faces_words(one.touched)
        said.append(
            f"{what[:1].upper()}{what[1:]} only touched, on its high places, so that its hollows stay as they are."
        )
    if one.aside:
        said.append(f"Not {faces_words(one.aside)}: what is struck or patterned sees no paper.")
    return " ".join(said)
