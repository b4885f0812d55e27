"""How a piece of metal stands on the virtual bench: its measures, its shape, its state, its faces."""

from __future__ import annotations

import math
from collections.abc import Mapping
from dataclasses import dataclass, field
from typing import Any

from ringcraft.metals import ALL_METALS, Metal
from ringcraft.sections import Section
from ringcraft.units import LengthFormat
from ringcraft.vbench.thing import Curve, Gap, HeadAt, SeamAt, StoneAt

#: Shapes that go round a finger and have an inside; a size is read only on the first three.
READABLE = ("round", "vee", "lapped")
ROUND_THE_FINGER = ("closed", *READABLE)
AS_BOUGHT, TEXTURED = "as bought", "textured"
NONE = "none"
SOFT_STRAIN = 0.2  # of work since the last anneal, up to which metal is still called soft; our own judgement


@dataclass(frozen=True)
class Faces:
    """The surface of each face: as bought, textured, or the last paper or compound on it."""

    inside: str = AS_BOUGHT
    edges: str = AS_BOUGHT
    outside: str = AS_BOUGHT


@dataclass(frozen=True, kw_only=True)
class Piece:
    """A piece of metal, ``count`` times alike. Lengths [mm] along the neutral line, volume [mm3] of one of them.

    ``strain`` is that of its most stretched fibre since the last anneal [share], if it was ever ``annealed``;
    ``heats`` is how often it was soldered, ``joined`` its joints with their solder, ``shut`` whether its ends are.
    ``solidus_c`` is where it begins to melt [C], where the shop has its own word for that.
    ``neutral_mm`` is its neutral line above the inside. Its inside follows from its length:
    length = times x (pi x (inside + 2 neutral) + beyond), where ``beyond_mm`` lies over, or is missing below 0.
    ``ends`` are how far its two ends stand off square to the neutral line [degrees], ``curves`` what is bent to which
    radius, ``gap`` how far it gapes while open, ``coats`` what lies on it; ``frail`` is why it may not be struck
    (:data:`ringcraft.vbench.thing.FRAIL`). ``seams`` are its joints with their places.
    """

    metal: str
    length_mm: float
    width_mm: float
    thickness_mm: float
    volume_mm3: float
    neutral_mm: float
    density_g_cm3: float
    solidus_c: float | None = None
    shape: str = "strip"
    count: int = 1
    beyond_mm: float = 0.0
    times: float = 1.0
    strain: float = 0.0
    annealed: bool = False
    hot: bool = False
    heats: int = 0
    clean: bool = True
    fluxed: bool = False
    bound: str = "none"
    guarded: bool = False
    hump: bool = False
    shut: bool = False
    fitted: str = ""
    joined: Mapping[str, str] = field(default_factory=dict)
    faces: Faces = Faces()
    inside_diameter_mm: float | None = None
    ends: tuple[float, ...] = (0.0, 0.0)
    curves: tuple[Curve, ...] = ()
    gap: Gap | None = None
    seams: tuple[SeamAt, ...] = ()
    stones: tuple[StoneAt, ...] = ()
    coats: tuple[str, ...] = ()
    heads: tuple[HeadAt, ...] = ()
    frail: tuple[str, ...] = ()

    @property
    def stones_in(self) -> tuple[StoneAt, ...]:
        """The stones that are in it."""
        return tuple(one for one in self.stones if one.in_)

    @property
    def head_mm(self) -> float:
        """The chord that its heads span at the inside [mm], as a head is measured: so much of it gives nothing."""
        radius = self.inside_mm / 2
        return math.fsum(2 * radius * math.sin(one.span_mm / (radius + self.neutral_mm) / 2) for one in self.heads)

    @property
    def of(self) -> Metal:
        """What it is made of."""
        return ALL_METALS[self.metal]

    @property
    def begins_to_melt_c(self) -> float:
        """Where it begins to melt [C], by the shop's own word or our table."""
        return self.of.solidus_c if self.solidus_c is None else self.solidus_c

    @property
    def mass_g(self) -> float:
        """The mass of one of them [g]."""
        return self.volume_mm3 * self.density_g_cm3 / 1000

    @property
    def inside_mm(self) -> float:
        """The inside diameter [mm] at which its length goes round."""
        return _inside_mm(self.length_mm, self.times, self.beyond_mm, self.neutral_mm)

    def with_(self, **changes: object) -> Piece:
        """The same piece, changed; its inside follows from its length while it goes round a finger."""
        values: dict[str, Any] = {**vars(self), **changes}
        inside = _inside_mm(values["length_mm"], values["times"], values["beyond_mm"], values["neutral_mm"])
        values["inside_diameter_mm"] = inside if values["shape"] in ROUND_THE_FINGER else None
        if "joined" in changes:
            places = {one.key: one.at_mm for one in values["seams"]}
            values["seams"] = tuple(SeamAt(key, places.get(key), name) for key, name in values["joined"].items())
        return Piece(**values)

    def cut_to(self, length_mm: float, **changes: object) -> Piece:
        """The same piece at another length [mm], its volume with it."""
        share = length_mm / self.length_mm
        return self.with_(length_mm=length_mm, volume_mm3=self.volume_mm3 * share, **changes)

    def stretched_to(self, length_mm: float, **changes: object) -> Piece:
        """The same metal at another length [mm]: the wall thins by as much, the width stays."""
        thinner = self.length_mm / length_mm
        return self.with_(
            length_mm=length_mm,
            thickness_mm=self.thickness_mm * thinner,
            neutral_mm=self.neutral_mm * thinner,
            **changes,
        )


