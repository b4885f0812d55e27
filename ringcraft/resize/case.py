"""A ring that came in, made ready: its two sizes on their gauges, its neutral line before and after, its stones."""

from __future__ import annotations

import math
from dataclasses import dataclass, replace

from ringcraft.errors import CraftError, ImpossibleSectionError, OutOfRangeError, UnknownNameError
from ringcraft.measure.sizes import SCALES
from ringcraft.metals import ALL_METALS, BARRED, BLADES, Metal
from ringcraft.planning.context import RingContext, ring_context
from ringcraft.planning.request import Join, RingRequest
from ringcraft.planning.sizing import CAREFUL_STRAIN
from ringcraft.planning.target_size import TargetSize, target_size
from ringcraft.resize.asking import FEATURES, ResizeRequest
from ringcraft.resize.head import HeadFit, head_fit
from ringcraft.sections import Section, Stock, section_of, side_of_half_round
from ringcraft.units import Length
from ringcraft.vbench.thing import FRAIL, PLAIN_STRAIN, size_strain_limit

#: A figure of a way: a length, a share, an angle, a count, or a word.
Value = float | int | str | None
US_MM = SCALES["us"].circumference_per_size_mm
SAME_SIZE_MM = 0.05  # of circumference: closer than this it is no other size, but a ring to be joined again
SIDES_MM = US_MM / 4  # two readings further apart than a quarter of a size: the ring is not round
LEAST_WALL_MM = 1.0  # of a sized shank; common practice, no published source
MOST_SIZES = 10.0  # US sizes: more is another ring
_FIELDS = {"size": "to", "stock": "shank", "gauge": "to_gauge", "join": "join"}


