"""What lies on a piece and what is set in it: coats, baths, water, and its stones in the heat and out of it."""

from __future__ import annotations

from collections.abc import Callable, Iterable
from dataclasses import replace

from ringcraft.vbench.deeds import Bath, Coat, Hold, OnStone, SolderJoint, Wet
from ringcraft.vbench.needs import need
from ringcraft.vbench.pieces import NONE, Piece
from ringcraft.vbench.thing import Bears, StoneAt

STEEL = "steel"
#: What a coat is, by what takes it off: pickle or boiling water; a brush; rinsing.
GLAZE, FLUX_GLASS, SHIELD = "boric glaze", "flux glass", "shield paste"
BY_PICKLE = (GLAZE, FLUX_GLASS)


def glazed(piece: Piece) -> tuple[str, ...]:
    """The coats of a piece after a heat under flux: what is left of that is glass."""
    return tuple(dict.fromkeys((*piece.coats, FLUX_GLASS)))


def held(piece: Piece, deed: Hold) -> Piece:
    """Bound, coated or propped; or let go."""
    if deed.op == "bind":
        return piece.with_(bound=deed.with_)
    if deed.op == "unbind":
        need(piece.bound != NONE, "what is untied was bound")
        return piece.with_(bound=NONE)
    if deed.op == "support":
        return piece
    return piece.with_(guarded=True, coats=tuple(dict.fromkeys((*piece.coats, deed.with_))))


def coat(piece: Piece, deed: Coat) -> Piece:
    """A coat put on or taken off, on the piece or on one of its stones."""
    on = deed.op == "coat"
    if deed.stone:
        need(any(one.id == deed.stone and one.in_ for one in piece.stones), "what is coated is in the ring")
        return piece.with_(
            stones=tuple(
                replace(one, coats=_coats(one.coats, deed.with_, on)) if one.id == deed.stone else one
                for one in piece.stones
            )
        )
    coats = _coats(piece.coats, deed.with_, on)
    return piece.with_(coats=coats, guarded=piece.guarded and any(one not in BY_PICKLE for one in coats))


def _coats(now: tuple[str, ...], one: str, on: bool) -> tuple[str, ...]:
    if not on:
        need(one in now, f"there is no {one} to take off")
        return tuple(coat for coat in now if coat != one)
    return tuple(dict.fromkeys((*now, one)))


def _dipped(piece: Piece, dips: str) -> Iterable[StoneAt]:
    """The stones that go under where all of a ring is dipped, its shank alone, or nothing."""
    if dips == "none":
        return ()
    quarter = piece.length_mm / 4
    return [one for one in piece.stones_in if dips == "all" or abs(one.at_mm) - one.span_mm / 2 < quarter]


_BATHS: dict[str, tuple[str, Callable[[Bears], bool]]] = {
    "pickle": ("the pickle", lambda bears: bears.pickle),
    "plate": ("the plating bath", lambda bears: bears.plate),
    "ultrasonic": ("the ultrasonic", lambda bears: bears.ultrasonic),
}


def bathed(piece: Piece, deed: Bath) -> Piece:
    """Pickled, plated or washed: only with stones in that bear it."""
    need(not piece.hot, "nothing hot goes into the pickle" if deed.op == "pickle" else "it is cold by now")
    name = deed.how if deed.op == "wash" else deed.op
    if name in _BATHS:
        bath, bears = _BATHS[name]
        for stone in _dipped(piece, deed.dips):
            need(bears(stone.bears), f"{stone.id} does not go into {bath}")
    if deed.op == "plate":
        need(piece.clean and not piece.hump, "what is plated is finished and clean")
        return piece
    if deed.op == "wash":
        return piece
    need(STEEL not in piece.bound, "no steel goes into the pickle")
    coats = tuple(one for one in piece.coats if one not in BY_PICKLE)
    dipped = {one.id for one in _dipped(piece, deed.dips)}
    stones = tuple(
        replace(one, coats=tuple(c for c in one.coats if c not in BY_PICKLE)) if one.id in dipped else one
        for one in piece.stones
    )
    return piece.with_(clean=True, fluxed=False, coats=coats, stones=stones)


def act_on_stone(piece: Piece, deed: OnStone) -> Piece:
    """A stone taken out or off, set or glued again; without a name all that are meant by it."""
    need(not piece.hot, "it is cold by now")
    meant = [one for one in piece.stones if one.id == deed.stone] if deed.stone else _meant(piece, deed)
    need(not deed.stone or bool(meant), f"there is no {deed.stone}")
    changed = {one.id: _acted(one, deed) for one in meant}
    return piece.with_(stones=tuple(changed.get(one.id, one) for one in piece.stones))


def _meant(piece: Piece, deed: OnStone) -> list[StoneAt]:
    out = deed.op in ("unset", "unglue")
    return [one for one in piece.stones if one.in_ is out and not one.loose]


def _acted(stone: StoneAt, deed: OnStone) -> StoneAt:
    if deed.op in ("unset", "unglue"):
        need(stone.in_, "what is taken out is in")
        need(deed.op == "unset" or stone.glued, "only a glued stone is taken off its glue")
        return replace(stone, in_=False, wet=False, coats=(), loose=deed.loose)
    need(not stone.in_ and not stone.loose, "what is set is out, and has its seat")
    need(deed.op == "glue" or not stone.glued, "a stone that was glued is glued again")
    return replace(stone, in_=True)


def wet(piece: Piece, deed: Wet) -> Piece:
    """Held in water so that these stones lie under it, or lifted out."""
    return piece.with_(
        stones=tuple(
            replace(one, wet=one.in_ and bool(deed.water_share) and one.id in deed.stones) for one in piece.stones
        )
    )


def stones_in_heat(piece: Piece, deed: SolderJoint) -> None:
    """What a heat needs of the stones that are in: each within what its near edge bears from this seam."""
    seats = {one.stone: one for one in deed.seats}
    for stone in piece.stones_in:
        seat = seats.get(stone.id)
        if seat is None:
            continue
        need(
            seat.high_c <= stone.limit_c + 0.5,
            f"{stone.id}: {seat.high_c:.0f} °C at its edge from this seam, and {stone.limit_c:.0f} is what is borne",
        )
        need(not stone.wet or seat.torch != "no", f"no torch of the shop has done this with {stone.id} in water")
