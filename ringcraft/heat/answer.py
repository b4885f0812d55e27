"""The answer to a ring in the flame: what to do, ratios with their bands, what else is reached, the picture of it."""

from __future__ import annotations

import math
from dataclasses import dataclass
from typing import Annotated, Literal

import numpy as np
from numpy.linalg import LinAlgError
from pydantic import TypeAdapter

from ringcraft.errors import BadRequest, CraftError, OutOfRangeError
from ringcraft.heat.asking import HeatRequest
from ringcraft.heat.bands import Band, band_of
from ringcraft.heat.colours import GLOWS, Glow, glow_at
from ringcraft.heat.flux import FluxStage, flux_of, stages
from ringcraft.heat.picture import Worked, metals_beside, work
from ringcraft.heat.says import (
    HeatLead,
    HeatRow,
    Reached,
    StoneHeat,
    leads,
    other_rows,
    power_rows,
    reached_seams,
    stone_heat,
)
from ringcraft.heat.torch import TorchView, torch_views
from ringcraft.planning.joints import solder_book
from ringcraft.schema import IN_OWN_UNITS, read_request
from ringcraft.units import Length, capital

AnyHeat = Annotated[HeatRequest, IN_OWN_UNITS]
_READER: TypeAdapter[HeatRequest] = TypeAdapter(AnyHeat)
HELD_LONG = "held at flow until nothing changes: a quicker flame leaves the far side colder"
HAIR_K = 0.05  # below flow: nothing but the arithmetic


@dataclass(frozen=True)
class PowerView:
    """What the set-up takes, only ever as a ratio: of the same ring dry, of other metals held the same way, of the
    same with heat-shield paste up to the water line, and what share tweezers carry off.
    """

    against_dry: Band
    against: dict[str, Band]
    shield: Band | None
    tweezers_share: Band | None


@dataclass(frozen=True)
class FaceView:
    """How far a seam's face stays below flow when the first of them flows [K]."""

    key: str
    below_flow_k: Band


@dataclass(frozen=True)
class ProfilePlace:
    """The temperature at a place on the neutral line [mm from the joint, C], the middle of all cases."""

    at_mm: float
    c: float


@dataclass(frozen=True)
class HeatArc:
    """A stretch of the ring between two angles [degrees clockwise from straight above], with its colour of heat."""

    from_deg: float
    to_deg: float
    glow: str


@dataclass(frozen=True)
class GlowReach:
    """How far a colour of heat reaches from the joint to either side, in words; for eyes that do not see it."""

    glow: str
    title: str
    says: str


@dataclass(frozen=True)
class RingMark:
    """Something marked on the ring: which kind it is, its words, its angle [degrees clockwise from above].

    ``side`` is where its words stand, of two seams that are heated as one.
    """

    kind: str
    title: str
    deg: float
    side: Literal["", "left", "right"] = ""


@dataclass(frozen=True)
class HeatPicture:
    """The ring as it is held, for drawing [mm]: ``water_mm`` is the water line above the middle, None where dry."""

    inner_mm: float
    outer_mm: float
    water_mm: float | None
    arcs: tuple[HeatArc, ...]
    reaches: tuple[GlowReach, ...]
    marks: tuple[RingMark, ...]
    glows: tuple[Glow, ...]
    legs_text: tuple[str, ...]
    says: str
    holds: str


@dataclass(frozen=True)
class SteadyView:
    """Two temperatures of a steady state under a given power [C], for checks."""

    joint_c: float
    opposite_c: float


@dataclass(frozen=True)
class HeatAnswer:
    """A ring in the flame. Every band is the 5th, the middle and the 95th of the cases that the bands hold."""

    lead: HeatLead
    rows: tuple[HeatRow, ...]
    says: tuple[str, ...]
    legs_mm: tuple[float, ...] | None
    power: PowerView
    faces: tuple[FaceView, ...]
    seams: tuple[Reached, ...]
    stone: StoneHeat
    profile: tuple[ProfilePlace, ...]
    picture: HeatPicture
    flux: tuple[FluxStage, ...]
    flux_kind: str
    torches: tuple[TorchView, ...]
    mass_g: float
    steady: SteadyView | None


def heat(data: object) -> HeatAnswer:
    """From plain JSON data to an answer; raises BadRequest."""
    return answer_heat(read_request(_READER, data))


def answer_heat(order: HeatRequest) -> HeatAnswer:
    """The answer to a ring in the flame; raises BadRequest naming the field, in the order's own units."""
    try:
        return _answer(work(order))
    except CraftError as problem:
        raise BadRequest([problem.in_units(order.units)]) from None
    except LinAlgError:
        said, hint = (
            "With these figures nothing carries the heat off: it never stands still.",
            "Some air, or some glow.",
        )
        raise BadRequest([OutOfRangeError("assume", said, hint)]) from None


def _answer(one: Worked) -> HeatAnswer:
    order = one.held.order
    faces = _faces(one)
    reached = reached_seams(one)
    stone = stone_heat(one)
    beside = metals_beside(order)
    power = _power(one)
    torches = torch_views(order.torches, one.held.metal, one.held.mass_g, order.flow_c, one.state.power / one.dry_w)
    lead = leads(one, faces, reached, torches)
    rows = power_rows(one, power.against_dry, power.shield, power.against, {k: m.title for k, m in beside.items()})
    rows += other_rows(one, reached, stone)
    solder = solder_book(order.solders).get(order.solder or "")
    kind = order.flux or flux_of(one.held.metal)
    return HeatAnswer(
        lead=lead,
        rows=tuple(rows),
        says=_says(one, lead, rows),
        legs_mm=one.held.legs_mm,
        power=power,
        faces=tuple(FaceView(key, band) for key, band in faces.items()),
        seams=reached,
        stone=stone,
        profile=_profile(one),
        picture=_picture(one),
        flux=stages(kind, order.flow_c, solder.melts_c if solder else None),
        flux_kind=kind,
        torches=torches,
        mass_g=one.held.mass_g,
        steady=_steady(one),
    )


