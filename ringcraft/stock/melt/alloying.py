"""Up or down in karat by mass balance: how much fine metal or alloy goes to what there is."""

from __future__ import annotations

import math
from dataclasses import dataclass
from typing import Annotated, Any, Literal

from pydantic import BeforeValidator, TypeAdapter

from ringcraft.errors import BadRequest, CraftError, OutOfRangeError, UnreadableError
from ringcraft.metals import METALS, MetalKey
from ringcraft.schema import read_figure, read_request, request
from ringcraft.stock.melt.mixing import HEAVIEST_G, Mass, StateKey, incompatible_to_alloy, state_refusal

FINE, KARATS = 1000.0, 24.0
MARKS = {14.0: 585.0, 22.0: 916.0}  # what is struck for a karat where that is not its share: common practice
NEAR = 0.05  # of a thousandth: nearer is the same fineness


def _fineness(value: object) -> float:
    said = read_figure(value, ("‰", "/1000"), "In thousandths, such as 585 or 750.", "That is no fineness.")
    if 0 < said <= 1:
        raise OutOfRangeError("", f"{said:g} is a share.", "In thousandths, such as 585 or 750.")
    if 1 < said <= KARATS:
        told = f"{MARKS.get(said, said / KARATS * FINE):.0f}"
        raise OutOfRangeError("", f"{said:g}: karats? A fineness is in thousandths.", f"{told} for {said:g} karat.")
    if not 0 <= said <= FINE:
        raise OutOfRangeError("", f"{said:g} is no fineness.", "From 0 to 1000 thousandths.")
    return said


Fineness = Annotated[float, BeforeValidator(_fineness)]


@request
class MeltPart:
    """Metal that goes in: its fineness in thousandths, its mass [g]; its alloy, which says the fineness too."""

    fineness: Fineness | None = None
    mass_g: Mass
    metal: MetalKey | None = None
    state: StateKey = "clean"

    def __post_init__(self) -> None:
        """Refuse what has no fineness; raises CraftError at its field."""
        if self.fineness is None and (self.metal is None or fineness_of(self.metal) is None):
            raise UnreadableError("fineness", "How fine is it?", "In thousandths, such as 585 or 750.")

    @property
    def fine(self) -> float:
        """Its fineness in thousandths."""
        if self.fineness is not None:
            return self.fineness
        return (fineness_of(self.metal) if self.metal else None) or 0.0


def _few(value: object) -> object:
    if isinstance(value, (list, tuple)) and len(value) > 40:
        raise OutOfRangeError("", "More than one crucible.", "At most 40.")
    return value


@request
class AlloyRequest:
    """What is at hand and the fineness wanted, in thousandths, or that of a metal."""

    parts: Annotated[tuple[MeltPart, ...], BeforeValidator(_few)]
    target_fineness: Fineness | None = None
    target_metal: MetalKey | None = None

    def __post_init__(self) -> None:
        """Refuse what is no metal; raises CraftError at its field."""
        if not self.parts or math.fsum(part.mass_g for part in self.parts) <= 0:
            raise UnreadableError("parts", "Nothing is in the crucible yet.", "One part with its mass at least.")
        if self.target_fineness is None and (self.target_metal is None or fineness_of(self.target_metal) is None):
            raise UnreadableError("target_fineness", "How fine is it to be?", "In thousandths, such as 585 or 750.")
        if self.target <= 0:
            raise OutOfRangeError("target_fineness", "That is no precious metal.", "Such as 585 or 750.")

    @property
    def target(self) -> float:
        """The fineness wanted, in thousandths."""
        if self.target_fineness is not None:
            return self.target_fineness
        return (fineness_of(self.target_metal) if self.target_metal else None) or 0.0


@dataclass(frozen=True)
class AlloyPlan:
    """What to add [g], and what it comes to: its mass [g], its fineness before and after in thousandths."""

    add: Literal["alloy", "fine", "nothing"]
    mass_g: float
    total_g: float
    fineness_before: float
    fineness: float
    says: tuple[str, ...]


_READER: TypeAdapter[Any] = TypeAdapter(AlloyRequest)


def alloy(data: object) -> AlloyPlan:
    """What to add for a fineness, from plain JSON data; raises BadRequest."""
    return answer_alloy(read_request(_READER, data))


def answer_alloy(asked: AlloyRequest) -> AlloyPlan:
    """What to add for a fineness; raises BadRequest where it cannot be had, or metal does not go in."""
    _check(asked)
    mass = math.fsum(part.mass_g for part in asked.parts)
    fine = math.fsum(part.mass_g * part.fine for part in asked.parts) / FINE
    before, target = fine / mass * FINE, asked.target
    if abs(before - target) <= NEAR:
        return AlloyPlan("nothing", 0.0, mass, before, before, (f"It is {before:.0f} already.",))
    if before > target:
        add = fine / target * FINE - mass
        said = f"{add:.2f} g of alloy bring {mass:.2f} g of {before:.0f} down to {target:.0f}."
        return _checked(AlloyPlan("alloy", add, mass + add, before, target, (said, MASTER)))
    if target > FINE - NEAR:
        raise BadRequest([OutOfRangeError("target_fineness", "No adding makes it fine.", "It goes to the refiner.")])
    add = (target * mass / FINE - fine) / (1 - target / FINE)
    said = f"{add:.2f} g of fine metal bring {mass:.2f} g of {before:.0f} up to {target:.0f}."
    return _checked(AlloyPlan("fine", add, mass + add, before, target, (said,)))


#: What an alloy to add is.
MASTER = "Alloy of the colour wanted, made for it by its maker: what is in it decides colour and how it works."


def _checked(plan: AlloyPlan) -> AlloyPlan:
    if plan.total_g > HEAVIEST_G:
        said = f"That would come to {plan.total_g:.3g} g."
        raise BadRequest([OutOfRangeError("target_fineness", said, f"A bench melts at most {HEAVIEST_G:g} g.")])
    return plan


def _check(asked: AlloyRequest) -> None:
    errors: list[CraftError] = []
    first = asked.target_metal or next((part.metal for part in asked.parts if part.metal is not None), None)
    for place, part in enumerate(asked.parts):
        if why := state_refusal(part.state):
            errors.append(UnreadableError(f"parts.{place}.state", why, "Leave it out."))
        if part.metal is None:
            continue
        known = fineness_of(part.metal)
        if known is not None and abs(known - part.fine) > 10:
            errors.append(
                UnreadableError(
                    f"parts.{place}.fineness", f"{METALS[part.metal].title} is {known:.0f} fine.", "Test it."
                )
            )
        if first is not None and (why := incompatible_to_alloy(first, part.metal)):
            errors.append(UnreadableError(f"parts.{place}.metal", why, "Leave it out."))
    if errors:
        raise BadRequest(errors)


def fineness_of(metal: str) -> float | None:
    """The fineness of a metal in thousandths by its composition; None where it is not precious."""
    return METALS[metal].fineness
