"""What every style tells in the same words: what to do with its figure, a rule of thumb, the mandrel, the finger."""

from __future__ import annotations

from ringcraft.drawing import rings
from ringcraft.drawing.shapes import Drawing, drawing
from ringcraft.measure.gauges import GaugedScale
from ringcraft.measure.sizes import FingerSize
from ringcraft.planning.context import LengthModel, RingContext, as_d_words
from ringcraft.planning.finished_size import (
    FinishedSize,
    rule_off_mm,
    sizes_text,
)
from ringcraft.planning.rules import RULES
from ringcraft.planning.sizing import HAIR_MM
from ringcraft.planning.target_size import TargetSize
from ringcraft.routes.building import times
from ringcraft.styles.base import (
    Figure,
    Taper,
    TaperMark,
    Target,
    Thumb,
)


def read_as(context: RingContext) -> tuple[str, ...]:
    """What is read otherwise than it was called: a half-round that has straight sides."""
    said = as_d_words(context.order.stock, context.used.units)
    return (said,) if said else ()


def rule_warning(context: RingContext, turn: LengthModel, closing: FinishedSize) -> tuple[str, ...]:
    """What a rule that is off the neutral line makes of this stock, where it is more than a mandrel reads."""
    off = rule_off_mm(context, turn)
    if abs(off) <= HAIR_MM:
        return ()
    title = RULES[context.used.rule].title
    scale = context.target.scale
    far = sizes_text(off / scale.circumference_per_size_mm, scale)
    said = f"By the {title} this stock is cut {context.length(abs(off)):.2f mm} too {'long' if off > 0 else 'short'}"
    return (f"{said} for its neutral line: {far}. It closes at {closing.text}.",)


def round_ring(context: RingContext) -> Drawing:
    """The finished ring of one closed band."""
    inner = context.target.inside_mm / 2
    outer = inner + context.section.thickness_mm
    return drawing([rings.band(inner, outer)], [rings.joint(inner, outer)])


def says_of(context: RingContext, closes: str, doing: str = "Mark and cut") -> str:
    """What to do with the figure, and where that leads."""
    join = context.used.join
    if join.trim_mm:
        doing += f", file {context.length(join.trim_mm):g} of trim off"
    if join.saw_passes:
        doing += f", then saw through the joint {times(join.saw_passes)}"
    return f"{doing}. It closes at {closes}."


def thumb(context: RingContext, title: str, thumb_mm: float, exact_mm: float, what: str = "") -> Thumb:
    """A rule of thumb beside the exact figure."""
    off = thumb_mm - exact_mm
    too = f"{context.length(abs(off)):.1f mm} too {'much' if off > 0 else 'little'} here"
    says = "the same here" if abs(off) < 0.05 else too
    return Thumb(title, thumb_mm, exact_mm, off, f"{says}{what}")


def length_figure(context: RingContext, key: str, title: str, mm: float, spec: str, why: str) -> Figure:
    """A figure of a plan that is a length [mm], written as the shop writes it."""
    return Figure(key, title, mm, f"{context.length(mm):{spec}}", why)


def target_of(size: FingerSize) -> Target:
    """The finger as the plan answers it."""
    return Target(size.inside_diameter_mm, size.circumference_mm, size.sizes, size.numbers, size.read_as, size.text)


def taper_of(wanted: TargetSize) -> Taper:
    """The mandrel three sizes either side of the wanted one, with its halves, as far as marks go; a gauge's own."""
    scale = wanted.scale
    number = scale.number(wanted.inside_mm)
    middle = round(min(max(number, scale.lowest), scale.highest))  # beside its marks: the end of the scale
    marks = []
    for half in range(-6, 7):
        number = middle + half / 2
        if scale.holds(number):
            label = scale.label(number) if half % 2 == 0 else ""
            marks.append(TaperMark(label, scale.diameter_mm(number)))
    title = scale.gauge_name if isinstance(scale, GaugedScale) else f"{scale.title} scale"
    return Taper(title, tuple(marks))
