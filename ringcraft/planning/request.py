"""What every ring asks for, whatever its style."""

from __future__ import annotations

from ringcraft.errors import OutOfRangeError
from ringcraft.measure.asking import ScaleKey
from ringcraft.measure.gauges import GaugeRequest
from ringcraft.metals import BladeKey, MetalKey
from ringcraft.planning.made import Made, SeamSolders
from ringcraft.planning.own import MOST_CORRECTION_MM, OwnFigures
from ringcraft.planning.own_steps import StepsByKey
from ringcraft.planning.part_orders import Parts
from ringcraft.planning.rules import RuleKey
from ringcraft.planning.solders import OwnSolders
from ringcraft.planning.surfaces import FinishWithKey, Surfaces
from ringcraft.planning.tolerance import Scatter, Spreads, scatter_of
from ringcraft.planning.ways import FromWays, WaysKey
from ringcraft.schema import Count, DegreesKey, Mm, PositiveMm, Share, SignedMm, SizeText, UnitKey, name_of, request
from ringcraft.sections import Stock

LEAVE = {
    "small": "cut so that it hardly ever closes too large: a plain band is easy to stretch",
    "exact": "cut for the size itself",
    "large": "cut so that it hardly ever closes too small: taking out is one joint, adding is two",
}
COARSEST_MM = 2.0  # of rounding: coarser, the figure is another ring's
MOST_TRIM_MM = 10.0
LeaveKey = name_of("way to leave it", LEAVE)


@request
class Join:
    """What happens at the joint: passes of the saw through it, squarings with the file, trim left on."""

    saw_passes: Count = 1
    blade: BladeKey = "4/0"
    file_passes: Count = 0
    trim_mm: Mm = 0.0


@request
class RingRequest:
    """The order, as one jeweler says it to another. None means: take the default and name it.

    ``made`` is what was really done at its joints and ``seam_solders`` which solders were chosen for them: both are
    known once it is on the bench, and change no length that is cut. ``parts`` are made beside it for its top;
    ``surfaces`` which surface each face is to have, None the full finish on all; ``finish_with``: wheel or hand.
    ``steps_by``: whether its route takes the shop's own changes or stands as in the table.
    ``ways``: whether a shop's ways fill what is left out; ``from_ways`` is what they filled.
    """

    style: str
    size: SizeText
    metal: MetalKey
    stock: Stock
    rule: RuleKey | None = None
    own_correction_mm: SignedMm | None = None
    join: Join | None = None
    leave: LeaveKey | None = None
    round_to_mm: Mm | None = None
    home_scale: ScaleKey = "us"
    gauge: GaugeRequest | None = None
    wide: bool = False
    wide_quarter_from_mm: PositiveMm = 6.0
    wide_half_from_mm: PositiveMm = 8.0
    units: UnitKey = "mm"
    degrees: DegreesKey = "c"
    spread: Spreads | None = None
    solders: OwnSolders = ()
    own: OwnFigures = OwnFigures()
    costly_share: Share | None = None
    made: Made = ()
    seam_solders: SeamSolders = ()
    parts: Parts = ()
    surfaces: Surfaces | None = None
    finish_with: FinishWithKey = "wheel"
    steps_by: StepsByKey = "shop"
    ways: WaysKey = "none"
    from_ways: FromWays = ()


@request
class Used:
    """The settings a plan was made with, the defaults filled in and named, and what came from the shop's ways."""

    rule: str
    leave: str
    join: Join
    round_to_mm: float
    home_scale: str
    units: str
    scatter: Scatter
    defaulted: tuple[str, ...]
    from_ways: tuple[str, ...] = ()


def settle(order: RingRequest, leave_default: str, join_default: Join | None = None) -> Used:
    """Fill in the defaults of an order; raises OutOfRangeError where a figure is beyond sense.

    ``join_default`` is the joint of a style that has none to saw through; it beats what the order says.
    """
    chosen = {
        "rule": order.rule,
        "join": order.join,
        "leave": order.leave,
        "round_to_mm": order.round_to_mm,
    }
    used = Used(
        rule=order.rule or "centroid",
        leave=order.leave or leave_default,
        join=join_default or order.join or Join(),
        round_to_mm=0.1 if order.round_to_mm is None else order.round_to_mm,
        home_scale=order.home_scale,
        units=order.units,
        scatter=scatter_of(order.spread, order.costly_share),
        defaulted=tuple(name for name, value in chosen.items() if value is None),
        from_ways=order.from_ways,
    )
    if order.own_correction_mm is not None and abs(order.own_correction_mm) > MOST_CORRECTION_MM:
        raise OutOfRangeError(
            "own_correction_mm",
            "A correction of {much:g mm} is another ring.",
            "From {low:g} to {high:g mm}.",
            much=order.own_correction_mm,
            low=-MOST_CORRECTION_MM,
            high=MOST_CORRECTION_MM,
        )
    if used.round_to_mm > COARSEST_MM:
        raise OutOfRangeError(
            "round_to_mm",
            "That rounds a ring a size away.",
            "At most {most:g mm}; {fine:g} or {coarse:g} is usual.",
            most=COARSEST_MM,
            fine=0.1,
            coarse=0.5,
        )
    if used.join.trim_mm > MOST_TRIM_MM:
        raise OutOfRangeError(
            "join.trim_mm", "That is more offcut than trim.", "{low:g} to {high:g mm} is usual.", low=0.5, high=1.5
        )
    return used
