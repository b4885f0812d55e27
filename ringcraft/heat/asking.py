"""A ring as it is held in the flame: how far in water, how it is rolled, what else is on it."""

from __future__ import annotations

import math
from typing import Annotated

from pydantic import BeforeValidator, Field

from ringcraft.errors import OutOfRangeError
from ringcraft.heat.flux import FluxKey
from ringcraft.heat.torch import Torches
from ringcraft.joint.asking import MOST_SEAMS, RingAtJoint, SeamSolderKey
from ringcraft.metals import METALS, MetalKey, RingMetalKey
from ringcraft.planning.own import KindKey, OwnFigures
from ringcraft.planning.solders import Celsius, OwnSolders
from ringcraft.reading import tidy
from ringcraft.schema import Degrees, Mm, SignedMm, UnitKey, read_figure, request

DEEPEST = 0.9  # of the inside diameter: beyond it the joint itself is wet
MOST_ROLL_DEG, MOST_WITH_IT_MM3 = 180.0, 20000.0
MOST_W = 5000.0  # of a torch on a ring; our own judgement


def _depth(value: object) -> float:
    percent = isinstance(value, str) and tidy(value).endswith("%")
    said = read_figure(value, ("%",), "Write 0.4 of the inside, or 40 %.", "That is no depth.") / (
        100 if percent else 1
    )
    if not 0 <= said <= DEEPEST:
        raise OutOfRangeError("", "So deep the joint itself is wet.", f"From 0 to {DEEPEST:g} of the inside.")
    return said


def _figure(value: object) -> float:
    said = read_figure(value, (), "A figure in SI units.")
    if said < 0:
        raise OutOfRangeError("", "No metal and no air has that.", "A figure in SI units, not below nought.")
    return said


def _few(value: object) -> object:
    if isinstance(value, (list, tuple)) and len(value) > MOST_SEAMS:
        raise OutOfRangeError("", "More seams than a ring has.", f"At most {MOST_SEAMS}.")
    return value


Depth = Annotated[float, BeforeValidator(_depth)]
Assumed = Annotated[float, BeforeValidator(_figure)]


@request
class HeatedSeam:
    """Another seam on the ring, ``at_mm`` along the neutral line from the joint, to the right above nought.

    ``above``: it is of a higher grade of the same series, where only the maker's sheet knows the figures.
    """

    key: Annotated[str, Field(max_length=60)]
    title: Annotated[str, Field(max_length=80)] = ""
    at_mm: SignedMm
    melts_c: Celsius | None = None
    guarded: bool = False
    above: bool = False


@request
class Assume:
    """Figures in place of the bands, for checks. SI units: conductivity [W/(m K)], density [kg/m3],
    heat [J/(kg K)], h [W/(m2 K)], power [W]; ``flame_width_mm`` of 0 is one cell.
    """

    conductivity: Assumed | None = None
    density: Assumed | None = None
    specific_heat: Assumed | None = None
    h_air: Assumed | None = None
    h_water: Assumed | None = None
    emissivity: Assumed | None = None
    flame_width_mm: Assumed | None = None
    air_c: Assumed | None = None
    power_w: Assumed | None = None

    def __post_init__(self) -> None:
        """Refuse what no equation bears."""
        for name in ("conductivity", "density", "specific_heat"):
            if getattr(self, name) == 0:
                raise OutOfRangeError(name, "This must be more than nothing.", "In SI units.")
        if self.emissivity is not None and self.emissivity > 1:
            raise OutOfRangeError("emissivity", "Nothing glows more than a black body.", "From 0 to 1.")
        if self.power_w is not None and self.power_w > MOST_W:
            raise OutOfRangeError("power_w", "No torch of a bench gives that.", f"Up to {MOST_W:.0f} W.")
        if self.air_c is not None and self.air_c > 100:
            raise OutOfRangeError("air_c", "No bench is that hot.", "Up to 100 °C.")


@request
class HeatRequest:
    """A ring in the flame, its joint above.

    ``water_share`` is how much of the inside diameter stands in water, ``roll_deg`` how far the joint is turned to
    the right, ``insert_mm`` how far two seams are apart, ``tweezers_mm`` where tweezers hold it, from the joint.
    ``stone`` is its kind, ``stone_at_mm`` where it sits, opposite the joint where nobody says; ``inlay``: it is
    inlaid all round. ``with_it_mm3`` is the metal that is heated with the ring. ``flow_c`` is where the solder flows;
    ``solder`` only names it.
    """

    metal: RingMetalKey
    ring: RingAtJoint
    water_share: Depth | None = None
    roll_deg: Degrees = 0.0
    insert_mm: Mm = 0.0
    flow_c: Celsius
    seams: Annotated[tuple[HeatedSeam, ...], BeforeValidator(_few)] = ()
    tweezers_mm: SignedMm | None = None
    stone: KindKey | None = None
    stone_at_mm: SignedMm | None = None
    inlay: bool = False
    with_it_mm3: Annotated[float, Field(ge=0, le=MOST_WITH_IT_MM3)] = 0.0
    solder: SeamSolderKey | None = None
    flux: FluxKey | None = None
    against: tuple[MetalKey, ...] | None = None
    torches: Torches = ()
    assume: Assume | None = None
    solders: OwnSolders = ()
    own: OwnFigures = OwnFigures()
    units: UnitKey = "mm"

    def __post_init__(self) -> None:
        """Refuse what cannot be held so."""
        if not abs(self.roll_deg) <= MOST_ROLL_DEG:
            raise OutOfRangeError("roll_deg", "That is more than half a turn.", f"Up to {MOST_ROLL_DEG:g} degrees.")
        if self.against is not None and len(self.against) > len(METALS):
            raise OutOfRangeError("against", "More metals than there are.", "Each once.")
        round_mm = math.pi * (self.ring.inside_diameter_mm + self.ring.stock.thickness_mm)
        if self.insert_mm > round_mm / 2:
            raise OutOfRangeError(
                "insert_mm", "That is more than half of the ring.", "At most {half:.1f mm}.", half=round_mm / 2
            )
        for name in ("tweezers_mm", "stone_at_mm"):
            place = getattr(self, name)
            if place is not None and abs(place) > round_mm / 2:
                raise OutOfRangeError(
                    name, "Further than the other side of the ring.", "At most {half:.1f mm}.", half=round_mm / 2
                )
        for n, seam in enumerate(self.seams):
            if abs(seam.at_mm) > round_mm / 2 + 1:
                raise OutOfRangeError(
                    f"seams.{n}.at_mm", "Further than the other side of the ring.", "At most {half:.1f mm}.",
                    half=round_mm / 2,
                )  # fmt: skip
