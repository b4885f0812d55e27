"""The facts of a case that a route's lines are filled with, each a typed name.

A table's ``{name}`` is a text or a length here, its ``when`` a yes or no, its ``expect`` a figure to hold a measure
against. The names of every table are checked against these classes when the styles are imported
(:func:`ringcraft.routes.check_route`), so a slip of the pen never reaches a bench.
"""

from __future__ import annotations

from collections.abc import Callable, Mapping
from dataclasses import dataclass, field, fields, replace
from functools import cached_property

from ringcraft.planning.own_steps import OwnStep
from ringcraft.units import Length, LengthFormat


@dataclass(frozen=True)
class Expected:
    """A figure [mm inside, or g] that a measure is held against, with its text."""

    value: float
    text: str


#: Text, a yes or no, a length, a figure to hold a measure against, a number that a deed is done with, or a list.
Fact = str | bool | Length | Expected | float | int | tuple[str, ...] | tuple[float, float]


@dataclass(frozen=True)
class RouteFacts:
    """Facts of one kind, each a field: what a style knows beside every ring's own derives from this."""

    @classmethod
    def names(cls) -> Mapping[str, str]:
        """The declared names with their types as written."""
        return {one.name: str(one.type) for one in fields(cls)}

    def given(self) -> dict[str, Fact]:
        """The facts by name; what is None is left to the ring's own."""
        values = {one.name: getattr(self, one.name) for one in fields(self)}
        return {name: value for name, value in values.items() if value is not None}


@dataclass(frozen=True)
class BoughtFacts(RouteFacts):
    """Stock as it comes from the drawer: what is read on it before anything is done to it."""

    stock_profile: str
    bought: Length
    bought_width: Length
    width_words: str


@dataclass(frozen=True)
class RingFacts(RouteFacts):
    """Facts of the whole ring: its metal, its settings, its size."""

    metal: str
    mm: str
    blade: str
    kerf: Length
    saw_times: str
    file_times: str
    trim: Length
    chip: str
    roundness: Length
    anneal_look: str
    anneal_range: str
    quench: str
    quench_soldered: str
    cool_op: str
    quench_key: str
    fit_words: str
    flame_words: str
    fahrenheit_too: bool
    slumps: bool
    binding: str
    target: str
    closes: str
    reads: str
    size_title: str
    size_text: str
    size_words: str
    size_by: str
    size_mm: float
    saw_mm: float
    saw_passes: int
    file_mm: float
    file_passes: int
    own_mm: float
    own_words: str
    glare: bool
    sawn_joint: bool
    filed_joint: bool
    untouched_joint: bool
    oxidises: bool
    own_rule: bool
    to_size: bool
    not_to_size: bool
    kept_large: bool
    fluxed: bool
    unfluxed: bool
    conducts: bool
    holds_heat: bool
    soft: bool
    wide: bool
    white_gold: bool
    at_wheel: bool
    tumbles: bool
    tumble_min: float
    tumble_words: str
    darkens: bool
    dark_words: str
    bright_words: str
    rubs_back: bool
    rhodium: bool
    rhodium_words: str
    stops_off: bool
    stop_words: str
    spared_faces: tuple[str, ...]
    dark_hollows: bool


@dataclass(frozen=True)
class BlankFacts(BoughtFacts):
    """Facts of one piece to cut; of the first of them where a step is about the whole ring."""

    blank: str
    piece: str
    stock: str
    unit: str
    needs: Length
    cut_mm: float
    trim_mm: float
    trimmed: bool
    kept_mm: float
    width_mm: float
    neutral_mm: float
    bend_strain: float
    thickness: Length
    cut: Length
    file_back: Length
    outside: Length
    inside: Length
    strain: str
    count_words: str
    waits: str
    sheared_blank: bool
    sawn_blank: bool
    thin: bool
    stiff: bool
    several: bool


@dataclass(frozen=True)
class JointFacts(RouteFacts):
    """Facts of one joint; of the first of them where a step names none."""

    joint: str
    joint_key: str
    solder: str
    solder_key: str
    flow_words: str
    flow_figure: str
    flow_unit: str
    chips: str
    lay: str
    lay_words: str
    chips_n: int
    guarded: bool
    at_mm: float = 0.0


@dataclass(frozen=True)
class PaperFacts(RouteFacts):
    """Facts of one paper or compound of the finish."""

    paper: str
    paper_key: str
    paper_before: str
    later_paper: bool
    first_plain: bool
    paper_aside: bool
    outside_too: bool
    touched: bool
    is_paper: bool
    is_compound: bool
    by_faces: bool
    first_by_faces: bool
    faces_words: str
    in_inside: bool
    in_edges: bool