@dataclass(frozen=True)
class Case:
    """A ring to be resized [mm]: ``inside`` its inside diameters, ``neutral`` its lengths along the neutral line.

    ``change_mm`` is how much longer it gets there, ``read_as_d`` whether its half-round is really a D.
    """

    order: ResizeRequest
    context: RingContext
    present: TargetSize
    metal: Metal
    inside: tuple[float, float]
    head: HeadFit | None
    read_as_d: bool
    sides_apart_mm: float

    @property
    def section(self) -> Section:
        """The shank's section."""
        return self.context.section

    @property
    def change_mm(self) -> float:
        """How much longer the ring gets along its neutral line [mm]; negative for smaller."""
        return math.pi * (self.inside[1] - self.inside[0])

    @property
    def us_sizes(self) -> float:
        """The same in US sizes."""
        return self.change_mm / US_MM

    @property
    def neutral(self) -> tuple[float, float]:
        """The length of the neutral line [mm], before and after."""
        e = self.section.neutral_mm
        return math.pi * (self.inside[0] + 2 * e), math.pi * (self.inside[1] + 2 * e)

    @property
    def radius(self) -> tuple[float, float]:
        """The radius of the neutral line [mm], before and after."""
        return self.neutral[0] / math.tau, self.neutral[1] / math.tau

    def outside_share(self, after: bool) -> float:
        """How much longer an angle is on the outside than along the neutral line [-], at the old or the new ring."""
        radius = self.radius[after]
        return (radius + self.section.thickness_mm - self.section.neutral_mm) / radius

    def inside_share(self, after: bool) -> float:
        """How much shorter an angle is at the inside [-]."""
        radius = self.radius[after]
        return (radius - self.section.neutral_mm) / radius

    @property
    def kerf_mm(self) -> float:
        """What one pass of the blade takes [mm]."""
        return BLADES[self.order.join.blade]

    @property
    def thinnest_mm(self) -> float:
        """The thinnest place of the shank [mm]."""
        return self.order.shank.thinnest_mm or self.section.thickness_mm

    @property
    def is_same_size(self) -> bool:
        """Whether it is the size already: to be joined again, not resized."""
        return abs(self.change_mm) < SAME_SIZE_MM

    @property
    def is_set(self) -> bool:
        """Whether anything is set in it, its stones listed or not."""
        return bool(self.order.stones) or self.head is not None or self.is_set_by_feature

    @property
    def has_head(self) -> bool:
        """Whether something stands on it opposite the cut: a head, or a setting that nobody placed elsewhere."""
        placed = [one for one in self.order.stones if one.at_mm is not None or one.from_joint_mm is not None]
        return self.head is not None or any(
            one.setting in SOLDERED_ON for one in self.order.stones if one not in placed
        )

    @property
    def soldered_words(self) -> str:
        """What the torch could open of what is soldered to it: its head, its settings; empty for nothing."""
        if self.has_head:
            return "the head"
        return "the settings" if any(one.setting in SOLDERED_ON for one in self.order.stones) else ""

    @property
    def is_tension_set(self) -> bool:
        """Whether the ring itself holds a stone by its spring."""
        return self.has("tension-set") or any(stone.setting == "tension" for stone in self.order.stones)

    @property
    def is_barred(self) -> bool:
        """Whether no hand sizes it: of a metal that cannot be sized, or held by tension."""
        return self.metal.key in BARRED or self.has("unsizeable-metal") or self.is_tension_set

    @property
    def not_struck(self) -> str:
        """Why no blow falls on any of it; empty where it may be struck."""
        if self.metal.brittle:
            return f"{self.metal.title} breaks under a blow"
        if self.has("unsizeable-metal"):
            return "it may be of a metal that breaks under a blow"
        return next((FRAIL[one] for one in self.frail), "")

    @property
    def frail(self) -> tuple[str, ...]:
        """What it has that bears no blow, by the virtual bench's words."""
        has = {"hollow": "hollow", "cracked": "crack", "inlay": "inlay", "eternity": "eternity"}
        out = [frail for feature, frail in has.items() if self.has(feature)]
        return tuple([*out, "tension"] if self.is_tension_set else out)

    @property
    def is_known(self) -> bool:
        """Whether its metal is known."""
        return self.metal.is_known

    @property
    def is_plain(self) -> bool:
        """Whether it is a plain band: nothing set, patterned, hollow or of two metals."""
        return not self.is_set and not set(self.order.features) & NOT_PLAIN

    @property
    def stretch_limits(self) -> tuple[float, float]:
        """How far the metal gives [share]: about half a size as it is, about a size annealed."""
        most = size_strain_limit(self.metal.key)
        return CAREFUL_STRAIN * most / PLAIN_STRAIN, most

    @property
    def strain(self) -> float:
        """The share by which its shank would be stretched or pressed: a head does not give."""
        span = self.head.span_mm if self.head else 0.0
        return abs(self.change_mm) / (self.neutral[0] - span)

    @property
    def thickness_after_mm(self) -> float:
        """Its thinnest place once stretched or pressed [mm]: the wall gives as the shank does, its width is kept."""
        return self.thinnest_mm / (1 + math.copysign(self.strain, self.change_mm))

    @property
    def is_plated(self) -> bool:
        """Whether it is plated anew once it was worked on: said to be plated, or of a metal that usually is."""
        return self.has("plated") or self.has("plated-base") or self.metal.of_family.plated

    @property
    def not_annealed(self) -> str:
        """Why it is not annealed before it is stretched or pressed; empty for a ring that bears it."""
        if not self.is_known:
            return "nobody knows what it is made of"
        if self.is_set:
            return "what is set in it would be in the flame"
        if not self.is_plain:
            return "it is no plain band"
        return next((why for feature, why in NOT_ANNEALED.items() if self.has(feature)), "")

    @property
    def holds(self) -> str:
        """What holds its stones, for the words: a claw, or a setting of another kind."""
        listed = self.order.stones
        claws = all(stone.setting == "claw" for stone in listed) and (listed or not self.is_set_by_feature)
        return "claw" if claws else "setting"

    @property
    def is_set_by_feature(self) -> bool:
        """Whether a feature says that something is set in it."""
        return any(self.has(one) for one in SET_BY_FEATURE)

    @property
    def seam_place(self) -> str:
        """Where it is cut: across an old seam, so that one is gone, else at the back."""
        return "across the old seam" if self.has("old-seam") else "at the middle of the back"

    @property
    def lift_words(self) -> str:
        """What of its head stands off the new curve, and by how much; empty where that is not to be seen."""
        lift = self.head.lift_mm if self.head else 0.0
        if abs(lift) < 0.01:
            return ""
        return f"its {'ends stand' if lift > 0 else 'middle stands'} {self.told(abs(lift))} off"

    def has(self, feature: str) -> bool:
        """Whether the ring has a feature."""
        return feature in self.order.features

    def length(self, mm: float) -> Length:
        """A length [mm] as this shop writes it."""
        return self.context.length(mm)

    def told(self, mm: float, spec: str = ".2f mm") -> str:
        """A length [mm] in words."""
        return f"{self.length(mm):{spec}}"

    def now_named(self, mm: float) -> str:
        """An inside diameter [mm] on the scale its present size was read on."""
        said = self.order.from_mm is None and self.order.from_sides is None
        return self.present.named(mm) if said else self.present.told(mm)


#: Why a plain band that has something is not annealed.
NOT_ANNEALED = {
    "plated-base": "its plating would burn off the base metal",
    "filled": "its skin of gold would burn thin",
    "soft-solder": "soft solder would eat into it",
    "old-seam": "its old seam could run or open",
}
NOT_PLAIN = {"eternity", "tension-set", "hollow", "inlay", "pattern-all-round", "two-tone", "two-tone-head"}
SOLDERED_ON = ("claw", "bezel", "peg")  # settings that stand on the shank by a seam of their own
#: What is set without being listed, by the feature that says so.
SET_BY_FEATURE = {
    "eternity": "the stones all round",
    "inlay": "the inlay",
    "tension-set": "the stone held by tension",
}


