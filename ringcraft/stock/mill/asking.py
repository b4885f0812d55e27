"""What is asked of the mill: what goes in, what is wanted, how far a pass and an anneal go."""

from __future__ import annotations

from typing import Annotated, Any, Literal

from pydantic import BeforeValidator, TypeAdapter

from ringcraft.errors import OutOfRangeError, UnknownNameError, UnreadableError
from ringcraft.metals import METALS, MetalKey
from ringcraft.planning.own import OwnFigures
from ringcraft.schema import IN_OWN_UNITS, Mm, PositiveMm, Share, UnitKey, request
from ringcraft.sections import PROFILES, THINNEST_MM, ProfileKey, Section, Stock, section_of
from ringcraft.tables import rows
from ringcraft.units import format_power
from ringcraft.work.hardening import POURED_SHARE

LARGEST_MM = 40.0  # of a bar that goes into a bench mill
LEAST_PASS, LEAST_ANNEAL = 0.01, 0.05
_TABLE = {row["key"]: float(row["value"]) for row in rows("milling")}
REDUCTION = _TABLE["reduction"]
GROOVE_LEAST, GROOVE_MOST, GROOVE_SPARE = (_TABLE[key] for key in ("groove_least", "groove_most", "groove_spare"))
MODES = {"square": "both sides, turned each pass", "strip": "thickness only"}
FORMS = ("thin-middle", "thick-middle")


def bears(metal: str, poured: bool) -> float:
    """The share of its area that a bar may lose between two anneals, where nobody says otherwise.

    From the one figure that the card's own bar fills to: a fibre that grows by s loses s / (1 + s) of its area.
    """
    strain = METALS[metal].of_family.strain_limit * (POURED_SHARE if poured else 1.0)
    return strain / (1 + strain)


def _mode(value: object) -> object:
    if value is not None and value not in tuple(MODES):
        raise UnknownNameError("", "A bar is rolled on both sides or on one.", "square or strip.")
    return value


def _form(value: object) -> object:
    if value not in FORMS:
        raise UnknownNameError("", "Its middle is thinned, or its ends are.", " or ".join(FORMS) + ".")
    return value


ModeKey = Annotated[Literal["square", "strip"] | None, BeforeValidator(_mode)]
FormKey = Annotated[Literal["thin-middle", "thick-middle"], BeforeValidator(_form)]


@request
class Bar:
    """A bar as it lies on the bench: its section, and its length where that is known [mm]."""

    profile: ProfileKey = "square"
    thickness_mm: PositiveMm
    width_mm: PositiveMm | None = None
    side_mm: Mm | None = None
    length_mm: PositiveMm | None = None

    @property
    def stock(self) -> Stock:
        """Its section as it is asked for."""
        return Stock(
            profile=self.profile, thickness_mm=self.thickness_mm, width_mm=self.width_mm, side_mm=self.side_mm
        )

    def section(self, field: str) -> Section:
        """Its section; raises CraftError at ``field``."""
        for name in ("thickness_mm", "width_mm"):
            much = getattr(self, name)
            if much is not None and much > LARGEST_MM:
                raise OutOfRangeError(
                    f"{field}.{name}",
                    "No bench mill takes {much:g mm}.",
                    "At most {most:g mm}.",
                    much=much,
                    most=LARGEST_MM,
                )
        return section_of(self.stock, field)


@request
class MillRequest:
    """A bar to roll down [mm]. ``reduction_per_pass`` and ``anneal_at`` are shares of area.

    ``worked_so_far`` is what it was reduced by already since its last anneal: a bar that was measured half-way goes
    on from there. ``poured``: it was melted and poured here. ``now`` is the bar half-way, by the caliper: the rest is
    planned anew from there, its length by its volume where nobody measured it.
    """

    metal: MetalKey
    start: Bar
    target: Bar
    reduction_per_pass: Share = REDUCTION
    anneal_at: Share | None = None
    mode: ModeKey = None
    worked_so_far: Share = 0.0
    poured: bool = False
    now: Bar | None = None
    own: OwnFigures = OwnFigures()
    units: UnitKey = "mm"

    @property
    def bears(self) -> float:
        """The share of area after which it is annealed."""
        return bears(self.metal, self.poured) if self.anneal_at is None else self.anneal_at

    def __post_init__(self) -> None:
        """Refuse what no mill does; raises CraftError at its field."""
        if not LEAST_PASS <= self.reduction_per_pass < 0.9:
            raise OutOfRangeError("reduction_per_pass", "No pass takes that.", "Such as 10 %.")
        if not LEAST_ANNEAL <= self.bears <= 0.95:
            raise OutOfRangeError("anneal_at", "No metal is annealed after that.", "Such as 50 %.")
        if self.reduction_per_pass > self.bears + 1e-12:
            raise OutOfRangeError(
                "reduction_per_pass",
                f"A pass of {100 * self.reduction_per_pass:.0f} % goes past the anneal at {100 * self.bears:.0f} %.",
                "Smaller passes, or a later anneal.",
            )
        if self.worked_so_far > 0.99:
            raise OutOfRangeError("worked_so_far", "Nothing bears that without an anneal.", "Such as 30 %.")