@dataclass(frozen=True)
class StageFacts(RouteFacts):
    """Facts of one stage of rolling: how far it goes before the metal must be annealed."""

    stage_t: Length
    stage_w: Length
    stage_length: Length
    stage_grows: float
    stage_strain: float
    reduction: str
    again: bool
    more_follow: bool


@dataclass(frozen=True)
class HereFacts(RouteFacts):
    """What the virtual bench says of the piece at a step: what a measure there is held against."""

    size_here: Expected
    mass_here: Expected
    length_here: Expected
    gap_here: Expected


@dataclass(frozen=True)
class StyleFacts(RouteFacts):
    """What a style knows beside every ring's own; a style with more derives its own from this."""


@dataclass(frozen=True)
class Facts:
    """All facts of a case by name, with those of each blank and of each joint, which lie over the ring's own.

    ``roles`` says which blanks a role has, in order; ``papers`` are the papers and compounds of the finish, ``told``
    tells an inside diameter [mm] on the finger's scale. ``textured`` are the faces that see no paper,
    ``schedules`` with what each face is worked where that was asked for, grit by grit or face by face; ``stages``
    those of rolling; ``minutes`` the shop's own of hands and waiting, by step; ``over`` is what lies over the ring's
    own facts for one blank. ``aside`` are pieces that are made beside the ring and never joined to it;
    ``own_steps`` the shop's own changes of the ring's route.
    """

    values: Mapping[str, Fact]
    papers: tuple[str, ...]
    told: Callable[[float], str]
    length: LengthFormat
    minutes: Mapping[str, tuple[float, float | None]] = field(default_factory=dict)
    textured: tuple[str, ...] = ()
    schedules: Mapping[str, tuple[str, ...]] = field(default_factory=dict)
    finish_by: str = "grit"
    stages: tuple[StageFacts, ...] = ()
    over: Mapping[str, Mapping[str, Fact]] = field(default_factory=dict)
    blanks: Mapping[str, BlankFacts] = field(default_factory=dict)
    joints: Mapping[str, JointFacts] = field(default_factory=dict)
    roles: Mapping[str, tuple[str, ...]] = field(default_factory=dict)
    aside: tuple[str, ...] = ()
    own_steps: tuple[OwnStep, ...] = ()

    def on(self, blank: str = "", joint: str = "") -> Facts:
        """These facts with those of a blank or heat and of a joint over them; ``own``: the joint called as it is."""
        if not blank and not joint:
            return self
        own = self.blanks[blank].given() if blank in self.blanks else {}
        over = {**own, **self.over.get(blank, {})} if blank else {}
        seam = self.joints[blank if joint == "own" else joint].given() if joint else {}
        return self.with_(over | seam)

    def with_(self, more: Mapping[str, Fact]) -> Facts:
        """These facts with more over them."""
        return replace(self, values={**self.values, **more})

    def holds(self, when: str | None) -> bool:
        """Whether a condition holds; no condition always does."""
        return True if when is None else self.values[when] is True

    @cached_property
    def words(self) -> Mapping[str, str | Length]:
        """The facts that lines are filled with."""
        return {name: value for name, value in self.values.items() if isinstance(value, (str, Length))}

    @cached_property
    def bare(self) -> Mapping[str, str]:
        """The same with each length as the figure alone, for where its unit stands beside it."""
        return {name: word.bare if isinstance(word, Length) else word for name, word in self.words.items()}

    def number(self, name: str) -> float:
        """The number that a deed is done with: a length in mm."""
        value = self.values[name]
        if isinstance(value, Length):
            return value.mm
        if isinstance(value, (bool, str, Expected, tuple)):
            raise TypeError(f"{name} is no number")
        return value

    def listed(self, name: str) -> tuple[str, ...] | tuple[float, float] | None:
        """A list that a deed is done with: some stones by their names, an arc; None for an arc that is not known."""
        value = self.values.get(name)
        if value is not None and not isinstance(value, tuple):
            raise TypeError(f"{name} is no list")
        return value

    def expected(self, name: str) -> Expected:
        """The figure that a measure is held against."""
        value = self.values[name]
        if isinstance(value, Length):
            return Expected(value.mm, str(value))
        if isinstance(value, Expected):
            return value
        raise TypeError(f"{name} is no figure")
