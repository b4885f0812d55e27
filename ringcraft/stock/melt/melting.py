"""How much scrap some blanks take, what there is of it, what a mould holds, and whether a torch melts it."""

from __future__ import annotations

import math
from dataclasses import dataclass
from typing import Annotated, Any

from pydantic import BeforeValidator, Field, TypeAdapter

from ringcraft.errors import OutOfRangeError, UnreadableError
from ringcraft.heat.bands import band_of
from ringcraft.heat.torch import AREA_SHAPE, OVER_C, Torches, TorchView, done_w, need_w, view_of
from ringcraft.metals import METALS, Metal, MetalKey
from ringcraft.planning.own import OwnFigures
from ringcraft.schema import IN_OWN_UNITS, PositiveMm, Share, UnitKey, Whole, read_figure, read_request, request
from ringcraft.sections import Stock, section_of
from ringcraft.stock.melt.mixing import HEAVIEST_G, Refused, Scrap, refusal
from ringcraft.units import Length

LOSS, TRIM = 0.02, 0.08  # common practice: a little burns and sticks; a sprue, two ends and a skin are cut off
MOST_ENTRIES, LARGEST_MM3 = 60, 500_000.0
MOST_LOSS = 0.5
_GRAM = 0.005
LEAST_TOLD_G = 0.05


def _volume(value: object) -> float:
    said = read_figure(value, ("mm3", "mm³"), "In cubic millimetres, such as 450.", "That is no volume.")
    if not 0 < said <= LARGEST_MM3:
        raise OutOfRangeError("", "That is no blank of a ring.", f"More than nothing, at most {LARGEST_MM3:.0f} mm³.")
    return said


def _few(value: object) -> object:
    if isinstance(value, (list, tuple)) and len(value) > MOST_ENTRIES:
        raise OutOfRangeError("", "More than one melt.", f"At most {MOST_ENTRIES}.")
    return value


Volume = Annotated[float, BeforeValidator(_volume)]


@request
class MeltBlank:
    """A blank, or a bar, that is wanted from the melt: its volume [mm3], or its section and length [mm]."""

    volume_mm3: Volume | None = None
    stock: Stock | None = None
    length_mm: PositiveMm | None = None
    title: Annotated[str, Field(max_length=120)] = ""
    count: Whole = 1

    def __post_init__(self) -> None:
        """Refuse what has no volume; raises CraftError at its field."""
        if self.volume_mm3 is None and (self.stock is None or self.length_mm is None):
            raise UnreadableError("volume_mm3", "How much of it?", "Its volume, or its section and its length.")
        if self.stock is not None:
            section_of(self.stock)
        if self.mm3 > LARGEST_MM3:
            raise OutOfRangeError("length_mm", "That is no blank of a ring.", f"At most {LARGEST_MM3:.0f} mm³.")

    @property
    def mm3(self) -> float:
        """Its volume [mm3]."""
        if self.volume_mm3 is not None:
            return self.volume_mm3
        assert self.stock is not None
        return section_of(self.stock).area_mm2 * (self.length_mm or 0.0)


@request
class Mould:
    """A mould for a bar or a plate: width, depth and length of its groove [mm]."""

    width_mm: PositiveMm
    depth_mm: PositiveMm
    length_mm: PositiveMm

    @property
    def mm3(self) -> float:
        """What it holds [mm3]."""
        return self.width_mm * self.depth_mm * self.length_mm


@request
class MeltRequest:
    """Blanks to be made from scrap. ``loss`` burns or sticks, ``trim_and_sprue`` is cut off, as shares.

    ``have`` is the scrap at hand, ``owner`` whose metal it is to be; ``moulds`` are filled one after the other.
    """

    metal: MetalKey
    blanks: Annotated[tuple[MeltBlank, ...], BeforeValidator(_few)]
    loss: Share = LOSS
    trim_and_sprue: Share = TRIM
    have: Annotated[tuple[Scrap, ...], BeforeValidator(_few)] = ()
    owner: Annotated[str, Field(max_length=120)] = ""
    moulds: Annotated[tuple[Mould, ...], BeforeValidator(_few)] = ()
    torches: Torches = ()
    own: OwnFigures = OwnFigures()
    units: UnitKey = "mm"

    def __post_init__(self) -> None:
        """Refuse what is no melt; raises CraftError at its field."""
        if not self.blanks:
            raise UnreadableError("blanks", "Nothing is to be made from it yet.", "One blank at least.")
        if self.loss > MOST_LOSS:
            raise OutOfRangeError("loss", "Half of it does not burn.", "About 2 %.")
        for place, mould in enumerate(self.moulds):
            if mould.mm3 > LARGEST_MM3:
                raise OutOfRangeError(f"moulds.{place}.length_mm", "That is no mould of a bench.", "In millimetres.")


@dataclass(frozen=True)
class Ingot:
    """What a mould gives: how far it is filled [mm], the mass poured [g], and what runs over [g]."""

    length_mm: float
    mass_g: float
    over_g: float
    says: str


@dataclass(frozen=True)
class MeltPlan:
    """A melt [g]. ``mass_needed_g`` goes into the crucible, ``poured_g`` into the mould, ``blanks_g`` stays.

    ``refused`` is scrap that does not go in, by its place, and why; ``lump_mm`` is a ball of it, for the eye.
    """

    mass_needed_g: float
    mass_have_g: float
    short_g: float
    poured_g: float
    blanks_g: float
    lost_g: float
    cut_off_g: float
    lump_mm: float
    refused: tuple[Refused, ...]
    ingots: tuple[Ingot, ...]
    torches: tuple[TorchView, ...]
    melts_c: float
    says: tuple[str, ...]
    cautions: tuple[str, ...]