def _inside_mm(length_mm: float, times: float, beyond_mm: float, neutral_mm: float) -> float:
    return (length_mm / times - beyond_mm) / math.pi - 2 * neutral_mm


def stock_piece(metal: str, section: Section, length_mm: float, count: int = 1) -> Piece:
    """A piece of stock as it was measured, so long [mm]."""
    return Piece(
        metal=metal,
        length_mm=length_mm,
        width_mm=section.width_mm,
        thickness_mm=section.thickness_mm,
        volume_mm3=section.area_mm2 * length_mm,
        neutral_mm=section.neutral_mm,
        density_g_cm3=ALL_METALS[metal].density_g_cm3,
        count=count,
    )


_SHAPES = {
    "closed": "closed in its D",
    "round": "round",
    "vee": "round, with its V",
    "lapped": "lapped",
    "wrap": "wrapped",
    "offcut": "taken out",
}
#: A part is bent to its stone or its rod, not to a D, and trued to that.
_NO_RING = {**_SHAPES, "open": "bent, open", "closed": "closed", "round": "trued"}


def state_words(
    pieces: Mapping[str, Piece],
    start: Mapping[str, Piece],
    titles: Mapping[str, str],
    length: LengthFormat,
    about: str = "",
    untouched: str = AS_BOUGHT,
    aside: bool = False,
) -> str:
    """How the pieces stand, in words: "open, soft, clean"; each by its title where there are several.

    Only the one that a step is about, if it is about one; pieces that are still stock are left out once another is
    begun. ``untouched`` is what they are called before anything was done; ``aside``: it is no ring, but made for one.
    """
    if about and pieces[about] == start.get(about):
        return untouched
    if about:
        return _words(pieces[about], start.get(about), length, _NO_RING if aside else _SHAPES)
    begun = {name: piece for name, piece in pieces.items() if piece != start.get(name)}
    if not begun:
        return untouched
    begun = {name: piece for name, piece in begun.items() if piece.shape != "offcut"}
    if len(begun) == 1 and len([piece for piece in pieces.values() if piece.shape != "offcut"]) == 1:
        name, piece = next(iter(begun.items()))
        return _words(piece, start.get(name), length)
    return "; ".join(
        f"{titles.get(name, name)}: {_words(piece, start.get(name), length)}" for name, piece in begun.items()
    )


def _words(piece: Piece, begun: Piece | None, length: LengthFormat, shapes: Mapping[str, str] = _SHAPES) -> str:
    if piece.shape == "strip":
        said = [f"a strip of {length(piece.length_mm):.2f}"]
    elif piece.shape == "closed" and begun is not None and begun.shape != "strip":
        said = ["closed, not round yet"]  # a ring that came in was bent to no D
    else:
        said = [shapes.get(piece.shape, piece.shape)]
    if piece.hot:
        said.append("hot")
    elif piece.strain > SOFT_STRAIN:
        said.append("worked hard")
    else:
        said.append("soft" if piece.annealed else "not annealed")
    if not piece.hot:
        said.append("clean" if piece.clean else "to be pickled")
    if piece.bound != "none":
        said.append(f"bound with {piece.bound}")
    if piece.hump:
        said.append("solder standing proud")
    return ", ".join(said)
