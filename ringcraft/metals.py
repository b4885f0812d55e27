"""Metals by key: density, melting and annealing figures, each row of the table with its source."""

from __future__ import annotations

from collections.abc import Iterator, Mapping
from dataclasses import dataclass
from typing import Any, Literal

from ringcraft.schema import name_of
from ringcraft.tables import rows


@dataclass(frozen=True)
class Family:
    """What all alloys of a family have in common at the bench.

    ``papers`` are the finish in order, ``wide_papers`` that of a wide band; ``ladder_from`` says whether a ring of
    several heats begins with the highest solder of its series or with the metal's own. ``strain_limit`` [share] is
    how far its most stretched fibre may go between two anneals, ``binding`` what holds it in the fire.
    ``fit_mm`` is the widest gap [mm] of a joint that is soldered, ``flame`` what soot and oxygen do to it.
    ``soft`` says that it takes rawhide rather than steel, ``glare`` that it glows white, ``fluxed`` that it is
    soldered with flux and pickled, ``plated`` that it is usually plated in the end. ``precious`` is what its
    fineness is told by, empty where it has none. ``tone`` is its colour on paper, ``dim_tone`` in the dim theme.
    """

    key: str
    title: str
    tone: str
    dim_tone: str
    papers: tuple[str, ...]
    wide_papers: tuple[str, ...]
    ladder_from: Literal["own", "highest"]
    strain_limit: float
    binding: str
    fit_words: str
    flame: str
    fit_mm: float
    soft: bool
    glare: bool
    fluxed: bool
    plated: bool
    precious: str
    source: str


@dataclass(frozen=True)
class Quench:
    """How a metal is cooled: what the bench does, and what is said after annealing and after soldering."""

    key: str
    op: Literal["quench", "cool"]
    annealed: str
    soldered: str
    source: str


Band = tuple[float, float]
CONDUCTS_W_MK = 200.0  # from here a ring must be heated as a whole; our own reading of the craft


@dataclass(frozen=True)
class Metal:
    """One metal or alloy. Temperatures [C], density [g/cm3], conductivity [W/(m K)], heat [J/(g K)].

    Conductivity is a band, at room temperature and at working heat; heat is one from the first to the second.
    ``oxidises`` says whether the torch darkens it, ``brittle`` that it breaks under a blow.
    """

    key: str
    title: str
    family: str
    density_g_cm3: float
    solidus_c: float
    liquidus_c: float
    anneal_low_c: float
    anneal_high_c: float
    anneal_look: str
    quench: str
    oxidises: bool
    conductivity_w_mk: Band
    conductivity_hot_w_mk: Band
    heat_j_gk: Band
    composition: dict[str, float]
    solder: str
    source: str
    brittle: bool = False

    @property
    def of_family(self) -> Family:
        """The family it belongs to."""
        return FAMILIES[self.family]

    @property
    def needs_oxygen(self) -> bool:
        """Whether it is melted with oxygen, in a crucible made for it: it holds platinum or palladium."""
        return any(self.composition.get(one) for one in ("Pt", "Pd"))

    @property
    def fineness(self) -> float | None:
        """How fine it is, in thousandths; None for what has no precious metal."""
        precious = self.of_family.precious
        return self.composition.get(precious, 0.0) * 1000 if precious else None

    @property
    def is_known(self) -> bool:
        """Whether anybody knows what it is: a ring that came in is tested first."""
        return self.key != UNKNOWN_METAL

    @property
    def conducts(self) -> bool:
        """Whether heat runs along it so fast that all of a ring must come up together."""
        return self.conductivity_hot_w_mk[0] >= CONDUCTS_W_MK

    @property
    def quenching(self) -> Quench:
        """How it is cooled."""
        return QUENCHES[self.quench]

    def mass_g(self, volume_mm3: float) -> float:
        """Mass [g] of a volume [mm3].

        >>> METALS["fine-gold"].mass_g(1000)
        19.3
        """
        return volume_mm3 * self.density_g_cm3 / 1000


@dataclass(frozen=True)
class Solder:
    """One grade of a series: ``rank`` from 0 for the highest flow down; where it begins to melt and where it flows
    [C], None where only the maker's sheet knows. ``density_g_cm3`` is None where nobody knows what it is.
    """

    key: str
    title: str
    series: str
    rank: int
    melts_c: float | None
    flows_c: float | None
    source: str
    form: str = "chips"
    density_g_cm3: float | None = None

    def stays_below(self, earlier: Solder) -> bool:
        """Whether it can be flowed beside a seam of ``earlier``: a lower grade, or that one melts above its flow."""
        if earlier.series == self.series:
            return earlier.rank < self.rank
        return earlier.melts_c is not None and self.flows_c is not None and earlier.melts_c > self.flows_c

    @property
    def flow(self) -> str:
        """Where it melts and flows, in words; empty where only the maker's sheet knows."""
        if self.melts_c is None or self.flows_c is None:
            return ""
        return f"{self.melts_c:.0f} to {self.flows_c:.0f}"


