"""A ring made round and brought to its size on the bench: where blows may fall, how far its metal gives."""

from __future__ import annotations

import math
from dataclasses import replace

from ringcraft.vbench.arcs import HAIR_MM, whole_curve
from ringcraft.vbench.deeds import BY_HAND, Round, Size
from ringcraft.vbench.needs import must, need
from ringcraft.vbench.pieces import READABLE, Piece
from ringcraft.vbench.thing import FRAIL, SeamAt, lies_in, scaled, size_strain_limit

SLIGHT_MM = 0.16  # of circumference: finer than a mandrel reads, so no stretch; a sixteenth of a US size


def _struck(piece: Piece, by: str, where: tuple[float, ...] | None) -> None:
    """What a blow on a piece needs; nothing where it is pressed by hand."""
    if by == BY_HAND:
        return
    need(not piece.of.brittle, f"{piece.of.title} breaks under a blow")
    for one in piece.frail:
        need(False, FRAIL[one])
    half = piece.length_mm / 2
    arc = (where[0], where[1]) if where else (-half, half)
    for head in piece.heads:
        need(not lies_in(head, arc, piece.length_mm), "no blow falls on the head")
    for stone in piece.stones_in:
        need(stone.bears.struck or not lies_in(stone, arc, piece.length_mm), f"no blow falls on or beside {stone.id}")


def rounded(piece: Piece, deed: Round) -> Piece:
    """Made round and true: struck where blows may fall, or pressed by hand."""
    need(piece.shut or bool(piece.joined), "what is trued was soldered")
    _struck(piece, deed.by, deed.where)
    need(not piece.hump, "a hump of solder is filed before it is trued")
    need(not piece.hot, "it is cold by now")
    shape = "round" if piece.shape in ("closed", "open") else piece.shape
    return whole_curve(piece.with_(shape=shape, length_mm=piece.length_mm + deed.grows_mm, gap=None))


def sized(piece: Piece, deed: Size) -> Piece:
    """Brought to an inside diameter: stretched, pressed, let out, or left."""
    need(piece.shape in READABLE and not piece.hump, "what is brought to size is round")
    if piece.shape == "lapped":  # let out: its ends slide over one another
        wanted = math.pi * (deed.to_mm + 2 * piece.neutral_mm)
        return piece.with_(beyond_mm=piece.length_mm - wanted)
    off = deed.to_mm - piece.inside_mm
    must(deed.by != "left" or abs(off) < HAIR_MM * 100, "what is left is as it closed")
    need(deed.by not in ("compress",) or off <= HAIR_MM, "what is compressed gets smaller")
    need(deed.by != "stretch" or off >= -HAIR_MM, "what is stretched gets larger")
    round_mm = math.pi * off
    if abs(round_mm) > SLIGHT_MM:
        _stretched(piece, deed, round_mm)
    elif abs(off) > HAIR_MM * 100:
        _struck(piece, BY_HAND if deed.press else "", deed.where)
    return _at_inside(piece, deed.to_mm)


def _stretched(piece: Piece, deed: Size, round_mm: float) -> None:
    """What bringing a ring to another size needs: its metal's limit, and nothing on it that would suffer."""
    strain = abs(round_mm) / (piece.length_mm - piece.head_mm)
    limit = size_strain_limit(piece.metal)
    if piece.frail or piece.of.brittle:
        what = FRAIL[piece.frail[0]] if piece.frail else f"{piece.of.title} breaks"
        need(False, f"it is neither stretched nor pressed: {what}")
    need(strain <= limit + HAIR_MM, f"{100 * strain:.1f} % is more than the {100 * limit:.2g} % that it bears")
    if deed.by == "compress":
        need(not piece.stones_in and not piece.heads, "only what is plain goes into a reducing die")
    _struck(piece, BY_HAND if deed.press else "", deed.where)


def _at_inside(piece: Piece, inside_mm: float) -> Piece:
    """The piece at an inside diameter [mm]: the wall thins as it grows, so the neutral line is found by steps."""
    length = piece.length_mm
    for _ in range(12):
        neutral = piece.neutral_mm * piece.length_mm / length
        length = piece.times * (math.pi * (inside_mm + 2 * neutral) + piece.beyond_mm)
    return _scaled(piece, piece.stretched_to(length))


def _scaled(before: Piece, after: Piece) -> Piece:
    """A ring at another length: what sits on it moves with the metal, all of which gives but the head's arc."""

    def there(at_mm: float) -> float:
        return scaled(at_mm, before.heads, before.length_mm, after.length_mm)

    return whole_curve(
        after.with_(
            stones=tuple(replace(one, at_mm=there(one.at_mm)) for one in before.stones),
            heads=tuple(replace(one, at_mm=there(one.at_mm)) for one in before.heads),
            seams=tuple(
                one if one.at_mm is None else SeamAt(one.key, there(one.at_mm), one.solder) for one in before.seams
            ),
        )
    )
