"""What happens along a piece: it is sawn open, a part goes in or out, it is bent to a curve, its ends are shaped."""

from __future__ import annotations

import math
from collections.abc import Mapping

from ringcraft.vbench.deeds import Open, Part, ShapeEnds
from ringcraft.vbench.needs import must, need
from ringcraft.vbench.pieces import Piece
from ringcraft.vbench.thing import Curve, Gap, SeamAt, moved_heads, moved_stones, shifted, straight_end_mm

HAIR_MM = 1e-6
CLOSE_MM = 1e-4  # a piece and its gap are one length, as sums of floats go
GAPES_MM = 0.02  # of radius: more than the saw's own spring; what is bent so far stands to the new curve


def whole_curve(piece: Piece) -> Piece:
    """A ring that goes all round on one radius."""
    if piece.shape != "round":
        return piece
    half = piece.length_mm / 2
    return piece.with_(curves=(Curve(-half, half, piece.length_mm / math.tau),))


def radius_of(piece: Piece) -> float:
    """The radius [mm] that the most of a piece is bent to; endless for what is straight."""
    bent = max(piece.curves, key=lambda one: one.to_mm - one.from_mm, default=None)
    return bent.radius_mm if bent else math.inf


def taken_at_joint(piece: Piece, takes_mm: float) -> Piece:
    """What saw or file takes at the joint at nought [mm]: what sits on either side moves in by half of it."""
    after = _shifted(piece.cut_to(piece.length_mm - takes_mm), piece, -takes_mm)
    if not piece.curves:
        return after
    radius = radius_of(piece) if piece.shape == "open" else after.length_mm / math.tau
    return _gaping(after, radius)


def _shifted(after: Piece, before: Piece, by_mm: float) -> Piece:
    return after.with_(
        stones=moved_stones(before.stones, by_mm),
        heads=moved_heads(before.heads, by_mm),
        seams=tuple(
            one if one.at_mm is None else SeamAt(one.key, shifted(one.at_mm, by_mm), one.solder)
            for one in after.seams
        ),
    )


def _gaping(piece: Piece, radius_mm: float) -> Piece:
    """An open ring on a radius: how far it gapes [mm]."""
    half = piece.length_mm / 2
    neutral = math.tau * radius_mm - piece.length_mm
    inside = radius_mm - piece.neutral_mm
    return piece.with_(
        curves=(Curve(-half, half, radius_mm),),
        gap=Gap(neutral, 2 * inside * math.sin(neutral / 2 / radius_mm)),
    )


def _clear(piece: Piece, reach_mm: float, what: str) -> None:
    """No seat and no head lies within so far [mm] of nought; what is handed back loose lies nowhere."""
    for stone in piece.stones:
        gone = not stone.in_ and stone.loose
        need(gone or abs(stone.at_mm) - stone.span_mm / 2 >= reach_mm - HAIR_MM, f"no seat lies in {what}")
    for head in piece.heads:
        need(abs(head.at_mm) - head.span_mm / 2 >= reach_mm - HAIR_MM, f"no head lies in {what}")


def opened(piece: Piece, deed: Open) -> Piece:
    """Sawn open at nought: it gapes by what the blade took."""
    need(piece.shape in ("round", "closed", "open") and not piece.hot, "what is sawn open goes round, and is cold")
    need(deed.beside or piece.shape != "open" or piece.gap is None, "what is open already is not sawn open")
    must(deed.takes_mm < piece.length_mm, "the saw leaves the ring")
    _clear(piece, deed.takes_mm / 2, "the cut")
    joined = {seam: solder for seam, solder in piece.joined.items() if seam != deed.through}
    radius = radius_of(piece) if piece.shape == "open" else piece.length_mm / math.tau
    cut = piece.cut_to(piece.length_mm - deed.takes_mm, shape="open", shut=False, joined=joined)
    radius = radius if math.isfinite(radius) else piece.length_mm / math.tau
    return _gaping(_shifted(cut, piece, -deed.takes_mm), radius)