def _family(row: dict[str, Any]) -> Family:
    lists = {name: tuple(value) for name, value in row.items() if isinstance(value, list)}
    return Family(**{**row, **lists})


_BANDS = ("conductivity_w_mk", "conductivity_hot_w_mk", "heat_j_gk")


def _metal(row: dict[str, Any]) -> Metal:
    bands = {name: (row[name][0], row[name][1]) for name in _BANDS}
    return Metal(**{**row, **bands})


def _solders() -> Iterator[Solder]:
    for row in rows("solders", "series"):
        unknown = (None,) * len(row["grades"])
        columns = (row["grades"], *(row.get(name, unknown) for name in ("melts_c", "flows_c", "density_g_cm3")))
        for rank, (grade, melts, flows, density) in enumerate(zip(*columns, strict=True)):
            yield Solder(
                f"{row['key']}-{grade}",
                f"{row['title']} {grade}",
                row["key"],
                rank,
                melts,
                flows,
                row["source"],
                density_g_cm3=density,
            )


def solder_key(text: str) -> str:
    """The key of a solder as it was spelt before keys had hyphens ("14k yellow hard"), or as it is.

    >>> solder_key("14k yellow hard"), solder_key("silver-hard")
    ('gold-14k-yellow-hard', 'silver-hard')
    """
    known = {solder.title: key for key, solder in SOLDERS.items()}
    return known.get(text, text.replace(" ", "-"))


@dataclass(frozen=True)
class Fuel:
    """A gas of a bench torch: how hot its flame burns at most [C], and which families are soldered with it."""

    key: str
    title: str
    flame_c: float
    reaches: tuple[str, ...]
    source: str


FUELS: dict[str, Fuel] = {row["key"]: Fuel(**{**row, "reaches": tuple(row["reaches"])}) for row in rows("fuels")}


def fuels_for(family: str) -> tuple[Fuel, ...]:
    """The gases that a family of metals is soldered with, the coolest first."""
    return tuple(sorted((one for one in FUELS.values() if family in one.reaches), key=lambda one: one.flame_c))


#: A metal that was not tested yet.
UNKNOWN_METAL = "unknown"
#: What an old seam was made with, where nobody knows.
UNKNOWN_SOLDER = "unknown-solder"


def _ring_metal(row: dict[str, Any]) -> Metal:
    """A metal that is only resized, or refused: what the bench needs of it, on the careful side."""
    bars = {"conductivity_w_mk": (20.0, 430.0), "conductivity_hot_w_mk": (20.0, 430.0), "heat_j_gk": (0.12, 0.6)}
    return Metal(
        key=row["key"],
        title=row["title"],
        family="other",
        density_g_cm3=row["density_g_cm3"],
        solidus_c=row["solidus_c"],
        liquidus_c=row["liquidus_c"],
        anneal_low_c=0.0,
        anneal_high_c=0.0,
        anneal_look="not at all before it is known",
        quench="in-air",
        oxidises=True,
        composition={},
        solder=UNKNOWN_SOLDER,
        source=row["source"],
        brittle=row["brittle"],
        **bars,
    )


FAMILIES: dict[str, Family] = {row["key"]: _family(row) for row in rows("families")}
QUENCHES: dict[str, Quench] = {row["key"]: Quench(**row) for row in rows("quenches")}
METALS: dict[str, Metal] = {row["key"]: _metal(row) for row in rows("metals")}
#: Metals of rings that come in and that nothing is made from here, and why none of them is sized, where that is so.
RING_METALS: dict[str, Metal] = {row["key"]: _ring_metal(row) for row in rows("ring-metals")}
BARRED: dict[str, str] = {row["key"]: row["barred"] for row in rows("ring-metals") if row["barred"]}
#: Every metal that stands on a bench.
ALL_METALS: dict[str, Metal] = METALS | RING_METALS
SOLDERS: dict[str, Solder] = {solder.key: solder for solder in _solders()}
BLADES: dict[str, float] = {row["key"]: row["kerf_mm"] for row in rows("blades")}

MetalKey = name_of("metal", METALS, {metal.title: key for key, metal in METALS.items()})
#: Solders by key: ours, with the shop's own laid over them.
SolderBook = Mapping[str, Solder]
FORMS = {"chips": "chips", "sheet": "sheet", "wire": "wire", "paste": "paste"}
SolderKey = name_of("solder", {key: one for key, one in SOLDERS.items() if key != UNKNOWN_SOLDER})
FormKey = name_of("form of solder", FORMS)
RingMetalKey = name_of("metal", ALL_METALS, {metal.title: key for key, metal in ALL_METALS.items()})
BladeKey = name_of("saw blade", BLADES)
