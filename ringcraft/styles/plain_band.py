"""The plain band: one straight blank, one joint."""

from __future__ import annotations

from dataclasses import replace
from typing import Literal

from ringcraft import __version__
from ringcraft.border import request
from ringcraft.errors import CraftError
from ringcraft.gauges import GaugedScale
from ringcraft.metals import METALS
from ringcraft.planning.band import (
    band_blank,
    check_thickness,
    closing_of,
    rule_views,
    sensitivity_of,
)
from ringcraft.planning.request import RingRequest, Used, settle
from ringcraft.planning.wanted import Wanted, wanted_ring
from ringcraft.routes import route
from ringcraft.routes.band import band_facts, times
from ringcraft.sections import Section, Stock, section_of
from ringcraft.sizes import FingerSize
from ringcraft.styles.base import MetalView, RingPlan, Style, Taper, TaperMark, Target

HAIR = 1e-4  # relative change of thickness for the slope of the neutral line


@request
class PlainBandRequest(RingRequest):
    """The order of a plain band: nothing beside what every ring asks."""

    style: Literal["plain-band"] = "plain-band"


def plan_plain_band(order: PlainBandRequest) -> RingPlan:
    """Plan a plain band; raises CraftError naming the field."""
    section = section_of(order.stock)
    wanted = wanted_ring(order, section)
    check_thickness(section, wanted)
    used = settle(order, STYLE.leave)
    metal = METALS[order.metal]
    blank = band_blank(order, used, wanted, section, metal)
    closing = closing_of(blank, used, wanted, section)
    views = rule_views(order, used, wanted, section)
    return RingPlan(
        style=STYLE.key,
        title=f"{section.title} band",
        target=target_of(wanted.finger),
        metal=MetalView(metal.key, metal.title, metal.family),
        section=section,
        used=used,
        blanks=(blank,),
        by_rule={view.key: view.formed_length_mm for view in views},
        rules=views,
        sensitivity=sensitivity_of(section, wanted, slimmer(order.stock)),
        closing=closing,
        taper=taper_of(wanted),
        gauge=wanted.gauge,
        wide=wanted.wide,
        wanted_mm=wanted.inside_mm,
        wanted_text=wanted.text,
        wanted_fine_text=wanted.told(wanted.inside_mm),
        says=_says(used, closing.text, closing.says),
        summary=f"{metal.title} {stock_words(section)}",
        route=route(STYLE.route, band_facts(used, wanted, section, metal, blank, closing)),
        engine=__version__,
    )


def target_of(size: FingerSize) -> Target:
    """The finger as the plan answers it."""
    return Target(size.inside_diameter_mm, size.circumference_mm, size.sizes, size.numbers, size.read_as, size.text)


def taper_of(wanted: Wanted) -> Taper:
    """The mandrel three sizes either side of the wanted one, with its halves; its own marks if it has a gauge."""
    scale = wanted.scale
    middle = round(scale.number(wanted.inside_mm))
    marks = []
    for half in range(-6, 7):
        number = middle + half / 2
        if scale.holds(number):
            label = scale.label(number) if half % 2 == 0 else ""
            marks.append(TaperMark(label, scale.diameter_mm(number)))
    title = scale.gauge_name if isinstance(scale, GaugedScale) else f"{scale.title} scale"
    return Taper(title, tuple(marks))


def slimmer(stock: Stock) -> Section:
    """The section of a stock a hair thinner, for the slope of its neutral line."""
    thin = replace(stock, thickness_mm=stock.thickness_mm * (1 - HAIR))
    if stock.profile in ("round", "square"):
        thin = replace(thin, width_mm=None)
    try:
        return section_of(thin)
    except CraftError:  # a straight side as high as the slimmer stock: scale the side with it
        return section_of(replace(thin, side_mm=(stock.side_mm or 0) * (1 - HAIR)))


def stock_words(section: Section) -> str:
    """A stock in words: half-round 4 × 1.8."""
    if section.profile in ("round", "square"):
        return f"{section.title} {round(section.thickness_mm, 2):g}"
    return f"{section.title} {round(section.width_mm, 2):g} × {round(section.thickness_mm, 2):g}"


def _says(used: Used, closes: str, spread: str) -> tuple[str, str]:
    doing = "Mark and cut"
    if used.join.trim_mm:
        doing += f", file {used.join.trim_mm:g} of trim off"
    if used.join.saw_passes:
        doing += f", then saw through the joint {times(used.join.saw_passes)}"
    return f"{doing}. It closes at {closes}.", spread


STYLE = Style("plain-band", "plain band", PlainBandRequest, plan_plain_band, "small", "plain-band")
