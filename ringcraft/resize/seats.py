"""What comes to the seats of the stones that stay in while a joint flows: the heat model, on its high side."""

from __future__ import annotations

import math
from collections.abc import Callable
from dataclasses import dataclass
from functools import cache

from ringcraft.heat.asking import HeatRequest
from ringcraft.heat.bands import band_of
from ringcraft.heat.picture import Worked, work
from ringcraft.heat.torch import torch_views
from ringcraft.joint.asking import RingAtJoint
from ringcraft.metals import ALL_METALS, BARRED, SolderBook
from ringcraft.resize.case import Case
from ringcraft.sections import Section, Stock
from ringcraft.vbench.deeds import SolderJoint
from ringcraft.vbench.pieces import Piece
from ringcraft.vbench.thing import BOILS_C, FILM_C, Seat, StoneAt, near_mm
from ringcraft.work.joining import UNDER_SOLIDUS_C, WATER_SHARE, stock_of

#: Where nobody knows the metal nobody knows the flow: the hottest of the usual golds is reckoned; our own judgement.
UNKNOWN_FLOW_C = 850.0
WATER_C = 25.0  # of the water that a ring hangs in, for the seconds that it takes; our own judgement
NEAREST_MM = 0.01  # places closer than this are one place to the model


@dataclass(frozen=True)
class Heated:
    """One place near a joint: the model's high value there [C]; in water also whether the place lies under it, and
    what the set-up takes against the same ring dry, at most.
    """

    high_c: float
    covered: bool
    against_dry: float


@cache
def _worked(
    metal: str, stock: tuple[tuple[str, object], ...], inside_mm: float, flow_c: float, share: float, apart_mm: float
) -> Worked:
    """A ring in the flame, its joint above, worked once."""
    return work(
        HeatRequest(
            metal=metal,
            ring=RingAtJoint(inside_diameter_mm=inside_mm, stock=Stock(**dict(stock))),  # type: ignore[arg-type]
            water_share=share or None,
            flow_c=min(flow_c, ALL_METALS[metal].solidus_c - 1.0),
            insert_mm=apart_mm,
            stone="diamond",  # a stone on it: no flame strokes over all of it
        )
    )


@cache
def place_in_heat(
    metal: str,
    stock: tuple[tuple[str, object], ...],
    inside_mm: float,
    flow_c: float,
    near_at_mm: float,
    share: float = 0.0,
    apart_mm: float = 0.0,
) -> Heated:
    """A place [mm] from a joint, while the joint stands at flow until nothing changes: a quicker flame leaves it
    colder, so this is the careful side. ``share`` of the inside stands in water; ``apart_mm``: two seams in one heat.
    """
    one = _worked(metal, stock, inside_mm, flow_c, share, apart_mm)
    high = band_of(one.there(near_at_mm)).high
    ratio = band_of(one.state.power / one.dry_w).high if share else 1.0
    return Heated(high, one.held.is_wet(near_at_mm), ratio)


def stock_key(section: Section) -> tuple[tuple[str, object], ...]:
    """A section as a key that can be kept."""
    return tuple(sorted(stock_of(section).items()))


def _is_modelled(case: Case) -> bool:
    """Whether anything is known of how its metal carries heat: it is known, and sees a torch at all."""
    return case.is_known and case.metal.key not in BARRED


def flow_of(case: Case, solder: str, book: SolderBook) -> float:
    """Where a solder flows [C]; reckoned below the metal's solidus where only its maker's sheet knows."""
    if not _is_modelled(case):
        return UNKNOWN_FLOW_C
    flows = book[solder].flows_c
    return case.metal.solidus_c - UNDER_SOLIDUS_C if flows is None else flows


def torch_word(case: Case, flow_c: float, inside_mm: float, apart_mm: float = 0.0) -> str:
    """Whether a torch of the shop has done what this ring asks hung in water: yes, unsure, no, or unknown."""
    if not case.order.torches or not _is_modelled(case):
        return "unknown"
    one = _worked(
        case.metal.key, stock_key(case.section), round(inside_mm, 2), flow_c, WATER_SHARE, round(apart_mm, 2)
    )
    views = torch_views(case.order.torches, case.metal, one.held.mass_g, flow_c, one.state.power / one.dry_w)
    return views[0].enough


def seat_of(
    case: Case, stone: StoneAt, at_mm: float, flow_c: float, inside_mm: float, wet: bool, apart_mm: float = 0.0
) -> Seat:
    """A stone in the heat of one joint at a place on the ring [mm], dry or with its seat to be under water.

    A stone under water is as warm as the water is, as long as the metal at its near edge does not boil it; water that
    boils counts as 100, and beyond where a film of steam keeps it off, the metal itself counts.
    """
    section = case.section
    round_mm = math.pi * (inside_mm + 2 * section.neutral_mm)
    near = max(near_mm(stone, at_mm, round_mm), 0.0)
    if not _is_modelled(case):
        return Seat(stone.id, near, UNKNOWN_FLOW_C, wet, 1.0, "unknown" if wet else "")
    key = (case.metal.key, stock_key(section), round(inside_mm, 2), flow_c)
    place = min(round(near + apart_mm / 2, 2), round_mm / 2 - NEAREST_MM)
    if not wet:
        return Seat(stone.id, near, place_in_heat(*key, place, 0.0, round(apart_mm, 2)).high_c)
    there = place_in_heat(*key, place, WATER_SHARE, round(apart_mm, 2))
    boils = there.covered and BOILS_C < there.high_c <= FILM_C
    still = there.covered and there.high_c <= BOILS_C
    high = BOILS_C if boils else WATER_C if still else there.high_c
    return Seat(stone.id, near, high, True, there.against_dry, torch_word(case, flow_c, inside_mm, apart_mm))


def is_covered(case: Case, stone: StoneAt, at_mm: float, flow_c: float, inside_mm: float) -> bool:
    """Whether all of a stone lies under water where the ring hangs with this joint straight above."""
    if not _is_modelled(case):
        return False
    round_mm = math.pi * (inside_mm + 2 * case.section.neutral_mm)
    near = max(near_mm(stone, at_mm, round_mm), 0.0)
    place = min(round(near, 2), round_mm / 2 - NEAREST_MM)
    return place_in_heat(
        case.metal.key, stock_key(case.section), round(inside_mm, 2), flow_c, place, WATER_SHARE
    ).covered


def heated_by(case: Case, book: SolderBook) -> Callable[[Piece, SolderJoint], tuple[Seat, ...]]:
    """What the virtual bench asks at a joint: every stone that is in the piece, from this very seam."""

    def seats(piece: Piece, deed: SolderJoint) -> tuple[Seat, ...]:
        flow = flow_of(case, deed.solder, book)
        places = [deed.at_mm or 0.0, *([deed.besides_mm] if deed.besides else [])]
        apart = abs(places[0] - places[1]) if len(places) > 1 else 0.0
        out = []
        for stone in piece.stones_in:
            every = [seat_of(case, stone, at, flow, piece.inside_mm, stone.wet, apart) for at in places]
            out.append(max(every, key=lambda one: one.high_c))
        return tuple(out)

    return seats
