"""A shop's torches: the largest piece that each has flowed or melted, and what an assembly needs beside it."""

from __future__ import annotations

import math
import re
from collections.abc import Sequence
from dataclasses import dataclass
from typing import Annotated, Literal

import numpy as np
from numpy.typing import NDArray
from pydantic import BeforeValidator, Field

from ringcraft.errors import OutOfRangeError, UnreadableError
from ringcraft.heat.bands import BANDS, Band, band_of, heat_of, spread_over
from ringcraft.heat.model import KELVIN, SIGMA_W_M2K4
from ringcraft.metals import METALS, SOLDERS, Metal, MetalKey
from ringcraft.reading import entries, tidy
from ringcraft.schema import read_figure, request

#: Heat of fusion of the elements [J/g]; physics handbook values, checked against a reference library in the tests.
FUSION_J_G = {"Ag": 104.8, "Au": 63.7, "Cu": 208.7, "Pt": 113.6, "Pd": 157.3, "Zn": 112.0, "Ni": 298.0, "Sn": 59.2}
OTHER_FUSION_J_G = 150.0  # of what little else is in an alloy; our own judgement
OVER_C = 30.0  # above liquidus: nobody pours metal that is only just molten; common practice
AREA_SHAPE = 6.0  # surface of a lump over volume^(2/3): a ball has 4.84, a cube 6
RING_SHAPE = 14.0  # the same of a ring of usual wire; a straight bar bent round has no less
SECONDS = 60.0  # in which a piece is brought up; the same for all that is compared; our own judgement
USUAL_FLOW_C = 750.0  # where nobody knows where a solder flows; our own judgement
MOST_TORCHES, HEAVIEST_G = 20, 2000.0
Done = Literal["flowed", "melted"]
Array = NDArray[np.float64]


def _grams(value: object) -> float:
    value = read_figure(value, ("g",), "In grams, such as 12.", "That is no mass.")
    if not 0.1 <= value <= HEAVIEST_G:
        raise OutOfRangeError(
            "", f"No torch of a bench shows itself on {value:g} g.", f"From 0.1 to {HEAVIEST_G:g} g."
        )
    return value


Grams = Annotated[float, BeforeValidator(_grams)]


@request
class Torch:
    """A torch by what it has done: the largest mass [g] of a metal that it soldered, or melted."""

    title: Annotated[str, Field(max_length=60)]
    done: Done
    metal: MetalKey
    mass_g: Grams


ENTRY = re.compile(r"(?P<title>.{1,60}?):? (?P<done>flowed|melted) (?P<metal>.+?) (?P<mass>\d+(?:[.,]\d+)?) ?g?")


def read_torches(text: str) -> list[dict[str, object]]:
    """A shop's torches as typed, apart by semicolons or lines: name, flowed or melted, metal, grams.

    >>> read_torches("small torch: flowed sterling 8")[0]["mass_g"]
    '8'
    """
    titles = {tidy(one.title): key for key, one in METALS.items()}
    out: list[dict[str, object]] = []
    for said in map(tidy, entries(text)):
        found = ENTRY.fullmatch(said)
        if not found:
            raise UnreadableError(
                "", f"“{said[:40]}” is not a torch with what it did.", "Write: small torch: flowed sterling 8."
            )
        metal = found["metal"]
        out.append(
            {
                "title": found["title"].strip(": "),
                "done": found["done"],
                "metal": titles.get(metal, metal),
                "mass_g": found["mass"].replace(",", "."),
            }
        )
    return out


def _listed(value: object) -> object:
    if isinstance(value, str):
        value = read_torches(value)
    if isinstance(value, (list, tuple)) and len(value) > MOST_TORCHES:
        raise OutOfRangeError("", "More torches than a bench has.", f"At most {MOST_TORCHES}.")
    return value


Torches = Annotated[tuple[Torch, ...], BeforeValidator(_listed)]


def fusion_j_g(metal: Metal) -> float:
    """The heat of fusion of an alloy [J/g], by the rule of mixtures."""
    return math.fsum(
        share * FUSION_J_G.get(element, OTHER_FUSION_J_G) for element, share in metal.composition.items()
    )


def need_w(metal: Metal, mass_g: float, to_c: float, shape: float, molten: bool = False) -> Array:
    """What a piece needs [W] in all cases: its heat in the time that all are given, and what its surface loses at it.

    ``shape`` is its surface over volume^(2/3). Air and radiation are those of the bands.
    """
    volume_m3 = mass_g / metal.density_g_cm3 * 1e-6
    rise = to_c - 25.0
    joules = heat_of(metal) * volume_m3 * rise + (fusion_j_g(metal) * mass_g if molten else 0.0)
    surface = shape * volume_m3 ** (2 / 3)
    h, glows = (spread_over(name, BANDS[name]) for name in ("h_air_w_m2k", "emissivity"))
    lost = h * rise + glows * SIGMA_W_M2K4 * ((to_c + KELVIN) ** 4 - (25 + KELVIN) ** 4)
    out: Array = joules / SECONDS + lost * surface
    return out


def done_w(torch: Torch) -> Array:
    """What a torch has shown that it gives [W], in all cases."""
    metal = METALS[torch.metal]
    if torch.done == "melted":
        return need_w(metal, torch.mass_g, metal.liquidus_c + OVER_C, AREA_SHAPE, molten=True)
    return need_w(metal, torch.mass_g, SOLDERS[metal.solder].flows_c or USUAL_FLOW_C, RING_SHAPE)


@dataclass(frozen=True)
class TorchView:
    """What an assembly needs beside what a torch has done: a ratio with its band, and what follows."""

    title: str
    done: str
    times: Band
    enough: Literal["yes", "unsure", "no"]
    says: str


def torch_views(
    torches: Sequence[Torch], metal: Metal, mass_g: float, flow_c: float, against_dry: Array | float = 1.0
) -> tuple[TorchView, ...]:
    """Each torch against what this assembly needs, the strongest first; the best record of a torch holds.

    ``against_dry`` is how much more than dry its set-up takes, in all cases.
    """
    needed = need_w(metal, mass_g, flow_c, RING_SHAPE) * against_dry
    best: dict[str, tuple[Torch, Array]] = {}
    for torch in torches:
        gives = done_w(torch)
        if torch.title not in best or float(np.median(gives)) > float(np.median(best[torch.title][1])):
            best[torch.title] = (torch, gives)
    views = [view_of(torch, band_of(needed / gives)) for torch, gives in best.values()]
    views.sort(key=lambda one: one.times.mid)
    return tuple(views)


def view_of(torch: Torch, times: Band) -> TorchView:
    """A torch against how many times what it has done is asked of it."""
    did = f"{torch.done} {torch.mass_g:g} g of {METALS[torch.metal].title}"
    if times.high <= 1:
        return TorchView(torch.title, did, times, "yes", "it has done as much as this asks, or more")
    if times.low > 1:
        much = f"{times.mid:.1f} times what it has done"
        return TorchView(
            torch.title, did, times, "no", f"{much}: warm the whole with a second torch, or take another"
        )
    return TorchView(
        torch.title, did, times, "unsure", "about what it has done: try the flame on all of it, dry, first"
    )
