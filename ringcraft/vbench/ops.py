"""The virtual bench: a route worked step by step, from the stock as measured to the hand-over.

Each op has what it needs and does in one function; a need that is not met is an error of the route. What stands after
a step is worked out from what it does. Volume is kept by everything but a cut, a saw and a file.
"""

from __future__ import annotations

import math
from collections.abc import Callable, Mapping, Sequence
from dataclasses import replace
from typing import Any

from ringcraft.metals import SOLDERS, SolderBook
from ringcraft.vbench.arcs import HAIR_MM, bend_to, opened, parted, shape_ends, taken_at_joint
from ringcraft.vbench.coats import act_on_stone, bathed, coat, glazed, held, stones_in_heat, wet
from ringcraft.vbench.deeds import (
    AnyDeed,
    Bath,
    Bend,
    Coat,
    Cool,
    Cut,
    Dress,
    Finish,
    Fit,
    Form,
    Hold,
    Look,
    OnPiece,
    OnStone,
    Open,
    Part,
    Round,
    ShapeEnds,
    Size,
    SolderJoint,
    Square,
    Take,
    Texture,
    Wet,
    WorkOver,
)
from ringcraft.vbench.needs import UnmetNeedError, must, need
from ringcraft.vbench.pieces import NONE, READABLE, TEXTURED, Faces, Piece
from ringcraft.vbench.sizes import rounded, sized
from ringcraft.vbench.thing import Gap, SeamAt

CLOSED = ("closed", "round", "vee")
PAPER = "paper"
Pieces = Mapping[str, Piece]


def _look(piece: Piece, deed: Look) -> Piece:
    if deed.op == "read-size":
        need(piece.shape in READABLE, "a size is read on what is round")
        need(not piece.hump, "a hump of solder reads as a smaller size")
    return piece


def _square(piece: Piece, deed: Square) -> Piece:
    need(piece.shape == "strip", "only a strip's ends are squared")
    return piece


def _cut(piece: Piece, deed: Cut) -> Piece:
    must(deed.to_mm > 0, "a cut leaves something")
    if deed.along == "width":
        share = deed.to_mm / piece.width_mm
        need(share <= 1 + HAIR_MM, "the stock is as wide as what is cut from it")
        return piece.with_(width_mm=deed.to_mm, volume_mm3=piece.volume_mm3 * share)
    need(piece.shape == "strip", "a finished band is not sawn into")
    need(deed.to_mm <= piece.length_mm + HAIR_MM, "the stock is as long as what is cut from it")
    return piece.cut_to(deed.to_mm)


def _take(piece: Piece, deed: Take) -> Piece:
    must(0 < deed.takes_mm < piece.length_mm, "saw and file take something, and leave the piece")
    if deed.op == "trim":
        need(piece.shape == "strip", "trim is filed off a strip")
    elif deed.op == "file-joint" and piece.shape == "open":
        need(not piece.hot, "it is cold by now")
    else:
        need(piece.shape == "closed", "faces are closed before they are sawn or filed parallel")
        need(not piece.fitted, "nothing finished lies under the blade")
    return taken_at_joint(piece, deed.takes_mm)


def _dress(piece: Piece, deed: Dress) -> Piece:
    must(0 <= deed.takes_mm3 < piece.volume_mm3, "what is sawn off leaves the piece")
    return piece.with_(volume_mm3=piece.volume_mm3 - deed.takes_mm3)


def _anneal(piece: Piece, deed: OnPiece) -> Piece:
    need(piece.bound == NONE, "nothing bound is annealed")
    need(not piece.stones_in, "nothing set is annealed: the stones would be in the flame")
    return piece.with_(strain=0.0, annealed=True, hot=True, clean=piece.clean and not piece.of.oxidises)