def case_of(order: ResizeRequest) -> Case:
    """A ring made ready; raises CraftError at the field that cannot be."""
    _check(order)
    shank, as_d = _shank(order)
    wanted = _as_ring(order, shank, order.to, order.to_gauge)
    try:
        context = ring_context(wanted, "exact")
    except CraftError as problem:
        raise _placed(problem) from None
    now = _as_ring(order, shank, order.from_, order.from_gauge)
    present, inside, apart = _present(order, now, context.section)
    case = Case(
        order=order,
        context=context,
        present=present,
        metal=context.metal,
        inside=(inside, context.target.inside_mm),
        head=head_fit(order.head, inside, context.target.inside_mm),
        read_as_d=as_d,
        sides_apart_mm=apart,
    )
    if abs(case.us_sizes) > MOST_SIZES:
        raise OutOfRangeError("to", f"{abs(case.us_sizes):.1f} US sizes away is another ring.", "Make it anew.")
    return case


def _shank(order: ResizeRequest) -> tuple[Stock, bool]:
    """The shank's section as stock; a half-round thicker than half its width is a D."""
    one = order.shank
    stock = Stock(profile=one.profile, thickness_mm=one.thickness_mm, width_mm=one.width_mm, side_mm=one.side_mm)
    side = side_of_half_round(stock)
    if side:
        stock = replace(stock, profile="d", side_mm=side)
    section_of(stock, "shank")
    return stock, side > 0


def _as_ring(order: ResizeRequest, shank: Stock, size: str, gauge: object) -> RingRequest:
    """The band of this shank for one of its sizes, as bands are planned: by its neutral line, to the hundredth."""
    return RingRequest(
        style="plain-band",
        size=size,
        metal=order.metal,
        stock=shank,
        join=Join(saw_passes=order.join.saw_passes, blade=order.join.blade),
        leave="exact",
        round_to_mm=0.0,
        home_scale=order.home_scale,
        gauge=gauge,  # type: ignore[arg-type]
        units=order.units,
        degrees=order.degrees,
        solders=order.solders,
        own=order.own,
        surfaces=order.surfaces,
        finish_with=order.finish_with,
    )


def _present(order: ResizeRequest, now: RingRequest, section: Section) -> tuple[TargetSize, float, float]:
    """The present size, its inside diameter [mm], and how far its two sides were apart [mm of circumference]."""
    try:
        present = target_size(now, section)
    except CraftError as problem:
        raise _placed(problem, "from") from None
    if order.from_mm is not None:
        return replace(present, inside_mm=order.from_mm), order.from_mm, 0.0
    if order.from_sides is None:
        return present, present.inside_mm, 0.0
    sides = []
    for place, text in enumerate(order.from_sides):
        try:
            sides.append(target_size(replace(now, size=text), section).inside_mm)
        except CraftError as problem:
            raise _placed(problem, f"from_sides.{place}") from None
    mean = sum(sides) / 2
    return replace(present, inside_mm=mean), mean, math.pi * abs(sides[0] - sides[1])


def _placed(problem: CraftError, size: str = "to") -> CraftError:
    """An error of a ring to make, at the field of the resize that it is about."""
    names = {**_FIELDS, "size": size, "gauge": "from_gauge" if size.startswith("from") else "to_gauge"}
    first, dot, rest = problem.field.partition(".")
    return problem.at(f"{names.get(first, first)}{dot}{rest}")


def _check(order: ResizeRequest) -> None:
    """Facts that contradict one another; raises CraftError at the field of the second."""
    thin, thick = order.shank.thinnest_mm, order.shank.thickness_mm
    if thin is not None and thin > thick:
        raise ImpossibleSectionError(
            "shank.thinnest_mm",
            "The thinnest place, {thin:.2f}, is thicker than the shank, {thick:.2f}.",
            "Measure both at the bottom.",
            thin=thin,
            thick=thick,
        )
    family = ALL_METALS[order.metal].family
    for place, key in enumerate(order.features):
        row, at = FEATURES[key], f"features.{place}"
        if row["families"] and family not in row["families"]:
            title = ALL_METALS[order.metal].title
            raise UnknownNameError(
                at, f"{title} cannot be {row['title']}.", "Say what it is made of, or leave it out."
            )
        other = next((one for one in row["not_with"] if one in order.features), None)
        if other:
            raise UnknownNameError(
                at, f"{row['title']} and {FEATURES[other]['title']} are not one ring.", "Which is it?"
            )
    if order.method == "reshank" and "hollow" in order.features:
        raise UnknownNameError(
            "method", "A hollow ring takes no new lower part: solid does not join two thin walls.", "Choose another."
        )
    if order.pattern and "pattern-all-round" not in order.features:
        raise UnknownNameError("pattern", "A pitch belongs to a pattern all round.", "Say so, or leave it out.")
