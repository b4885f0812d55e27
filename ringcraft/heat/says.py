"""What is said of a ring in the flame: sentences made from what was worked out, each true of this very case."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass
from typing import Literal

from ringcraft.heat.asking import HeatedSeam
from ringcraft.heat.bands import Array, Band, band_of
from ringcraft.heat.picture import Worked
from ringcraft.heat.torch import TorchView
from ringcraft.joint.seams import Holds
from ringcraft.planning.joints import CLOSE_C
from ringcraft.planning.own import STONE_KINDS
from ringcraft.planning.solders import COLDEST_C
from ringcraft.tables import rows
from ringcraft.units import Length, capital
from ringcraft.vbench.thing import bears_of

NEAR_MM = 5.0  # of leg: nearer to the water a joint hardly flows; craft
DRY_K = 5.0  # below flow: less is lost in how a flame is held; our own judgement
FILM_C = 150.0  # of wet metal, from which a film of steam can keep the water off; craft
LEGS_APART = 1.15  # how much longer one leg may be before it is said; our own judgement
TWEEZERS_SHARE = 0.03  # of the heat: less is not worth a word; our own judgement
WARM = 0.35  # of the way to flow: up to there the far side is called warm; our own judgement
LATER = 1.03  # how much higher than at the flash a seat rises before it is said; our own judgement
STONE_HEAT = {row["key"]: row["heat"] for row in rows("stones")}
Tone = Literal["good", "note", "act"]


@dataclass(frozen=True)
class HeatLead:
    """What to do, in a few words, and why."""

    key: str
    title: str
    says: str


@dataclass(frozen=True)
class HeatRow:
    """One thing that follows: its figure or its name, its words with what else belongs to it."""

    key: str
    figure: str
    says: str
    note: str
    tone: Tone


@dataclass(frozen=True)
class Reached:
    """What another seam comes to, and whether it holds: yes or no only where all cases say so."""

    key: str
    title: str
    at_mm: float
    melts_c: float | None
    peak_c: Band
    holds: Holds
    guarded: bool
    above: bool
    says: str

    @property
    def is_above(self) -> bool:
        """Whether its grade alone says that it stays: no figure is known."""
        return self.above and self.melts_c is None


def told(one: Worked, mm: float, spec: str = ".1f") -> str:
    """A length [mm] as the shop writes it."""
    return f"{Length(mm, one.held.order.units):{spec}}"


def times_text(band: Band) -> str:
    """A ratio as it is read: one decimal, none from ten on."""
    return f"{band.mid:.0f}" if band.mid >= 9.95 else f"{band.mid:.1f}"


def range_text(band: Band) -> str:
    """The band of a ratio in words."""
    low, high = f"{band.low:.1f}", f"{band.high:.1f}"
    return low if low == high else f"{low} to {high}"


def leads(
    one: Worked, faces: dict[str, Band], reached: tuple[Reached, ...], torches: Sequence[TorchView] = ()
) -> HeatLead:
    """What comes first of all that could be said."""
    for found in (_too_weak(one, torches), _too_near(one), _rolled(one, faces), _seam(one, reached)):
        if found:
            return found
    return _heat(one)


def _too_weak(one: Worked, torches: Sequence[TorchView]) -> HeatLead | None:
    """Where no torch of the shop has done as much as this asks: said before anything is bound together."""
    if not torches or any(torch.enough != "no" for torch in torches):
        return None
    best = torches[0]
    says = (
        f"{best.times.mid:.1f} times what the {best.title} has done ({best.done}): warm the whole with a second torch"
    )
    when = "before anything is bound together" if one.held.order.with_it_mm3 else "before it is fluxed"
    return HeatLead("torch", "More flame first", f"{says}, or take a stronger one, {when}.")


def _too_near(one: Worked) -> HeatLead | None:
    legs = one.held.legs_mm
    if not legs or sum(legs) / 2 >= NEAR_MM:  # rolled back it would still be too near
        return None
    why = (
        f"Only {told(one, min(legs))} from the joint to the water: nearer than {told(one, NEAR_MM, 'g')} it is hard "
    )
    return HeatLead("raise", "Raise it", why + "to bring to flow, and what is wet beside it stays dry of solder.")


def _rolled(one: Worked, faces: dict[str, Band]) -> HeatLead | None:
    legs, order = one.held.legs_mm, one.held.order
    if not legs or not order.roll_deg:
        return None
    short, long = min(legs), max(legs)
    if long / short < LEGS_APART:
        return None
    side = "right" if legs[1] < legs[0] else "left"
    title = f"Roll it {abs(order.roll_deg):.0f}° back"
    way = "left" if order.roll_deg > 0 else "right"
    much = f"{long / short:.1f} times"
    near = f", only {told(one, short)}," if short < NEAR_MM else ""
    if order.insert_mm and faces[side].mid > DRY_K:
        says = (
            f"The {side} seam’s leg to the water{near} is the shorter, the other {much} as long: it stays dry while "
            f"the other flows. {abs(order.roll_deg):.0f} degrees to the {way}: straight above, both flow together."
        )
    else:
        says = (
            f"The {side} leg to the water{near} is the shorter, the other {much} as long: that side comes "
            f"up last. Roll it to the {way} until the joint stands straight above."
        )
    return HeatLead("roll", title, says)


def _seam(one: Worked, reached: tuple[Reached, ...]) -> HeatLead | None:
    at_risk = [seam for seam in reached if seam.holds != "yes" and not seam.guarded and not seam.is_above]
    if not at_risk:
        return None
    worst = min(at_risk, key=lambda seam: ("no", "unsure").index(seam.holds))
    return HeatLead("coat", f"Coat {worst.title}", f"{capital(worst.title)}: {worst.says}.")


def _heat(one: Worked) -> HeatLead:
    where = "from below or behind"
    if one.held.legs_mm:
        if one.held.conducts:
            says = (
                "The water carries it off as fast as this metal brings it: a small sharp flame, hot at once, and off."
            )
        else:
            says = (
                "This metal holds the heat at the joint: bring that up alone, both sides alike, and off at the flash."
            )
        return HeatLead("heat", "Straight above: heat it", says)
    if not one.held.metal.is_known:
        says = "Nobody knows what it is made of, nor how it carries heat: test it before the torch is lit."
        return HeatLead("test", "Test the metal first", says)
    if one.held.conducts:
        says = f"{capital(one.held.metal.title)} carries heat so well that all of it must come up together: "
        if one.held.order.stone:
            says += "the whole shank, both sides of the joint alike, the flame never on the setting."
            return HeatLead("heat-shank", "Heat all of the shank", says)
        return HeatLead("heat-all", "Heat all of it first", f"{says}{where}, then the joint.")
    far = band_of(_coolest(one))
    rest = (
        "the rest only warm" if far.mid < WARM else f"quickly: held long, even the far side comes {_share_words(far)}"
    )
    says = f"This metal can be heated locally: both sides of the joint alike, {rest}"
    return HeatLead(
        "heat-joint", "Heat the joint alone", f"{says}{'.' if far.mid < WARM else ' of the way to flow.'}"
    )


def _carries(one: Worked, band: Band) -> str:
    """Why it takes more than another metal, or less."""
    if band.low <= 1 <= band.high or abs(band.mid - 1) < 0.05:
        return "much the same"
    own = one.held.metal.title
    return f"{own} carries it off faster" if band.mid > 1 else f"{own} keeps it at the joint"


def power_rows(
    one: Worked, dry: Band, shield: Band | None, against: dict[str, Band], titles: dict[str, str]
) -> list[HeatRow]:
    """How much this set-up takes, as ratios."""
    out: list[HeatRow] = []
    if one.held.legs_mm:
        note = f"{range_text(dry)}"
        if shield:
            note += f"; {times_text(shield)} with heat-shield paste up to the same line"
        out.append(HeatRow("dry", f"{times_text(dry)} ×", "the heat of this ring dry", note, "note"))
    for key, band in against.items():
        note = f"{range_text(band)}; {_carries(one, band)}"
        out.append(
            HeatRow(f"against-{key}", f"{times_text(band)} ×", f"what {titles[key]} would take here", note, "note")
        )
    return out


def seam_words(one: Worked, seam: HeatedSeam, peak: Band) -> tuple[Holds, str]:
    """Whether a seam holds, and why."""
    at_mm, melts_c, guarded = seam.at_mm, seam.melts_c, seam.guarded
    away = f"{told(one, abs(at_mm))} away" if abs(at_mm) >= 0.5 else "right at it,"
    coat = "it is coated; keep the flame off it" if guarded else "coat it"
    if melts_c is None and seam.above:
        return (
            "unsure",
            f"{away.rstrip(',')}; of a higher grade it stays whole, how far above this flow its maker’s sheet says",
        )
    if melts_c is None and peak.high < COLDEST_C:
        return "yes", f"{away} it stays below where any solder but soft solder melts"
    if melts_c is None:
        return "unsure", f"{away.rstrip(',')}; nobody knows where it begins to melt: {coat}"
    holds: Holds = "yes" if peak.high < melts_c else "no" if peak.low >= melts_c else "unsure"
    if holds == "yes":
        room = melts_c - peak.high
        how = "well below" if room >= CLOSE_C else "just below"
        return holds, f"{away} it stays {how} where it begins to melt, {melts_c:.0f}"
    may = "opens" if holds == "no" else "may open"
    says = f"{may}: {away} it comes up with the joint, and it begins to melt at {melts_c:.0f}; {coat}"
    if one.held.conducts and melts_c < one.flow_c:
        says += ". In this metal distance alone protects nothing from a solder one grade higher"
    return holds, says


def reached_seams(one: Worked) -> tuple[Reached, ...]:
    """What every other seam comes to while the joint flows."""
    out = []
    for seam in one.held.order.seams:
        peak = band_of(one.there(seam.at_mm))
        holds, says = seam_words(one, seam, peak)
        title = seam.title or seam.key
        out.append(Reached(seam.key, title, seam.at_mm, seam.melts_c, peak, holds, seam.guarded, seam.above, says))
    return tuple(out)


@dataclass(frozen=True)
class StoneHeat:
    """What comes to the stone: in words at the flash and after it, and how far its seat has come to flow [share]."""

    at_flow: str
    after: str
    wet: bool
    share: Band | None
    later_s: Band | None


def stone_heat(one: Worked) -> StoneHeat:
    """What comes to the stone's seat, at the flash and after the flame is off."""
    held = one.held
    name = STONE_KINDS.get(held.order.stone or "", "the stone")
    if held.is_wet(held.stone_mm):
        film = water_line(one)
        boils = film.high > FILM_C
        said = "under water, seat and all"
        after = "leave it in until the metal above is dark and quiet; what it still holds runs down to the water"
        if boils:
            said += "; where the metal leaves the water it may boil a film, so water alone is no guarantee"
        return StoneHeat(said, after + _in_water(one, name), True, None, None)
    flashed = one.flashed
    air = one.ring.air_c
    way = one.flow_c - air
    share = band_of((flashed.flash_c[:, 0] - air) / way)
    peak = band_of((flashed.peak_c[:, 0] - air) / way)
    later = band_of(flashed.later_s[:, 0])
    dry = "in the open" if held.legs_mm is None else "above the water"
    at_flow = f"{name} {dry}: at the flash its seat has come {_share_words(share)} of the way to flow"
    if peak.mid > LATER * share.mid:
        when = f"some {later.mid:.0f} s" if later.mid >= 2.5 else "a second or two"
        after = f"and it goes on to {_share_words(peak)}, {when} after the flame is off"
    else:
        after = "and it rises no further to speak of: the flame off is the worst over"
    after += f"; {_borne(one, name)}"
    return StoneHeat(at_flow, after, False, share, later)