def _close(piece: Piece, deed: OnPiece) -> Piece:
    need(piece.shape == "open", "what is closed was open")
    need(piece.gap is None or abs(piece.gap.neutral_mm) < 0.01, "its ends meet before it is closed")
    return piece.with_(shape="closed", gap=None if piece.gap is None else Gap(0.0, 0.0))


def _flux(piece: Piece, deed: OnPiece) -> Piece:
    need(piece.clean, "flux goes on clean metal")
    return piece.with_(fluxed=True)


def _rinse(piece: Piece, deed: OnPiece) -> Piece:
    need(piece.clean, "what is rinsed was pickled")
    return piece


def _file_solder(piece: Piece, deed: OnPiece) -> Piece:
    need(bool(piece.joined), "solder is filed on a joint")
    return piece.with_(hump=False)


def _nothing(piece: Piece, deed: OnPiece) -> Piece:
    need(not piece.hot, "it is cold by now")
    return piece


def _tumble(piece: Piece, deed: OnPiece) -> Piece:
    need(not piece.hot and piece.clean, "what is tumbled is cold and clean")
    need(all(one.bears.struck and not one.glued for one in piece.stones_in), "shot strikes what is set in it")
    return piece


def _patina(piece: Piece, deed: OnPiece) -> Piece:
    need(not piece.hot and piece.clean, "what is darkened is cold and clean")
    need(all(one.bears.pickle and not one.glued for one in piece.stones_in), "what is set in it bears no such bath")
    return piece


def _hand_over(piece: Piece, deed: OnPiece) -> Piece:
    need(not piece.hot and piece.clean and not piece.hump and piece.bound == NONE, "a ring is handed over finished")
    coated = piece.coats or any(one.coats for one in piece.stones_in)
    need(not coated, "no coat and no glaze is left on what is handed over")
    need(all(one.in_ or one.loose for one in piece.stones), "every stone is in, or accounted for")
    whole = piece.shape not in ("strip", "closed") and (piece.shape != "open" or not piece.heats)
    need(whole, "what is handed over is whole, or open as it came")
    return piece


_ON_PIECE: dict[str, Callable[[Piece, OnPiece], Piece]] = {
    "anneal": _anneal,
    "close": _close,
    "flux": _flux,
    "rinse": _rinse,
    "file-solder": _file_solder,
    "hand-over": _hand_over,
    "tumble": _tumble,
    "patina": _patina,
}


def _strained(piece: Piece, strain: float) -> float:
    need(not piece.hot, "hot metal is not bent or struck")
    limit = piece.of.of_family.strain_limit
    need(
        piece.strain + strain <= limit + HAIR_MM,
        f"{100 * (piece.strain + strain):.0f} % since the last anneal is more than {100 * limit:.0f} %: anneal first",
    )
    return piece.strain + strain


def _work(piece: Piece, deed: WorkOver) -> Piece:
    return piece.with_(
        strain=_strained(piece, deed.strain),
        length_mm=piece.length_mm + deed.grows_mm,
        neutral_mm=deed.neutral_mm,
        thickness_mm=deed.thickness_mm,
        width_mm=deed.width_mm,
    )


def _form(piece: Piece, deed: Form) -> Piece:
    need(piece.shape in ("strip", "open"), "what is formed is a strip yet")
    return piece.with_(
        shape=deed.shape, strain=_strained(piece, deed.strain), beyond_mm=deed.beyond_mm, curves=(), gap=None
    )


def _bend(piece: Piece, deed: Bend) -> Piece:
    if deed.radius_mm is not None:
        return bend_to(piece, deed.radius_mm, _strained(piece, deed.strain))
    if deed.op == "bend":
        need(piece.shape == "round", "the bend is made in what is round")
    return piece.with_(
        shape=deed.shape,
        strain=_strained(piece, deed.strain),
        length_mm=piece.length_mm + deed.grows_mm,
        times=piece.times * deed.times,
    )


