"""What is asked when a ring comes in to be resized."""

from __future__ import annotations

from collections.abc import Callable, Mapping
from typing import Annotated, Any, Literal

from pydantic import AfterValidator, BeforeValidator, Field

from ringcraft.errors import OutOfRangeError, UnknownNameError, UnreadableError
from ringcraft.heat.torch import Torches
from ringcraft.measure.asking import ScaleKey
from ringcraft.measure.gauges import GaugeRequest
from ringcraft.metals import BladeKey, RingMetalKey
from ringcraft.planning.made import Made, SeamSolders
from ringcraft.planning.own import OwnFigures
from ringcraft.planning.part_orders import Parts
from ringcraft.planning.solders import OwnSolders
from ringcraft.planning.surfaces import FinishWithKey, Surfaces
from ringcraft.planning.ways import FromWays, WaysKey
from ringcraft.schema import Count, DegreesKey, Mm, PositiveMm, SignedMm, SizeText, UnitKey, name_of, request
from ringcraft.sections import ProfileKey
from ringcraft.tables import rows

STONES: dict[str, Mapping[str, Any]] = {row["key"]: row for row in rows("stones")}
SETTINGS: dict[str, Mapping[str, Any]] = {row["key"]: row for row in rows("settings")}
FEATURES: dict[str, Mapping[str, Any]] = {row["key"]: row for row in rows("features")}
MOST_STONES = 12
#: Where practitioners differ, each with our default first, and why one would.
SCHOOLS = {
    "half_size": {"stretch": "stretch it: no heat, no joint", "add": "add metal: no wall is thinned"},
    "repair_solder": {
        "ladder": "by the ladder: each later seam flows lower",
        "hard": "hard always: it polishes out least, the seams before it coated",
    },
    "delicate_stones": {
        "unset": "take out: no flame comes near them",
        "water": "keep under water: no setting is opened",
    },
    "glued_stones": {
        "agreed": "only as agreed in writing: covered by water it can be done",
        "strict": "never: glue lets go before anyone sees it",
    },
}
#: Two seams of an insert, and what speaks for either way.
HEATS = {
    "one-by-one": "one after the other: the first is looked at before the second",
    "together": "both in one heat: one pickling less, but both gaps must stay shut at once",
}
HeatsKey = name_of("way to solder two seams", HEATS)
METHOD_KEYS = ("stretch", "compress", "take-out", "add-stock", "reshank", "rejoin", "true-first", "refuse")
StoneKey = name_of("stone", STONES, {"cz": "cubic-zirconia", "brilliant": "diamond", "": "unknown"})
SettingKey = name_of("setting", SETTINGS, {"prong": "claw", "claws": "claw", "prongs": "claw", "rubover": "bezel"})
FeatureKey = name_of("feature", FEATURES)
MethodKey = name_of("way to resize it", dict.fromkeys(METHOD_KEYS))
HalfSizeKey = name_of("way", SCHOOLS["half_size"])
RepairSolderKey = name_of("way", SCHOOLS["repair_solder"])
DelicateKey = name_of("way", SCHOOLS["delicate_stones"])
GluedKey = name_of("way", SCHOOLS["glued_stones"])


def _at_most(most: int, what: str) -> Callable[[object], object]:
    def check(value: object) -> object:
        if isinstance(value, (list, tuple)) and len(value) > most:
            raise UnreadableError("", f"More than {most} {what} are another job.", f"At most {most}.")
        return value

    return BeforeValidator(check)  # type: ignore[return-value]


def _apart_by_blanks() -> Any:
    """A list that may be written as one text."""
    return BeforeValidator(lambda value: tuple(value.split()) if isinstance(value, str) else value)


def _once(value: object) -> object:
    """A list of features without repeats, in the order they were said."""
    return tuple(dict.fromkeys(value)) if isinstance(value, (list, tuple)) and _plain(value) else value


def _plain(value: Any) -> bool:
    return all(isinstance(one, str) for one in value)


def _where(value: object) -> object:
    if value not in ("neutral", "outside"):
        raise UnknownNameError("", "It is measured along the neutral line or on the outside.", "neutral or outside.")
    return value


def _offcut(value: object) -> object:
    if value not in ("returned", "credited"):
        raise UnknownNameError("", "What is taken out is handed back or credited.", "returned or credited.")
    return value


def _pull(value: object) -> object:
    if value not in ("", "yes", "no"):
        raise UnknownNameError("", "A magnet pulls it or it does not.", "yes, no, or nothing where it was not tried.")
    return value


MOST_FACE_MM = 1.0  # off one face: more is another cut; our own judgement


def _face(value: float) -> float:
    if value > MOST_FACE_MM:
        raise OutOfRangeError("", "That is no squaring of a face, it is a cut.", f"Up to {MOST_FACE_MM:g} mm a face.")
    return value


Where = Annotated[Literal["neutral", "outside"], BeforeValidator(_where)]


@request
class Shank:
    """The shank at its bottom: profile, width along the finger, thickness, and its thinnest place [mm]."""

    profile: ProfileKey
    thickness_mm: PositiveMm
    width_mm: PositiveMm | None = None
    side_mm: Mm | None = None
    thinnest_mm: PositiveMm | None = None