@request
class BarSection:
    """A section as it is to be [mm]."""

    width_mm: PositiveMm
    thickness_mm: PositiveMm

    @property
    def mm2(self) -> float:
        """Its area [mm2]."""
        return self.width_mm * self.thickness_mm


@request
class Now:
    """A bar as it is between two passes, by the caliper [mm]: its length, and its middle's width or thickness."""

    length_mm: PositiveMm
    width_mm: PositiveMm | None = None
    thickness_mm: PositiveMm | None = None


@request
class ThinRequest:
    """A bar thinned in its middle, or at its ends [mm].

    ``end_mm`` of each end stay as they are; with ``thick-middle`` it is ``middle_mm`` in the middle that stays, and
    the ``ends`` are thinned. ``now`` is the bar half-way.
    """

    bar: BarSection
    final_length_mm: PositiveMm
    end_mm: Mm = 8.0
    middle: BarSection | None = None
    form: FormKey = "thin-middle"
    ends: BarSection | None = None
    middle_mm: PositiveMm | None = None
    now: Now | None = None
    metal: MetalKey = "sterling"
    poured: bool = False
    units: UnitKey = "mm"

    def __post_init__(self) -> None:
        """Refuse what cannot be rolled; raises CraftError at its field."""
        if self.form == "thick-middle":
            self._need("ends", self.ends, "How wide and thick are its ends to be?")
            self._need("middle_mm", self.middle_mm, "How long a middle stays as it is?")
        else:
            self._need("middle", self.middle, "How wide and thick is its middle to be?")
        for name, one in (("bar", self.bar), ("middle", self.middle), ("ends", self.ends)):
            if one is not None:
                self._check(name, one)
        stays = self.stays_mm
        if stays >= self.final_length_mm:
            field = "middle_mm" if self.form == "thick-middle" else "end_mm"
            raise OutOfRangeError(
                field,
                "{stays:g} that stay leave nothing to thin of {all:g}.",
                "Less than {all:g} in all.",
                stays=stays,
                all=self.final_length_mm,
            )

    @staticmethod
    def _need(field: str, value: object, message: str) -> None:
        if value is None:
            raise UnreadableError(field, message, "Nothing can be worked out without it.")

    def _check(self, name: str, one: BarSection) -> None:
        for part in ("width_mm", "thickness_mm"):
            much = getattr(one, part)
            if not THINNEST_MM <= much <= LARGEST_MM:
                raise OutOfRangeError(
                    f"{name}.{part}",
                    "No bench mill makes {much:g mm}.",
                    "From {least:g} to {most:g mm}.",
                    much=much,
                    least=THINNEST_MM,
                    most=LARGEST_MM,
                )
        if name == self.thinned_name and one.mm2 >= self.bar.mm2:
            said = [format_power(area, 2, self.units, ".1f") for area in (self.bar.mm2, one.mm2)]
            raise OutOfRangeError(
                f"{name}.thickness_mm", f"{said[0]} cannot be rolled to {said[1]}.", "Less than the bar's own area."
            )

    @property
    def thinned_name(self) -> str:
        """Which of its fields says what is thinned."""
        return "ends" if self.form == "thick-middle" else "middle"

    @property
    def thinned(self) -> BarSection:
        """The section that is thinned."""
        one = self.ends if self.form == "thick-middle" else self.middle
        assert one is not None
        return one

    @property
    def stays_mm(self) -> float:
        """How much of its length stays as it is [mm]."""
        return float(self.middle_mm or 0.0) if self.form == "thick-middle" else 2 * self.end_mm


AnyMill = Annotated[MillRequest, IN_OWN_UNITS]
AnyThin = Annotated[ThinRequest, IN_OWN_UNITS]
MILL: TypeAdapter[Any] = TypeAdapter(AnyMill)
THIN: TypeAdapter[Any] = TypeAdapter(AnyThin)
#: Profiles that are rolled or drawn evenly on all sides, and those that profile rolls give at the end.
EVEN = tuple(key for key, one in PROFILES.items() if one.equal_sided)
STRIPS = tuple(key for key, one in PROFILES.items() if one.flat and not one.equal_sided)
