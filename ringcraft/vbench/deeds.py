"""What a step does to a piece of metal, in data: the ops of the contract, each with the fields it takes.

A deed says what is done and to which piece; what it needs and what comes of it is the virtual bench's
(:mod:`ringcraft.vbench.ops`). Lengths [mm] lie along the neutral line, strain is the stretch of the most stretched
fibre [share of its length].
"""

from __future__ import annotations

from dataclasses import dataclass
from typing import Annotated, Any, Literal, get_args, get_type_hints

from pydantic import Discriminator, Field
from pydantic.dataclasses import dataclass as with_alias

from ringcraft.vbench.thing import BY_ALIAS, Seat

#: How a ring is made round: struck, or pressed on the mandrel by hand.
BLOWS, BY_HAND = "blows", "hand"


@dataclass(frozen=True, kw_only=True)
class Look:
    """A look or a measure, which changes nothing; ``key`` says what is looked at."""

    op: Literal["measure", "inspect", "read-size"]
    piece: str
    key: str


@dataclass(frozen=True, kw_only=True)
class Square:
    """So many ends filed square."""

    op: Literal["square"]
    piece: str
    ends: int


@dataclass(frozen=True, kw_only=True)
class Cut:
    """Cut to a length or a width [mm]."""

    op: Literal["cut"]
    piece: str
    to_mm: float
    along: Literal["length", "width"] = "length"


@dataclass(frozen=True, kw_only=True)
class Take:
    """Length [mm] that saw or file takes in so many passes, and the ledger's term for it."""

    op: Literal["trim", "saw-joint", "file-joint"]
    piece: str
    takes_mm: float
    passes: int
    term: str


@dataclass(frozen=True, kw_only=True)
class Open:
    """A ring sawn open, or a part of it sawn loose: what the blade takes [mm], and the seam it runs through.

    It is opened opposite its head, of a plain ring at its joint; ``beside`` a seam that is open already, where the
    cuts take a part off.
    """

    op: Literal["open"]
    piece: str
    takes_mm: float
    term: str
    through: str = ""
    beside: bool = False


@dataclass(frozen=True, kw_only=True)
class Part:
    """A part so long [mm] set into an open ring, or taken out: ``part`` is the piece that goes in or comes out.

    It is set in, or taken out, opposite the head.
    """

    op: Literal["insert", "remove"]
    piece: str
    mm: float
    part: str
    term: str = ""


@dataclass(frozen=True, kw_only=True)
class Dress:
    """Metal [mm3] that is sawn or filed off a shape: a waist, slots between prongs, what stands over a wall."""

    op: Literal["dress"]
    piece: str
    by: str
    takes_mm3: float


@dataclass(frozen=True, kw_only=True)
class OnPiece:
    """A deed that needs nothing said beside its piece."""

    op: Literal["anneal", "close", "flux", "rinse", "file-solder", "tumble", "patina", "hand-over"]
    piece: str


@dataclass(frozen=True, kw_only=True)
class Bath:
    """A bath: pickle, plating or the wash. ``dips``: all of it, its shank alone, or nothing (a pen, a brush).

    ``how`` is what the wash is done with: soap and a brush, or ultrasonic and steam too. ``spares`` are faces that it
    is kept off.
    """

    op: Literal["pickle", "plate", "wash"]
    piece: str
    dips: Literal["all", "shank", "none"] = "all"
    how: str = ""
    spares: tuple[str, ...] = ()


@dataclass(frozen=True, kw_only=True)
class OnStone:
    """A stone taken out, set again, taken off its glue or glued anew; every stone that is meant where none is named.

    ``loose``: its seat goes out with the piece, so it is handed back loose.
    """

    op: Literal["unset", "set", "unglue", "glue"]
    piece: str
    stone: str = ""
    loose: bool = False


@with_alias(frozen=True, kw_only=True, config=BY_ALIAS)
class Coat:
    """A coat put on, or taken off: on the piece, or on a stone of it by its name."""

    op: Literal["coat", "uncoat"]
    piece: str
    with_: Annotated[str, Field(alias="with")]
    stone: str = ""


@dataclass(frozen=True, kw_only=True)
class Wet:
    """Held with so much of its inside in water [share] that these stones lie under it; nought: lifted out."""

    op: Literal["wet"]
    piece: str
    water_share: float
    stones: tuple[str, ...] = ()


@dataclass(frozen=True, kw_only=True)
class ShapeEnds:
    """The ends of a straight piece filed so far off square [degrees], longer on the outside."""

    op: Literal["shape-ends"]
    piece: str
    deg: float