def _borne(one: Worked, name: str) -> str:
    """Whether a stone in the open bears what its edge comes to at most, held at flow until nothing changes."""
    kind = one.held.order.stone or "unknown"
    bears = bears_of(kind, one.held.order.own.bears(kind))
    high = band_of(one.there(one.held.stone_mm)).high
    if high <= bears.bare_c:
        return f"held at flow it stays within what {name} bears, even bare; no quench"
    if high <= bears.coated_c:
        return f"held at flow it passes what {name} bears bare, not what it bears under its coat; no quench"
    return f"held at flow it passes what {name} bears, coated too: {name} does not bear this torch, take it out"


def _bears(one: Worked) -> str:
    """What the stone bears, by the shop's own word or our table; empty where none is named."""
    kind = one.held.order.stone or ""
    return one.held.order.own.bears(kind) or STONE_HEAT.get(kind, "")


def _in_water(one: Worked, name: str) -> str:
    """What is said of a stone under water, by what it bears."""
    bears = _bears(one)
    if bears == "never":
        return f"; {name} is safer out: water keeps it only as long as nothing slips"
    if bears == "delicate":
        return f"; {name} stays only with long legs and seconds of flame, its risk agreed"
    return ""


def _share_words(share: Band) -> str:
    return f"{100 * share.mid:.0f} % ({100 * share.low:.0f} to {100 * share.high:.0f})"


