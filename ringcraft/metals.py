"""Metals by key: density, melting and annealing figures, each row of the table with its source."""

from __future__ import annotations

from dataclasses import dataclass

from ringcraft.border import name_of
from ringcraft.tables import rows


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


METALS: dict[str, Metal] = {row["key"]: Metal(**row) for row in rows("metals")}
SOLDERS: dict[str, Solder] = {row["key"]: Solder(**row) for row in rows("solders")}
BLADES: dict[str, float] = {row["key"]: row["kerf_mm"] for row in rows("blades")}

MetalKey = name_of("metal", METALS, {metal.title: key for key, metal in METALS.items()})
BladeKey = name_of("saw blade", BLADES)
