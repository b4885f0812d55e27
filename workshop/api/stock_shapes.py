"""What the API answers of the drawer, in shapes that the screen draws from."""

from __future__ import annotations

from datetime import datetime

from ninja import Schema

from ringcraft.sections import Points
from ringcraft.stock.cutting.shapes import CutPlan
from workshop.stock.offers import BlankStock, Offer


class ItemOut(Schema):
    """A piece in the drawer, as it stands, in words and in figures; ``group`` is the stock that it is cut with."""

    id: int
    number: int
    called: str
    name: str
    kind: str
    kind_title: str
    metal: str
    metal_title: str
    family: str
    title: str
    profile: str
    outline: Points
    counted: str
    state: str
    poured: bool
    solder: str
    lot: str
    place: str
    price: str
    owner: str
    job_id: int | None
    job_name: str
    from_id: int | None
    from_called: str
    length_mm: float | None
    width_mm: float | None
    thickness_mm: float | None
    length_text: str
    mass_g: float
    moves: int
    version: int
    group: str


class MoveOut(Schema):
    """One movement, as the history tells it."""

    nth: int
    kind: str
    title: str
    length_text: str
    mass_g: float
    job_id: int | None
    job_name: str
    blank: str
    other_id: int | None
    other: str
    note: str
    batch: str
    may_go_back: bool
    at: datetime
    by: str


class Moves(Schema):
    """A page of the movements of a piece, and how many there are in all."""

    items: list[MoveOut]
    count: int


class OneItem(ItemOut):
    """A piece with its movements, the newest first."""

    movements: list[MoveOut]


class Drawer(Schema):
    """Some pieces of the drawer and how many there are in all; ``ever`` is false where there never was one."""

    items: list[ItemOut]
    count: int
    ever: bool


class WantedBlank(Schema):
    """A blank that a job wants cut."""

    key: str
    job_id: int
    job_name: str
    title: str
    due: datetime | None
    length_text: str
    count: int
    why: str


class GroupOut(Schema):
    """Stock of one metal, section and owner: what of it there is, what is wanted from it."""

    key: str
    title: str
    metal: str
    family: str
    sheet: bool
    owner: str
    pieces: int
    length_mm: float
    length_text: str
    mass_g: float
    wanted: list[WantedBlank]
    wanted_count: int
    says: str


class WithoutStock(Schema):
    """A blank whose stock is not in the drawer, and how it could be made from what is."""

    blank: WantedBlank
    stock: BlankStock


class GroupsOut(Schema):
    """What can be cut from what: every stock that is wanted and some others, how many there are in all, and what is
    said of the rest; how many blanks no piece serves, and of how many jobs it is not worked out yet what they want.
    """

    groups: list[GroupOut]
    group_count: int
    others_say: str
    missing_count: int
    unreckoned: int


class MissingOut(Schema):
    """The blanks that no piece serves: the first of them with what would do, and how many there are.

    ``could`` says of pieces what they could do for one of them.
    """

    missing: list[WithoutStock]
    could: dict[int, str]
    missing_count: int


class PlanLine(Schema):
    """A piece of a plan: how it is called, whether its rest stays, and in words what is left of it."""

    id: str
    called: str
    stays: str


class PlanSheet(PlanLine):
    """A sheet of a plan: how long and how wide it is [mm]."""

    long_mm: float
    wide_mm: float


class ProposedOut(Schema):
    """A cut plan: what leads, its pieces by name, its blanks by key, and what is not in it and why."""

    key: str
    group: GroupOut
    plan: CutPlan
    says: list[str]
    lines: list[PlanLine]
    blanks: list[WantedBlank]
    marks: dict[str, list[str]]
    sheets: list[PlanSheet]
    told: dict[str, str]
    scribe: str
    left_out: list[WantedBlank]
    left_out_count: int
    kerf_text: str


class OffersOut(Schema):
    """Pieces that could be an insert."""

    items: list[Offer]