def water_line(one: Worked) -> Band:
    """How hot the metal is just where the water begins, on the hotter side [C]."""
    held = one.held
    top = (math.pi - held.wet) * held.radius_mm
    turned = held.roll * held.radius_mm
    right, left = one.there(top - turned), one.there(-(top + turned))
    hotter = right if float(right.mean()) >= float(left.mean()) else left
    return band_of(hotter)


def other_rows(one: Worked, reached: tuple[Reached, ...], stone: StoneHeat | None) -> list[HeatRow]:
    """Seams, stone, tweezers and the metal itself."""
    out = [
        HeatRow(
            f"seam-{seam.key}",
            seam.title,
            seam.says,
            "",
            "good" if seam.holds == "yes" else "note" if seam.is_above else "act",
        )
        for seam in reached
    ]
    if stone and (one.held.order.stone or one.held.legs_mm):
        out.append(HeatRow("stone", "stone", stone.at_flow, stone.after, "note"))
    if one.held.order.inlay:
        out.append(_inlay(one))
    if one.held.order.tweezers_mm is not None:
        out.append(_tweezers(one))
    hottest, solidus = band_of(one.state.temperature.max(axis=1)), one.held.metal.solidus_c
    if one.held.order.insert_mm and hottest.mid >= solidus:
        between = "held on its middle, the piece between would melt before its seams flow"
        out.append(
            HeatRow("between", "the piece", between, "stroke from seam to seam, never stay on the middle", "act")
        )
    return out


