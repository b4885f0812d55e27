"""What can be done next at a joint, one entry each, in the order in which a bench thinks of it.

What is seen decides, never a habit: a twist and a step are put right before a gap is judged, a wedge is bent again
before metal is taken from it, and only an even gap is sawn. What file and saw would cost instead stands beside it.
"""

from __future__ import annotations

import math
from collections.abc import Callable
from dataclasses import dataclass
from functools import cached_property

from ringcraft.errors import CraftError, OutOfRangeError
from ringcraft.joint.asking import JointRequest
from ringcraft.joint.views import Seen, file_mm, seen
from ringcraft.measure.gauges import scale_of
from ringcraft.measure.sizes import SCALES, Scale
from ringcraft.metals import ALL_METALS, BARRED, BLADES, Metal
from ringcraft.planning.context import check_inside
from ringcraft.sections import Section, section_of
from ringcraft.units import Length, capital

STEP_SHARE = 0.1  # of the thickness: a higher step means that one side is filed thin; craft, our reading
HALF_SIZE_MM = (
    SCALES["us"].circumference_per_size_mm / 2
)  # of circumference: how far a plain band is stretched without a thought


@dataclass(frozen=True)
class JointCase:
    """A joint made ready: its order, its section, its metal, what is seen of it."""

    order: JointRequest
    section: Section
    metal: Metal
    seen: Seen

    @property
    def kerf_mm(self) -> float:
        """What a pass of the blade takes [mm]."""
        return BLADES[self.order.blade]

    @cached_property
    def lost_mm(self) -> float:
        """What saw and file took beyond the plan so far [mm], less than nothing where a pass was left out."""
        return (self.order.passes_made - self.order.passes_planned) * self.kerf_mm + self.order.filed_mm

    @cached_property
    def scale(self) -> Scale:
        """The scale that sizes are told on; raises CraftError for a gauge that is none."""
        gauge = self.order.gauge
        if gauge is None or gauge.scale != self.order.home_scale:
            return SCALES[self.order.home_scale]
        try:
            return scale_of(gauge)[0]
        except CraftError as problem:
            raise problem.at(f"gauge.{problem.field}") from None

    @property
    def closes_mm(self) -> float:
        """The inside diameter at which it closes if it is soldered as it stands [mm]."""
        return self.order.ring.inside_diameter_mm - self.lost_mm / math.pi

    @property
    def is_stepped(self) -> bool:
        """Whether its step is so high that one side would be filed thin."""
        return abs(self.order.step_mm) > STEP_SHARE * self.section.thickness_mm + 1e-9

    @property
    def saw_passes(self) -> int:
        """How many passes make a wedge parallel: the blade must take the whole of its gap."""
        return max(1, math.ceil(self.seen.gap_mm / self.kerf_mm - 1e-9))

    @property
    def file_mm(self) -> float:
        """What the file takes to make a wedge parallel [mm]."""
        return file_mm(self.seen, self.section)

    def length(self, mm: float) -> Length:
        """A length [mm] as the shop writes it."""
        return Length(mm, self.order.units)

    @property
    def reads_mm(self) -> float:
        """The inside diameter it comes to by what is still done to it after the joint [mm]."""
        return self.closes_mm + self.order.later_mm

    def told(self, inside_mm: float) -> str:
        """An inside diameter [mm] on the gauge that the ring is read on, or on the shop's own scale."""
        return self.scale.text(inside_mm, self.scale.fine_step)

    def after(self, takes_mm: float) -> str:
        """Where it closes once so much more is taken [mm]."""
        return self.told(self.reads_mm - takes_mm / math.pi)


def case_of(order: JointRequest) -> JointCase:
    """A joint made ready; raises CraftError at its field."""
    section = section_of(order.ring.stock, "ring.stock")
    check_inside(section, order.ring.inside_diameter_mm, "ring.stock")
    metal = order.own.metal(ALL_METALS[order.metal])
    if order.metal in BARRED:
        said = f"{capital(metal.title)} is not soldered at a jeweler's bench: {BARRED[order.metal]}."
        raise OutOfRangeError("metal", said, "There is no joint of it to look at.")
    return JointCase(order, section, metal, seen(order, metal.of_family.fit_mm))


@dataclass(frozen=True)
class Action:
    """One thing to do at a joint: ``wanted`` says whether it is what comes next, ``says`` how it is done.

    ``costs`` is what it takes along the neutral line [mm], ``where`` which part of the drawing it is shown at.
    """

    key: str
    title: str
    wanted: Callable[[JointCase], bool]
    says: Callable[[JointCase], str]
    costs: Callable[[JointCase], float] = lambda case: 0.0
    where: Callable[[JointCase], str] = lambda case: "joint"


def _wedge_words(case: JointCase) -> str:
    kinds = {"out": "open outside", "in": "open inside", "across": "open to one edge"}
    said = " and ".join(kinds[one] for one in case.seen.wedges)
    wide = "" if case.seen.unmeasured else f", {case.length(case.seen.gap_mm):.2f} at its widest"
    return f"The gap is a wedge, {said}{wide}"


