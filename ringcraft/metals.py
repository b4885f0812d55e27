"""Metals by key: density, melting and annealing figures, each row of the table with its source."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Any, Literal

from ringcraft.schema import name_of
from ringcraft.tables import rows


@dataclass(frozen=True)
class Family:
    """What all alloys of a family have in common at the bench.

    ``papers`` are the finish in order, ``wide_papers`` that of a wide band; ``solders`` the grades from the highest
    flow down, where ``{colour}`` stands for the metal's own solder without its grade, and ``ladder_from``
    whether a ring of several heats begins with the highest of them or with the metal's own. ``soft`` says that it
    takes rawhide rather than steel, ``glare`` that it glows white, ``fluxed`` that it is soldered with flux and
    pickled, ``plated`` that it is usually plated in the end. ``tone`` is its colour on paper, ``dim_tone`` in the dim
    theme.
    """

    key: str
    title: str
    tone: str
    dim_tone: str
    papers: tuple[str, ...]
    wide_papers: tuple[str, ...]
    solders: tuple[str, ...]
    ladder_from: Literal["own", "highest"]
    fit_words: str
    soft: bool
    glare: bool
    fluxed: bool
    plated: bool
    source: str


@dataclass(frozen=True)
class Metal:
    """One metal or alloy. Temperatures [C], density [g/cm3], conductivity [W/(m K)], heat [J/(g K)]."""

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
    conductivity_w_mk: float
    heat_j_gk: float
    composition: dict[str, float]
    solder: str
    source: str

    @property
    def of_family(self) -> Family:
        """The family it belongs to."""
        return FAMILIES[self.family]

    def mass_g(self, volume_mm3: float) -> float:
        """Mass [g] of a volume [mm3].

        >>> METALS["fine-gold"].mass_g(1000)
        19.3
        """
        return volume_mm3 * self.density_g_cm3 / 1000


@dataclass(frozen=True)
class Solder:
    """A solder whose flow range [C] is in the table."""

    key: str
    flow_low_c: float
    flow_high_c: float
    source: str


def _family(row: dict[str, Any]) -> Family:
    lists = {name: tuple(value) for name, value in row.items() if isinstance(value, list)}
    return Family(**{**row, **lists})


FAMILIES: dict[str, Family] = {row["key"]: _family(row) for row in rows("families")}
METALS: dict[str, Metal] = {row["key"]: Metal(**row) for row in rows("metals")}
SOLDERS: dict[str, Solder] = {row["key"]: Solder(**row) for row in rows("solders")}
BLADES: dict[str, float] = {row["key"]: row["kerf_mm"] for row in rows("blades")}

MetalKey = name_of("metal", METALS, {metal.title: key for key, metal in METALS.items()})
BladeKey = name_of("saw blade", BLADES)
