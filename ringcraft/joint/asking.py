"""What is seen of a joint, as one jeweler would tell it to another."""

from __future__ import annotations

from typing import Annotated

from pydantic import BeforeValidator, Field

from ringcraft.errors import OutOfRangeError
from ringcraft.measure.asking import ScaleKey
from ringcraft.measure.gauges import GaugeRequest
from ringcraft.measure.sizes import LARGEST_RING_MM
from ringcraft.metals import SOLDERS, UNKNOWN_SOLDER, BladeKey, RingMetalKey
from ringcraft.planning.own import OwnFigures
from ringcraft.planning.solders import Celsius, OwnSolders
from ringcraft.schema import Count, Degrees, Mm, PositiveMm, SignedMm, UnitKey, name_of, request
from ringcraft.sections import Stock

#: What a view can show: from the sides the height of the joint is seen, from the others its width.
SIDE_VIEWS = {
    "none": "closed",
    "light": "a hair of light",
    "parallel": "parallel",
    "wedge-out": "open outside",
    "wedge-in": "open inside",
}
ACROSS_VIEWS = {
    "none": "closed",
    "light": "a hair of light",
    "parallel": "parallel",
    "wedge-left": "open at the left",
    "wedge-right": "open at the right",
}
#: The five views in the order in which a joint is turned before the light.
VIEWS = {"side": "side", "top": "top", "other-side": "other side", "under": "underneath", "inside": "inside"}
SIDES = ("side", "other-side")
TRIED = {"bend": "bent again", "file": "filed true", "saw": "sawn through"}
#: What was tried so far, as a sheet asks: the keys of a list, apart by strokes.
TRIED_SO_FAR = {
    "": "nothing tried yet",
    "bend": "bent again already",
    "bend / file": "bent and filed already",
    "bend / saw": "bent and sawn already",
}
SMALLEST_MM = 4.0  # of inside diameter: a shank that is soldered into a small round first
MOST_TWIST_DEG, MOST_GAP_MM, MOST_STEP_MM, MOST_SEAMS = 45.0, 10.0, 5.0, 40

SideView = name_of("view of a side", SIDE_VIEWS, {title: key for key, title in SIDE_VIEWS.items()})
AcrossView = name_of("view across a joint", ACROSS_VIEWS, {title: key for key, title in ACROSS_VIEWS.items()})
TriedKey = name_of("thing to try", TRIED)
#: A solder by its key; an old seam's may be known to nobody.
SeamSolderKey = name_of("solder", SOLDERS)


def _few(value: object) -> object:
    if isinstance(value, (list, tuple)) and len(value) > MOST_SEAMS:
        raise OutOfRangeError("", "More seams than a ring has.", f"At most {MOST_SEAMS}.")
    return value


def most(value: float, limit: float, field: str, message: str, hint: str) -> None:
    """Refuse a length [mm] beyond what can be; raises OutOfRangeError at its field."""
    if value > limit:
        raise OutOfRangeError(field, message, hint, much=value, limit=limit)


@request
class Views:
    """What each of the five views shows."""

    side: SideView = "none"
    top: AcrossView = "none"
    other_side: Annotated[SideView, Field(alias="other-side")] = "none"
    under: AcrossView = "none"
    inside: AcrossView = "none"


@request
class Chip:
    """A chip of solder [mm]."""

    length_mm: PositiveMm = 1.0
    width_mm: PositiveMm = 1.0
    thickness_mm: PositiveMm = 0.25

    def __post_init__(self) -> None:
        """Refuse what is no chip."""
        for name in ("length_mm", "width_mm", "thickness_mm"):
            most(getattr(self, name), 10.0, name, "A chip of {much:g mm} is a plate.", "At most {limit:g mm}.")
            if getattr(self, name) < 0.02:
                raise OutOfRangeError(name, "That is dust, no chip.", "At least {least:g mm}.", least=0.02)

    @property
    def mm3(self) -> float:
        """Its volume [mm3]."""
        return self.length_mm * self.width_mm * self.thickness_mm


@request
class OtherSeam:
    """Another seam of the work, made before this one: with which solder, whether it is coated with anti-flux.

    ``melts_c`` [C] goes before the table, where its maker's sheet says so.
    """

    key: Annotated[str, Field(max_length=60)]
    title: Annotated[str, Field(max_length=80)] = ""
    solder: SeamSolderKey = UNKNOWN_SOLDER
    melts_c: Celsius | None = None
    guarded: bool = False


@request
class RingAtJoint:
    """The ring at its joint: the inside diameter [mm] at which it closes with the planned passes, and its stock."""

    inside_diameter_mm: PositiveMm
    stock: Stock

    def __post_init__(self) -> None:
        """Refuse what goes round no finger."""
        if not SMALLEST_MM <= self.inside_diameter_mm <= LARGEST_RING_MM:
            raise OutOfRangeError(
                "inside_diameter_mm",
                "{inside:g mm} inside is no ring.",
                "From {least:g} to {most:g mm}.",
                inside=self.inside_diameter_mm,
                least=SMALLEST_MM,
                most=LARGEST_RING_MM,
            )


@request
class JointSeen:
    """A joint as it is seen against the light, and what was done about it so far.

    ``gap_mm`` is the widest gap, ``filed_mm`` what the file took beyond the plan, along the neutral line;
    ``passes_made`` is counted through the closed joint. ``tried`` is what was done about it already, ``solder`` what
    it is soldered with, where that is not the ladder's.
    """

    views: Views = Views()
    gap_mm: Mm = 0.0
    step_mm: SignedMm = 0.0
    twist_deg: Degrees = 0.0
    own_spring: bool = True
    passes_made: Count = 1
    filed_mm: Mm = 0.0
    tried: tuple[TriedKey, ...] = ()
    chip: Chip = Chip()
    solder: SeamSolderKey | None = None
    units: UnitKey = "mm"

    def __post_init__(self) -> None:
        """Refuse what no joint of a ring shows."""
        most(self.gap_mm, MOST_GAP_MM, "gap_mm", "A gap of {much:g mm} is an open ring.", "At most {limit:g mm}.")
        most(
            abs(self.step_mm), MOST_STEP_MM, "step_mm", "A step of {much:g mm} is two rings.", "At most {limit:g mm}."
        )
        most(self.filed_mm, MOST_GAP_MM, "filed_mm", "No file takes {much:g mm} there.", "At most {limit:g mm}.")
        if not abs(self.twist_deg) <= MOST_TWIST_DEG:
            raise OutOfRangeError("twist_deg", "That is bent, not twisted.", f"At most {MOST_TWIST_DEG:g} degrees.")


@request
class JointRequest(JointSeen):
    """A joint as it is seen, of a ring: its metal, its stock, its blade, the seams that are there already.

    ``passes_planned`` stands in the ledger. ``wanted_mm`` is the inside diameter that is wanted [mm], where one is;
    ``later_mm`` is what the inside changes by after the joint, where a V is bent or a texture is struck. Sizes are
    told on ``gauge``, where it is one of the home scale.
    """

    metal: RingMetalKey
    ring: RingAtJoint
    passes_planned: Count = 1
    blade: BladeKey = "4/0"
    seams: Annotated[tuple[OtherSeam, ...], BeforeValidator(_few)] = ()
    wanted_mm: PositiveMm | None = None
    later_mm: SignedMm = 0.0
    solders: OwnSolders = ()
    own: OwnFigures = OwnFigures()
    home_scale: ScaleKey = "us"
    gauge: GaugeRequest | None = None