def _faces(one: Worked) -> dict[str, Band]:
    half = one.held.order.insert_mm / 2
    out = {}
    for key, place in (("left", -half), ("right", half)):
        below = one.flow_c - one.there(place)
        out[key] = band_of(np.where(np.abs(below) < HAIR_K, 0.0, below))
    return out


def _power(one: Worked) -> PowerView:
    power = one.state.power
    wet, tweezers = one.held.legs_mm is not None, one.held.order.tweezers_mm is not None
    return PowerView(
        against_dry=band_of(power / one.dry_w),
        against={key: band_of(power / one.of_metal_w(metal)) for key, metal in metals_beside(one.held.order).items()},
        shield=band_of(one.shield_w / one.dry_w) if wet else None,
        tweezers_share=band_of(1 - one.bare_w / power) if tweezers else None,
    )


def _says(one: Worked, lead: HeatLead, rows: list[HeatRow]) -> tuple[str, ...]:
    out = [f"{lead.title}. {lead.says}"]
    out += [f"{capital(row.figure)}: {row.says}{f'; {row.note}' if row.note else ''}." for row in rows]
    if one.held.legs_mm:
        low, high = sorted(one.held.legs_mm)
        said = [f"{Length(leg, one.held.order.units):.1f}" for leg in (low, high)]
        out.append(f"To the water: {said[0]} on the shorter side, {said[1]} on the other.")
    elif one.held.is_stroked:
        out.append("All of it comes up together: what is held far from the joint is as hot before long.")
    return tuple(out)


def _middle(one: Worked) -> list[float]:
    return [float(c) for c in np.median(one.state.temperature, axis=0)]


def _profile(one: Worked) -> tuple[ProfilePlace, ...]:
    cells, round_mm = one.ring.cells, one.held.round_mm
    middle = _middle(one)
    half = cells // 2
    return tuple(ProfilePlace(n * round_mm / cells, middle[n % cells]) for n in range(half - cells + 1, half + 1))


def _picture(one: Worked) -> HeatPicture:
    held, cells = one.held, one.ring.cells
    inner = held.order.ring.inside_diameter_mm / 2
    deg = 360 / cells
    glows = [glow_at(c) for c in _middle(one)]
    arcs: list[HeatArc] = []
    for n, glow in enumerate(glows):
        start = held.order.roll_deg + (n - 0.5) * deg
        if arcs and arcs[-1].glow == glow.key:
            arcs[-1] = HeatArc(arcs[-1].from_deg, start + deg, glow.key)
        else:
            arcs.append(HeatArc(start, start + deg, glow.key))
    hottest = max(range(cells), key=lambda n: GLOWS.index(glows[n]))
    share = held.order.water_share
    legs = [f"{Length(leg, held.order.units):.1f}" for leg in held.legs_mm or ()]
    return HeatPicture(
        inner_mm=inner,
        outer_mm=inner + held.section.thickness_mm,
        water_mm=-inner * (1 - 2 * share) if share else None,
        arcs=tuple(arcs),
        reaches=_reaches(one, glows),
        marks=_marks(one),
        glows=GLOWS,
        legs_text=tuple(legs),
        says=f"At the joint {glows[hottest].title}; opposite it {glows[cells // 2].title}.",
        holds=HELD_LONG,
    )


def _reaches(one: Worked, glows: list[Glow]) -> tuple[GlowReach, ...]:
    """The colours that are on the ring, the hottest first, each with how far it reaches to the left and the right."""
    cells = one.ring.cells
    cell_mm = one.held.round_mm / cells
    half = cells // 2
    out: list[GlowReach] = []
    for glow in reversed(GLOWS):
        right = max((n for n in range(half + 1) if glows[n] is glow), default=None)
        left = max((n for n in range(half + 1) if glows[-n] is glow), default=None)
        if right is None and left is None:
            continue
        if max(right or 0, left or 0) == half:
            says = "all of it" if not out else "the rest"
        else:
            far = [f"{Length(((n or 0) + 0.5) * cell_mm, one.held.order.units):.1f}" for n in (left, right)]
            says = f"to {far[0]} each side" if far[0] == far[1] else f"to {far[0]} left, {far[1]} right"
        out.append(GlowReach(glow.key, glow.title, says))
    return tuple(out)


def _marks(one: Worked) -> tuple[RingMark, ...]:
    held, order = one.held, one.held.order

    def deg(at_mm: float) -> float:
        return order.roll_deg + math.degrees(at_mm / held.radius_mm)

    half = order.insert_mm / 2
    joint = [RingMark("joint", "left seam", deg(-half), "left"), RingMark("joint", "right seam", deg(half), "right")]
    marks = joint if half else [RingMark("joint", "joint", deg(0.0))]
    marks += [RingMark("seam", seam.title or seam.key, deg(seam.at_mm)) for seam in order.seams]
    if order.stone or order.stone_at_mm is not None:
        marks.append(RingMark("stone", order.stone or "stone", deg(held.stone_mm)))
    if order.inlay:
        marks.append(RingMark("inlay", "inlay", deg(held.round_mm / 4)))
    if order.tweezers_mm is not None:
        marks.append(RingMark("tweezers", "tweezers", deg(order.tweezers_mm)))
    return tuple(marks)


def _steady(one: Worked) -> SteadyView | None:
    if one.held.order.assume is None:
        return None
    middle = _middle(one)
    return SteadyView(middle[0], middle[one.ring.cells // 2])
