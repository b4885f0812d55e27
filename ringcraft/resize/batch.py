"""Several rings at once: what they share at the torch and in the pot, and whose piece could serve whose gap."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass

from ringcraft.metals import UNKNOWN_METAL
from ringcraft.resize.methods.base import Value
from ringcraft.resize.plan import ResizePlan
from ringcraft.resize.serving import held_against, serves


@dataclass(frozen=True)
class BatchRing:
    """A ring of a batch: its job, its plan."""

    id: int
    name: str
    plan: ResizePlan


@dataclass(frozen=True)
class Together:
    """Rings of one metal whose joints take one solder: one lighting of the torch, one pot, one gauge."""

    metal: str
    solder: str
    gauge: str
    ids: tuple[int, ...]
    says: str


@dataclass(frozen=True)
class Swap:
    """A piece that comes out of one ring, held against what another needs: short by so much [mm], [US sizes]."""

    giver: int
    taker: int
    piece_mm: float
    need_mm: float
    short_mm: float
    short_us: float
    credited: bool
    says: str


@dataclass(frozen=True)
class Spare:
    """A piece that comes out of a ring and stays with the shop: at hand for another ring of the same metal [mm]."""

    id: int
    metal: str
    profile: str
    length_mm: float
    width_mm: float
    thickness_mm: float


@dataclass(frozen=True)
class Batch:
    """What several rings share, the table of pieces and gaps, and the pieces that the shop has credited."""

    together: tuple[Together, ...]
    swaps: tuple[Swap, ...]
    pieces: tuple[Spare, ...]


def batch_of(rings: Sequence[BatchRing]) -> Batch:
    """What these rings share, the largest company first; every piece against every gap of the same metal."""
    groups: dict[tuple[str, str, str], list[BatchRing]] = {}
    for ring in rings:
        solder = ring.plan.joints[0].solder_title if ring.plan.joints else ""
        groups.setdefault((ring.plan.metal.title, solder, ring.plan.sides.to_gauge), []).append(ring)
    together = [_together(key, group) for key, group in groups.items()]
    swaps = [swap for giver in rings for taker in rings if (swap := _swap(giver, taker)) is not None]
    return Batch(
        tuple(sorted(together, key=lambda one: (-len(one.ids), one.metal, one.solder))),
        tuple(sorted(swaps, key=lambda one: (one.short_mm, one.piece_mm - one.need_mm))),
        tuple(piece for ring in rings if (piece := _piece(ring)) is not None),
    )


def _piece(ring: BatchRing) -> Spare | None:
    plan, length = ring.plan, _figures(ring.plan).get("piece_mm")
    if not length or plan.offcut != "credited" or plan.metal.key == UNKNOWN_METAL:
        return None
    section = plan.section
    return Spare(ring.id, plan.metal.key, section.profile, float(length), section.width_mm, section.thickness_mm)


def _together(key: tuple[str, str, str], group: Sequence[BatchRing]) -> Together:
    metal, solder, gauge = key
    share = [f"soldered with {solder}" if solder else "worked cold"]
    if solder and len(group) > 1:
        share.append("one lighting, one pot")
    if gauge:
        share.append(f"read on the {gauge}")
    return Together(metal, solder, gauge, tuple(one.id for one in group), ", ".join(share))


def _figures(plan: ResizePlan) -> Mapping[str, Value]:
    return plan.chosen.figures


def _swap(giver: BatchRing, taker: BatchRing) -> Swap | None:
    """The piece of one ring against the gap of another; None where metal, section or way do not go together."""
    piece, need = _figures(giver.plan).get("piece_mm"), _figures(taker.plan).get("insert_mm")
    if not piece or not need or giver.id == taker.id or taker.plan.method != "add-stock":
        return None
    if giver.plan.metal.key != taker.plan.metal.key or giver.plan.metal.key == UNKNOWN_METAL:
        return None
    if not serves(giver.plan.section, taker.plan.section):
        return None
    held = held_against(float(piece), float(need), taker.plan.units)
    credited, said = giver.plan.offcut == "credited", held.says
    if not credited:
        said += "; it is not credited to the shop, so it goes back to its owner"
    return Swap(giver.id, taker.id, float(piece), float(need), held.short_mm, held.short_us, credited, said)