@dataclass(frozen=True, kw_only=True)
class WorkOver:
    """Hammer, rolls, punches or a fold: it grows by ``grows_mm`` and is so thick and wide after it.

    ``neutral_mm`` is where its neutral line then runs above its inside.
    """

    op: Literal["work"]
    piece: str
    by: Literal["texture", "stamp", "dish", "roll", "fold", "flatten"]
    grows_mm: float
    strain: float
    thickness_mm: float
    width_mm: float
    neutral_mm: float
    term: str = ""


@dataclass(frozen=True, kw_only=True)
class Form:
    """Bent to a shape; ``beyond_mm`` of its length does not go round the finger: an overlap, or a gap below 0."""

    op: Literal["form"]
    piece: str
    shape: str
    strain: float
    beyond_mm: float = 0.0


@dataclass(frozen=True, kw_only=True)
class Bend:
    """A bend in what is round already: it is ``times`` as long as once round after it.

    With a ``radius_mm`` a part is bent to that radius of its neutral line: an insert, or what is kept of a ring.
    """

    op: Literal["bend", "spread", "dome"]
    piece: str
    shape: str
    grows_mm: float
    strain: float
    times: float = 1.0
    radius_mm: float | None = None


@with_alias(frozen=True, kw_only=True, config=BY_ALIAS)
class Hold:
    """Bound, coated, propped; or let go."""

    op: Literal["bind", "unbind", "guard", "support"]
    piece: str
    with_: Annotated[str, Field(alias="with")]


@dataclass(frozen=True, kw_only=True)
class SolderJoint:
    """A joint soldered: ``pieces`` become ``into``; ``alike`` pieces of one name become one, or only so many of the
    second as it ``takes``, and the others wait.

    ``margin_c``: how far [K] the earlier seams begin to melt above where this solder flows; null where there is none
    or only a maker's sheet knows. ``at_mm`` is where the joint lies on the ring, None where it runs all round;
    ``besides`` is a second seam that runs in the same heat, at ``besides_mm``. ``seats`` are the stones still in.
    """

    op: Literal["solder"]
    pieces: tuple[str, ...]
    into: str
    joint: str
    solder: str
    chips: int
    side: str
    margin_c: float | None
    alike: int = 1
    takes: int = 0
    at_mm: float | None = None
    besides: str = ""
    besides_mm: float = 0.0
    seats: tuple[Seat, ...] = ()


@dataclass(frozen=True, kw_only=True)
class Cool:
    """Cooled in air, or quenched."""

    op: Literal["cool", "quench"]
    piece: str
    how: str


@dataclass(frozen=True, kw_only=True)
class Round:
    """Made round and true on the mandrel; ``grows_mm`` where that is known of this shop.

    ``where`` is the arc [mm] that blows fall in, None for all of it; pressed ``by`` hand where none may fall.
    """

    op: Literal["round", "true"]
    piece: str
    grows_mm: float = 0.0
    term: str = ""
    by: str = BLOWS
    where: tuple[float, ...] | None = None


@dataclass(frozen=True, kw_only=True)
class Size:
    """Brought to an inside diameter [mm]: stretched, compressed, let out, or left as it closed.

    ``where`` is the arc [mm] that blows fall in, None for all of it; ``press``: with no blow at all.
    """

    op: Literal["size"]
    piece: str
    to_mm: float
    by: str
    term: str = "leave"
    press: bool = False
    where: tuple[float, ...] | None = None


@dataclass(frozen=True, kw_only=True)
class Fit:
    """Fitted over, on or beside another piece."""

    op: Literal["fit"]
    piece: str
    over: str


@with_alias(frozen=True, kw_only=True, config=BY_ALIAS)
class Finish:
    """A paper or compound on one face."""

    op: Literal["finish"]
    piece: str
    face: Literal["inside", "edges", "outside"]
    with_: Annotated[str, Field(alias="with")]


@dataclass(frozen=True, kw_only=True)
class Texture:
    """A face textured: struck, stamped, or patterned as the strip came."""

    op: Literal["texture"]
    piece: str
    face: Literal["inside", "edges", "outside"]
    where: str


KINDS = (Look, Square, Cut, Take, Open, Part, Dress, OnPiece, Bath, OnStone, Coat, Wet, ShapeEnds, WorkOver, Form,
         Bend, Hold, SolderJoint, Cool, Round, Size, Fit, Finish, Texture)  # fmt: skip
AnyDeed = (
    Look
    | Square
    | Cut
    | Take
    | Open
    | Part
    | Dress
    | OnPiece
    | Bath
    | OnStone
    | Coat
    | Wet
    | ShapeEnds
    | WorkOver
    | Form
    | Bend
    | Hold
    | SolderJoint
    | Cool
    | Round
    | Size
    | Fit
    | Finish
    | Texture
)
Deed = Annotated[AnyDeed, Discriminator("op")]
#: Which kind of deed an op is.
OPS: dict[str, type[Any]] = {op: kind for kind in KINDS for op in get_args(get_type_hints(kind)["op"])}