def _bend(case: JointCase) -> str:
    if case.seen.wedges == ("across",):
        return f"{_wedge_words(case)}: turn one end against the other with parallel pliers until the faces meet flat."
    how = "pinch the ends" if "in" in case.seen.wedges else "tweak from opposite the joint, on both sides,"
    return f"{_wedge_words(case)}: {how} until the faces meet flat. Bending takes no metal."


def _file(case: JointCase) -> str:
    bent = ", and bending did not close it" if "bend" in case.order.tried else ""
    return f"{_wedge_words(case)}{bent}: file the faces true where they touch by now."


def _saw_wedge(case: JointCase) -> str:
    how = "once" if case.saw_passes == 1 else f"{case.saw_passes} passes"
    return f"{_wedge_words(case)}: saw it through, {how}, straight down; close it again after each."


def _saw(case: JointCase) -> str:
    limit = f"{case.metal.title} bears {case.length(case.seen.limit_mm):.2f}"
    if case.seen.unmeasured:
        return f"An even gap that can be seen; {limit}. Saw through once, close it, look again."
    gap = f"An even gap of {case.length(case.seen.gap_mm):.2f}"
    if not case.seen.parallel:
        gap = f"No view shows it, yet {case.length(case.seen.gap_mm):.2f} was measured"
    wide = case.seen.gap_mm > case.kerf_mm
    then = "push it shut first: it is wider than the blade. Then saw through once" if wide else "saw through once"
    return f"{gap}; {limit}: {then}, close it, look again."


def _step(case: JointCase) -> str:
    much = f"A step of {case.length(abs(case.order.step_mm)):.2f}"
    most = f"over a tenth of {case.length(case.section.thickness_mm):.2f}"
    return f"{much} is {most}: one side would be filed thin. Bring the ends level with parallel pliers."


def _twist(case: JointCase) -> str:
    return (
        f"Twisted by {abs(case.order.twist_deg):g} degrees: parallel pliers right at the joint, turn it back; "
        "never across a set stone."
    )


def _close(case: JointCase) -> str:
    return "It does not hold itself shut: push each end past the other and let it spring back until it does."


def _solder(case: JointCase) -> str:
    if case.order.step_mm:
        much, tenth = case.length(abs(case.order.step_mm)), case.length(case.section.thickness_mm)
        held = "no more light than it bears" if case.seen.gap_mm > 0 or case.seen.light else "no gap, no twist"
        return f"A step of {much:.2f}, under a tenth of {tenth:.2f}: dressed after; {held}, and it holds itself shut."
    if case.seen.gap_mm > 0 or case.seen.light:
        return f"No more light than {case.metal.title} bears, {case.length(case.seen.limit_mm):.2f}; level, in line."
    return "No gap, no step, no twist, and it holds itself shut."


def _opposite(case: JointCase) -> str:
    """Where the hand goes to bend a ring: opposite its joint, unless one end is turned against the other."""
    return "joint" if case.seen.wedges == ("across",) and case.order.own_spring else "opposite"


def _tried(case: JointCase) -> bool:
    return case.seen.is_wedge and bool(case.order.tried)


def _file_is_next(case: JointCase) -> bool:
    """The cheaper of file and saw, unless it was tried already and the other was not."""
    tried = set(case.order.tried)
    if ("file" in tried) != ("saw" in tried):
        return "saw" in tried
    return case.file_mm <= case.saw_passes * case.kerf_mm


FILE = Action(
    "file", "File it true", lambda case: _tried(case) and _file_is_next(case), _file, lambda case: case.file_mm
)
SAW_WEDGE = Action("saw", "Saw it true", _tried, _saw_wedge, lambda case: case.saw_passes * case.kerf_mm)
#: What can come next, in the order in which it is thought of; the first that is wanted is it.
ACTIONS: tuple[Action, ...] = (
    Action("twist", "Turn it back", lambda case: case.order.twist_deg != 0, _twist),
    Action("realign", "Bring it level", lambda case: case.is_stepped, _step),
    Action("close", "Close it again", lambda case: not case.order.own_spring, _close, where=_opposite),
    Action("bend", "Bend it again", lambda case: case.seen.is_wedge and not case.order.tried, _bend, where=_opposite),
    FILE,
    SAW_WEDGE,
    Action("saw", "Saw through once", lambda case: case.seen.is_open, _saw, lambda case: case.kerf_mm),
    Action("solder", "Solder it", lambda case: True, _solder),
)


def next_of(case: JointCase) -> Action:
    """What comes next."""
    return next(action for action in ACTIONS if action.wanted(case))


def alternatives_of(case: JointCase) -> tuple[Action, ...]:
    """What takes metal instead of the next action, where there is a choice: at a wedge the file and the saw."""
    chosen = next_of(case)
    if not case.seen.is_wedge or case.seen.unmeasured or chosen.key not in ("bend", "file", "saw"):
        return ()
    return tuple(one for one in (FILE, SAW_WEDGE) if one is not chosen)


def passes_left(case: JointCase) -> int | None:
    """How many more passes leave it within half a size of what is wanted; None where nothing is wanted."""
    if case.order.wanted_mm is None:
        return None
    room = math.pi * (case.reads_mm - case.order.wanted_mm) + HALF_SIZE_MM
    return max(0, math.floor(room / case.kerf_mm + 1e-9))