@request
class Stone:
    """A stone and how it is held. ``treated``: filled, oiled, coated or dyed.

    Where it is not in the head: ``at_mm`` is its middle along the neutral line from the cut, to the right above
    nought, ``from_joint_mm`` how far it sits from it without a side, which means the nearer; ``span_mm`` how much of
    the ring it takes along that line.
    """

    kind: StoneKey
    setting: SettingKey = "claw"
    glued: bool = False
    treated: bool = False
    from_joint_mm: PositiveMm | None = None
    at_mm: SignedMm | None = None
    span_mm: PositiveMm | None = None

    def __post_init__(self) -> None:
        """Refuse two places for one stone."""
        if self.at_mm is not None and self.from_joint_mm is not None:
            raise UnreadableError("at_mm", "Its place was said twice.", "Say it once: with its side, or without.")


@request
class Pattern:
    """A pattern that repeats round the ring, its pitch [mm] along the neutral line or on the outside."""

    pitch_mm: PositiveMm
    at: Where = "neutral"


@request
class Head:
    """The head: the chord [mm] that it spans at the inside."""

    span_mm: PositiveMm


@request
class SizingJoin:
    """What happens at the cut: passes of the saw through the joint, of each seam of an insert, squaring of a face.

    ``heats``: the two seams of an insert one after the other, or both in one heat.
    """

    blade: BladeKey = "4/0"
    saw_passes: Count = 1
    seam_passes: Count = 0
    faces_mm: Annotated[Mm, AfterValidator(_face)] = 0.05
    heats: HeatsKey = "one-by-one"


@request
class AtHand:
    """A piece at hand for an insert [mm], and where its length was measured."""

    length_mm: PositiveMm
    at: Where = "neutral"
    width_mm: PositiveMm | None = None
    thickness_mm: PositiveMm | None = None


@request
class MetalTest:
    """How the metal was tested, as it was found: the mark in it, whether a magnet pulls it, what touch said."""

    mark: Annotated[str, Field(max_length=40)] = ""
    magnet: Annotated[Literal["", "yes", "no"], BeforeValidator(_pull)] = ""
    touch: Annotated[str, Field(max_length=120)] = ""


@request
class ResizeRequest:
    """A ring to be resized: its size now, the size wanted, what it is made of and what is in it.

    ``from_mm`` is its inside diameter as it was read at the bench, trued: it goes before what was said before.
    ``from_sides`` are its two readings, from either side of the mandrel; ``daylight`` that light showed under it.
    ``method`` chooses one, else the best; a ``never`` wants ``override_reason``. ``offcut`` is whose metal is that is
    taken out: handed back, or credited by the shop. ``made`` is what was really done at its joints, ``seam_solders``
    which solders were chosen for them. ``torches`` are the shop's, by what they have done; ``gap_inside_mm`` is the
    gap of the opened ring as it was read across its inside, ``kept_outside_mm`` what is kept of a ring that gets a
    new lower part, round its outside. ``parts`` are made beside it for its top. ``ways``: whether a shop's
    ways fill what is left out, ``from_ways`` what they filled.
    """

    from_: Annotated[SizeText, Field(alias="from")]
    to: SizeText
    metal: RingMetalKey
    shank: Shank
    stones: Annotated[tuple[Stone, ...], _at_most(MOST_STONES, "stones")] = ()
    features: Annotated[tuple[FeatureKey, ...], BeforeValidator(_once)] = ()
    pattern: Pattern | None = None
    head: Head | None = None
    cutter_gaps_mm: Annotated[tuple[PositiveMm, ...], _at_most(12, "cutters"), _apart_by_blanks()] = ()
    join: SizingJoin = SizingJoin()
    daylight: bool = False
    from_sides: Annotated[tuple[SizeText, SizeText] | None, Field()] = None
    seam_open: bool = False
    method: MethodKey | None = None
    override_reason: Annotated[str, Field(max_length=300)] = ""
    piece: AtHand | None = None
    tested: MetalTest | None = None
    offcut: Annotated[Literal["returned", "credited"], BeforeValidator(_offcut)] = "returned"
    from_mm: PositiveMm | None = None
    from_gauge: GaugeRequest | None = None
    to_gauge: GaugeRequest | None = None
    solders: OwnSolders = ()
    own: OwnFigures = OwnFigures()
    made: Made = ()
    seam_solders: SeamSolders = ()
    torches: Torches = ()
    gap_inside_mm: PositiveMm | None = None
    kept_outside_mm: PositiveMm | None = None
    parts: Parts = ()
    surfaces: Surfaces | None = None
    finish_with: FinishWithKey = "wheel"
    home_scale: ScaleKey = "us"
    units: UnitKey = "mm"
    degrees: DegreesKey = "c"
    half_size: HalfSizeKey = "stretch"
    repair_solder: RepairSolderKey = "ladder"
    delicate_stones: DelicateKey = "unset"
    glued_stones: GluedKey = "agreed"
    ways: WaysKey = "none"
    from_ways: FromWays = ()