def _cool(piece: Piece, deed: Cool) -> Piece:
    need(piece.hot, "what is cooled is hot")
    if deed.op == "quench":
        need(all(one.bears.quench for one in piece.stones_in), "nothing hot is quenched with its stones in")
    return piece.with_(hot=False)


def _fit(piece: Piece, deed: Fit) -> Piece:
    need(not piece.hump and not piece.hot, "what is fitted is smooth and cold")
    return piece.with_(fitted=deed.over)


def _finish(piece: Piece, deed: Finish) -> Piece:
    now = getattr(piece.faces, deed.face)
    if now == TEXTURED:
        need(PAPER not in deed.with_, "a textured face sees no paper")
        return piece
    need(not piece.hot and not piece.hump, "what is finished is smooth and cold")
    need(_is_finer(deed.with_, now), f"the coarser one comes before {deed.with_}")
    return piece.with_(faces=replace(piece.faces, **{deed.face: deed.with_}))


def _is_finer(new: str, before: str) -> bool:
    """Whether a paper or compound comes after the one before it on a face: papers by their grit, then compounds."""
    grits = [_grit(text) for text in (new, before)]
    return grits[0] > grits[1]


#: What comes after papers on a face, in its order.
_AFTER = {"steel wool": 1.5e4, "satin brush": 2e4, "tripoli": 1e5, "rouge": 1e6, "rouge, barely": 1e6, "cloth": 2e6}


def _grit(text: str) -> float:
    return float(text.split(maxsplit=1)[0]) if PAPER in text else _AFTER.get(text, 0.0)


def _texture(piece: Piece, deed: Texture) -> Piece:
    return piece.with_(faces=replace(piece.faces, **{deed.face: TEXTURED}))


_ON_ONE: dict[type[Any], Callable[[Piece, Any], Piece]] = {
    Look: _look,
    Square: _square,
    Cut: _cut,
    Take: _take,
    Open: opened,
    Dress: _dress,
    WorkOver: _work,
    Form: _form,
    Bend: _bend,
    Hold: held,
    Bath: bathed,
    OnStone: act_on_stone,
    Coat: coat,
    Wet: wet,
    ShapeEnds: shape_ends,
    Cool: _cool,
    Round: rounded,
    Size: sized,
    Fit: _fit,
    Finish: _finish,
    Texture: _texture,
}


def seam_margin_c(pieces: Sequence[Piece], solder: str, book: SolderBook = SOLDERS) -> float | None:
    """How far [K] the earlier seams begin to melt above where a solder flows; less than nothing where one may run.

    None where only a maker's sheet knows.
    """
    flows = book[solder].flows_c
    melts = [book[old].melts_c for piece in pieces for old in piece.joined.values()]
    known = [one for one in melts if one is not None]
    return None if flows is None or len(known) < len(melts) or not known else min(known) - flows


def _solder(pieces: dict[str, Piece], deed: SolderJoint, book: SolderBook) -> dict[str, Piece]:
    parts, rest = _taken(pieces, deed)
    new = book[deed.solder]
    for piece in parts:
        fluxes = piece.of.of_family.fluxed
        need(piece.shape in CLOSED or bool(piece.fitted), "faces are closed or fitted before they are soldered")
        need(piece.clean, "solder runs on clean metal")
        need(piece.fluxed or piece.guarded or not fluxes, "solder runs under flux")
        need(not piece.hot, "each heat begins cold")
        need(new.flows_c is None or piece.begins_to_melt_c > new.flows_c, "the metal melts above the solder")
        stones_in_heat(piece, deed)
        for seam, old in piece.joined.items():
            need(
                piece.guarded or new.stays_below(book[old]),
                f"the {seam} would run: it is coated, or its solder flows higher",
            )
    made = parts[0] if len(parts) == 1 else _together(parts)
    joints = {deed.joint: deed.at_mm, **({deed.besides: deed.besides_mm} if deed.besides else {})}
    places = {**{one.key: one.at_mm for one in made.seams}, **joints}
    joined = {**made.joined, **dict.fromkeys(joints, deed.solder)}
    made = made.with_(
        joined=joined,
        seams=tuple(SeamAt(key, places.get(key), name) for key, name in joined.items()),
        coats=glazed(made) if made.fluxed else made.coats,
        frail=tuple(one for one in made.frail if one != "crack"),
        gap=None,
        volume_mm3=made.volume_mm3 * deed.alike,
        count=made.count // deed.alike,
        hump=True,
        strain=0.0,
        annealed=True,
        hot=True,
        heats=made.heats + 1,
        clean=made.clean and not (made.of.oxidises or made.of.of_family.fluxed),
        fluxed=False,
        guarded=made.guarded,
        shut=made.shut or made.shape != "strip",
        fitted="",
    )
    out = {deed.into if name == deed.pieces[0] else name: piece for name, piece in pieces.items()}
    kept = {name: piece for name, piece in out.items() if name not in deed.pieces[1:]}
    return {name: made if name == deed.into else piece for name, piece in kept.items()} | rest


