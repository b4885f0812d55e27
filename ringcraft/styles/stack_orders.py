"""What a stack is asked for, and what a finished ring among its bands asks of the solder."""

from __future__ import annotations

from typing import Literal

from ringcraft.drawing.paths import line, shifted
from ringcraft.drawing.shapes import Drawing, Shape, drawing
from ringcraft.errors import ImpossibleSectionError, UnreadableError
from ringcraft.metals import METALS, UNKNOWN_METAL, Metal
from ringcraft.planning.joints import CLOSE_C, Joint, solder_book
from ringcraft.planning.made import SeamSolder
from ringcraft.planning.request import RingRequest
from ringcraft.schema import PositiveMm, SignedMm, name_of, request
from ringcraft.sections import Section, Stock

MOST_OUTER = 5
USUAL_FIT_MM = -0.05
WELL_C = 30.0  # that a solder flows below where the first of the metals melts; our own judgement
TIGHTEST_MM, LOOSEST_MM = -0.3, 0.3  # of diameter: driven on harder it splits, looser it rattles; our own judgement
ARRANGEMENTS = {
    "sleeves": "sleeves over an inner band",
    "sandwich": "bands beside a finished ring",
    "seat": "two sleeves that a finished ring rides on",
}
#: What a finished ring is made of: nobody may know it yet.
FinishedKey = name_of(
    "metal", {**METALS, UNKNOWN_METAL: "unknown"}, {metal.title: key for key, metal in METALS.items()}
)
ArrangementKey = name_of("way to stack", ARRANGEMENTS)


@request
class Layer:
    """One outer band: its stock, its fit over what is under it [mm of diameter], its outside as measured [mm]."""

    stock: Stock
    fit_mm: SignedMm = 0.0
    measured_od_mm: PositiveMm | None = None


@request
class StackRequest(RingRequest):
    """The order of a stack. For sleeves ``stock`` is the inner band; for a sandwich it is the finished ring's.

    For a seat it is that of the two sleeves, as thick as ``sleeve_mm`` under the step and ``shoulder_high_mm`` above
    it; the step is ``step_mm`` wide, the finished ring's own width. ``finished_inside_mm``: its inside, as measured.
    """

    style: Literal["stack"] = "stack"
    outer: tuple[Layer, ...] = ()
    arrangement: ArrangementKey = "sleeves"
    inner_measured_od_mm: PositiveMm | None = None
    finished_metal: FinishedKey | None = None
    sleeve_mm: PositiveMm | None = None
    shoulder_high_mm: PositiveMm | None = None
    step_mm: PositiveMm | None = None
    finished_inside_mm: PositiveMm | None = None


def radial(sections: list[tuple[Section, float]]) -> Drawing:
    """A cut across the stack: each section standing on what is under it."""
    return drawing(
        [
            Shape(f"band-{i}", "second" if i % 2 else "metal", (shifted(line(*points(section)), 0, up),))
            for i, (section, up) in enumerate(sections)
        ]
    )


def points(section: Section) -> list[tuple[float, float]]:
    """The outline of a section as points."""
    return [(x, y) for x, y in section.outline]


def finished_metal(order: StackRequest) -> Metal:
    """What the finished ring is made of; raises UnreadableError where nobody said, or knows."""
    if order.finished_metal is None:
        raise UnreadableError("finished_metal", "What is the finished ring made of?", "Its melting point decides.")
    if order.finished_metal == UNKNOWN_METAL:
        said = "Nobody knows what the finished ring is made of: test it first, mark, magnet and touch."
        raise UnreadableError("finished_metal", said, "Then say what it is: its melting point decides the solder.")
    return METALS[order.finished_metal]


def flux_of(*metals: Metal) -> tuple[bool, bool]:
    """Whether any of the metals that are heated together is soldered under flux, and whether none is."""
    fluxed = any(metal.of_family.fluxed for metal in metals)
    return fluxed, not fluxed


def together(order: StackRequest, other: Metal) -> tuple[SeamSolder, ...]:
    """The solder that joins bands to a finished ring: the lowest solidus of all that is heated rules.

    Of the series of the metal that melts first, below its own grade, the highest that flows well below; where only
    makers' sheets know, a grade below its own.
    """
    bands, book = METALS[order.metal], solder_book(order.solders)
    lowest = min((bands, other), key=lambda metal: order.own.metal(metal).solidus_c)
    solidus, own = order.own.metal(lowest).solidus_c, book[lowest.solder]
    lower = [one for one in book.values() if one.series == own.series and one.rank > own.rank]
    lower.sort(key=lambda one: one.rank)
    well = [one for one in lower if one.flows_c is not None and solidus - one.flows_c >= WELL_C]
    if lowest is bands and not (lower and lower[0].flows_c is not None and lower[0] not in well):
        return ()  # the ladder of the bands does
    chosen = well or lower[:1]
    return tuple(SeamSolder(joint="together", solder=one.key) for one in chosen[:1])


def margin_words(title: str, solidus_c: float, solder: Joint) -> str:
    """How far the finished ring melts above where the solder flows, in words."""
    if solder.flows_c is None:
        return f"The finished {title} begins to melt at {solidus_c:.0f} °C: the solder's sheet must say well below."
    margin = solidus_c - solder.flows_c
    return (
        f"The finished {title} begins to melt at {solidus_c:.0f} °C, {margin:.0f} above where the "
        f"{solder.solder_title} flows."
    )


def melting(title: str, solidus_c: float, solder: Joint) -> tuple[str, ...]:
    """Refuse a solder that flows where the finished ring melts; warn where it comes near or nobody knows."""
    if solder.flows_c is None:
        return (margin_words(title, solidus_c, solder),)
    margin = solidus_c - solder.flows_c
    if margin <= 0:
        raise ImpossibleSectionError(
            "finished_metal",
            f"{title} begins to melt at {solidus_c:.0f} °C, the {solder.solder_title} flows at {solder.flows_c:.0f}.",
            "Use bands whose solder flows well below, or rivet them.",
        )
    return (margin_words(title, solidus_c, solder) + " Watch it.",) if margin < CLOSE_C else ()


def beside(finished: Section, sections: list[Section]) -> Drawing:
    """A cut along the finger: the finished ring in the middle, its bands in turn to the left and to the right."""
    shapes = [Shape("finished", "second", (line(*points(finished)),))]
    reach = [finished.width_mm / 2, finished.width_mm / 2]
    for i, section in enumerate(sections):
        side, sign = i % 2, 1 if i % 2 else -1
        at = sign * (reach[side] + section.width_mm / 2)
        reach[side] += section.width_mm
        shapes.append(Shape(f"flank-{i + 1}", "metal", (shifted(line(*points(section)), at, 0),)))
    return drawing(shapes)