def parted(pieces: dict[str, Piece], deed: Part) -> dict[str, Piece]:
    """A part set in, which is no piece of its own any more; or one taken out, which becomes one."""
    ring = pieces[deed.piece]
    need(ring.shape == "open" and not ring.hot, "a part goes into what is open, and comes out of it")
    return _removed(pieces, ring, deed) if deed.op == "remove" else _inserted(pieces, ring, deed)


def _removed(pieces: Mapping[str, Piece], ring: Piece, deed: Part) -> dict[str, Piece]:
    must(0 < deed.mm < ring.length_mm, "what is taken out leaves the ring")
    _clear(ring, deed.mm / 2, "what is taken out")
    half = deed.mm / 2
    out = ring.cut_to(
        deed.mm, shape="offcut", joined={}, stones=(), heads=(), gap=None, frail=(),
        curves=(Curve(-half, half, radius_of(ring)),) if ring.curves else (),
    )  # fmt: skip
    kept = _shifted(ring.cut_to(ring.length_mm - deed.mm), ring, -deed.mm)
    radius = radius_of(ring)
    return {**pieces, deed.piece: _gaping(kept, radius) if math.isfinite(radius) else kept, deed.part: out}


def _inserted(pieces: Mapping[str, Piece], ring: Piece, deed: Part) -> dict[str, Piece]:
    part = pieces[deed.part]
    need(part.shape in ("strip", "open") and not part.hot, "what is set in is cut and shaped")
    must(abs(part.length_mm - deed.mm) < CLOSE_MM, "what is set in is as long as its gap")
    whole = ring.length_mm + part.length_mm
    if ring.curves:
        need(ring.gap is not None and abs(ring.gap.neutral_mm - part.length_mm) < 0.01,
             "what is set in is as long as the gap that it goes into")  # fmt: skip
        need(abs(radius_of(ring) - whole / math.tau) < GAPES_MM, "what is kept is bent to the new curve")
        bent = abs(radius_of(part) - whole / math.tau) < GAPES_MM and part.ends == (0.0, 0.0)
        need(bent or (not part.curves and part.ends != (0.0, 0.0)),
             "what is set in is bent with square ends, or straight with its ends shaped")  # fmt: skip
    half = whole / 2
    made = _shifted(ring, ring, part.length_mm).with_(
        length_mm=whole,
        volume_mm3=ring.volume_mm3 + part.volume_mm3,
        shape="closed",
        clean=ring.clean and part.clean,
        curves=(Curve(-half, half, whole / math.tau),) if ring.curves else (),
        gap=Gap(0.0, 0.0),
    )
    return {name: made if name == deed.piece else piece for name, piece in pieces.items() if name != deed.part}


def bend_to(piece: Piece, radius_mm: float, strain: float) -> Piece:
    """An insert, or what is kept of a ring, bent to a radius of its neutral line [mm]."""
    must(radius_mm > 0, "a curve has a radius")
    need(piece.shape in ("strip", "open"), "what is bent to a curve is a strip, or open")
    half = piece.length_mm / 2
    bent = piece.with_(shape="open", strain=strain, curves=(Curve(-half, half, radius_mm),))
    return _gaping(bent, radius_mm) if piece.gap is not None else bent


def shape_ends(piece: Piece, deed: ShapeEnds) -> Piece:
    """The ends of a straight piece filed off square, to the radial faces of a ring that it goes into."""
    need(
        piece.shape == "strip" and not piece.curves,
        "ends are shaped on a straight piece: a bent one keeps them square",
    )
    long = straight_end_mm(piece.length_mm, piece.thickness_mm, deed.deg, piece.neutral_mm)
    must(long > 0, "ends so far off square leave nothing of the piece")
    area = piece.volume_mm3 / piece.length_mm
    mean = piece.length_mm - piece.thickness_mm * math.tan(math.radians(deed.deg))
    return piece.with_(length_mm=long, volume_mm3=area * mean, ends=(deed.deg, deed.deg))