AnyMelt = Annotated[MeltRequest, IN_OWN_UNITS]
_READER: TypeAdapter[Any] = TypeAdapter(AnyMelt)


def melt(data: object) -> MeltPlan:
    """How much scrap some blanks take, from plain JSON data; raises BadRequest."""
    return answer_melt(read_request(_READER, data))


def needed_g(metal: Metal, volume_mm3: float, loss: float = LOSS, trim: float = TRIM) -> float:
    """The scrap [g] that a volume of finished blanks takes: V x density x (1 + trim) / (1 - loss).

    >>> round(needed_g(METALS["fine-gold"], 1000, loss=0, trim=0), 3)
    19.3
    """
    return metal.mass_g(volume_mm3) * (1 + trim) / (1 - loss)


def answer_melt(asked: MeltRequest) -> MeltPlan:
    """How much scrap some blanks take."""
    metal = asked.own.metal(METALS[asked.metal])
    volume = math.fsum(one.mm3 * one.count for one in asked.blanks)
    blanks = metal.mass_g(volume)
    needed = needed_g(metal, volume, asked.loss, asked.trim_and_sprue)
    whys = [refusal(asked.metal, asked.owner, one) for one in asked.have]
    have = math.fsum(one.mass_g for one, why in zip(asked.have, whys, strict=True) if not why)
    poured = needed * (1 - asked.loss)
    ingots = tuple(_ingots(asked, metal, poured))
    return MeltPlan(
        mass_needed_g=needed,
        mass_have_g=have,
        short_g=max(0.0, needed - have),
        poured_g=poured,
        blanks_g=blanks,
        lost_g=needed * asked.loss,
        cut_off_g=poured - blanks,
        lump_mm=2 * (3 * poured / metal.density_g_cm3 * 1000 / (4 * math.pi)) ** (1 / 3),
        refused=tuple(Refused(at, why) for at, why in enumerate(whys) if why),
        ingots=ingots,
        torches=melting_torches(asked.torches, metal, needed) if needed <= HEAVIEST_G else (),
        melts_c=metal.liquidus_c,
        says=tuple(_says(asked, metal, needed, have, poured, ingots)),
        cautions=_cautions(metal),
    )


def _ingots(asked: MeltRequest, metal: Metal, poured: float) -> list[Ingot]:
    """The moulds filled one after the other; what the last does not hold runs over, to the scrap."""
    out, left = [], poured
    for place, mould in enumerate(asked.moulds):
        holds = metal.mass_g(mould.mm3)
        mass = min(left, holds)
        left -= mass
        over = left if place == len(asked.moulds) - 1 else 0.0
        length = mould.length_mm * mass / holds
        said = f"{mass:.1f} g fill it to {Length(length, asked.units):.1f mm}"
        if over > _GRAM:
            said += f"; {over:.1f} g run over: they go back to the scrap"
        out.append(Ingot(length, mass, over, said))
    return out


def melting_torches(torches: Torches, metal: Metal, mass_g: float) -> tuple[TorchView, ...]:
    """Each torch against what melting so much takes: masses and skins are compared, by what each has shown."""
    asked = need_w(metal, mass_g, metal.liquidus_c + OVER_C, AREA_SHAPE, molten=True)
    views = [view_of(torch, band_of(asked / done_w(torch))) for torch in torches]
    best: dict[str, TorchView] = {}
    for view in sorted(views, key=lambda one: one.times.mid):
        best.setdefault(view.title, view)
    return tuple(best.values())


def _says(
    asked: MeltRequest, metal: Metal, needed: float, have: float, poured: float, ingots: tuple[Ingot, ...]
) -> list[str]:
    said = []
    refused = sum(bool(refusal(asked.metal, asked.owner, one)) for one in asked.have)
    if asked.have and have >= needed - _GRAM:
        stays = f"; {have - needed:.1f} g stay" if have - needed >= LEAST_TOLD_G else ""
        said.append(f"{have:.1f} g of {metal.title} at hand are enough{stays}.")
    elif asked.have:
        short = needed - have
        told = f"{short:.1f}" if short >= LEAST_TOLD_G else f"{short:.2f}"
        there = f"{have:.1f} g of {metal.title} are at hand" if have else f"no {metal.title} is at hand"
        said.append(f"{told} g short: {there}.")
    if refused:
        said.append(f"{refused} of {len(asked.have)} do not go in." if refused > 1 else "One does not go in.")
    if ingots and (short := poured - math.fsum(one.mass_g for one in ingots)) > _GRAM:
        said.append(f"The mould{'s hold' if len(ingots) > 1 else ' holds'} {short:.1f} g less than is poured.")
    said.append(f"It is molten at {metal.liquidus_c:.0f} °C; pour it a little above.")
    return said


def _cautions(metal: Metal) -> tuple[str, ...]:
    said = [
        "Eyes, hair, sleeves; a fire-safe bench. Wet crucibles, moulds, tongs make metal spit: warm them dry first. "
        "Moulds of wood or cuttlebone burn and smoke: under the hood, water by, nothing near that catches.",
        "Good ventilation; the torch's and the crucible's own sheets and local rules go before ours.",
    ]
    if metal.needs_oxygen:
        said.append(f"{metal.title} needs oxygen, a crucible made for it and dark goggles for its glare.")
    return tuple(said)