def _taken(pieces: Mapping[str, Piece], deed: SolderJoint) -> tuple[list[Piece], dict[str, Piece]]:
    """The pieces that go into a joint, and what is left of those that it takes only some of."""
    parts, rest = [pieces[deed.pieces[0]]], {}
    for name in deed.pieces[1:]:
        piece = pieces[name]
        if 0 < deed.takes < piece.count:
            rest[name] = piece.with_(count=piece.count - deed.takes)
            piece = piece.with_(count=deed.takes)
        parts.append(piece)
    return parts, rest


def _together(parts: Sequence[Piece]) -> Piece:
    """Several pieces as one: it goes round as the first does, weighs as much as all, keeps every seam."""
    first, joined = parts[0], {seam: solder for piece in parts for seam, solder in piece.joined.items()}
    volume = math.fsum(piece.volume_mm3 * piece.count for piece in parts)
    mass = math.fsum(piece.mass_g * piece.count for piece in parts)
    return first.with_(
        volume_mm3=volume,
        density_g_cm3=1000 * mass / volume,
        count=1,
        joined=joined,
        coats=tuple(dict.fromkeys(coat for piece in parts for coat in piece.coats)),
        bound=next((piece.bound for piece in parts if piece.bound != NONE), NONE),
        heats=max(piece.heats for piece in parts),
        fluxed=all(piece.fluxed for piece in parts),
        faces=Faces(first.faces.inside, first.faces.edges, parts[-1].faces.outside),
    )


def act(pieces: dict[str, Piece], deed: AnyDeed, book: SolderBook = SOLDERS) -> dict[str, Piece]:
    """The pieces after a deed; raises UnmetNeedError where one cannot be done as they stand."""
    for name in deed.pieces if isinstance(deed, SolderJoint) else (deed.piece,):
        must(name in pieces, "what it is done to is there by then")
    if isinstance(deed, SolderJoint):
        return _solder(pieces, deed, book)
    if isinstance(deed, Part):
        return parted(pieces, deed)
    piece = pieces[deed.piece]
    if isinstance(deed, OnPiece):
        return {**pieces, deed.piece: _ON_PIECE.get(deed.op, _nothing)(piece, deed)}
    return {**pieces, deed.piece: _ON_ONE[type(deed)](piece, deed)}


def work(
    start: Pieces,
    steps: Sequence[tuple[str, Sequence[AnyDeed]]],
    book: SolderBook = SOLDERS,
) -> tuple[Pieces, ...]:
    """Work a route: the pieces after each of its steps; raises UnmetNeedError at the key of the step."""
    pieces, out = dict(start), []
    for key, deeds in steps:
        for deed in deeds:
            try:
                pieces = act(pieces, deed, book)
            except UnmetNeedError as problem:
                raise UnmetNeedError(key, f"{deed.op}: {problem.message}", "") from None
        out.append(pieces)
    return tuple(out)