def _coolest(one: Worked) -> Array:
    """How far the coolest place of the ring comes on the way to flow, in all cases [share]."""
    out: Array = (one.state.temperature.min(axis=1) - one.ring.air_c) / (one.flow_c - one.ring.air_c)
    return out


def _inlay(one: Worked) -> HeatRow:
    """What comes to an inlay: the coolest of it is told, for it lies all round."""
    share = band_of(_coolest(one))
    says = f"it lies all round: even the coolest of it comes {_share_words(share)} of the way to flow"
    return HeatRow(
        "inlay", "inlay", says, "glue lets go and stone cracks long before that: it is laid in last", "act"
    )


def _tweezers(one: Worked) -> HeatRow:
    place = one.held.order.tweezers_mm or 0.0
    share = band_of(1 - one.bare_w / one.state.power)
    if one.held.is_wet(place):
        return HeatRow("tweezers", "tweezers", "they hold it under water and take nothing", "", "good")
    if share.high < TWEEZERS_SHARE:
        return HeatRow("tweezers", "tweezers", "they take next to nothing where they are", "", "good")
    much = f"{100 * share.mid:.0f} % of the heat, {100 * share.low:.0f} to {100 * share.high:.0f}"
    side = "right" if place > 0 else "left"
    note = f"the {side} side comes up last" if abs(place) > 0.5 else "right at the joint they also squash it"
    soft = "hot silver is very soft" if one.held.metal.family == "silver" else "hot metal gives"
    return HeatRow(
        "tweezers",
        "tweezers",
        f"they carry off {much}",
        f"{note}; {soft}: support, do not clamp",
        "note",
    )
