"""What is asked of the record: rings as they came out, by group, and which corrections are in force."""

from __future__ import annotations

from dataclasses import field
from datetime import date
from typing import Annotated, Any

from pydantic import BeforeValidator, Field, TypeAdapter

from ringcraft.errors import OutOfRangeError, UnreadableError
from ringcraft.reading import read_length
from ringcraft.schema import IN_OWN_UNITS, SignedMm, UnitKey, bare_unit, request

MOST_MISSES, MOST_GROUPS, LONGEST_NAME = 20_000, 400, 80
FURTHEST_MM = 60.0  # round: further off it is no ring of this finger at all


def _name(value: object) -> str:
    if not isinstance(value, str) or not value.strip():
        raise UnreadableError("", "This is no name.", "Such as half-round sterling.")
    if len(value) > LONGEST_NAME:
        raise OutOfRangeError("", "That is too long a name.", f"At most {LONGEST_NAME} letters.")
    return value.strip()


def _day(value: object) -> str:
    if value in (None, ""):
        return ""
    try:
        return date.fromisoformat(str(value)[:10] if isinstance(value, str) else "").isoformat()
    except ValueError:
        raise UnreadableError("", "That is no day.", "Such as 2027-03-18.") from None


def _miss(value: object) -> float:
    mm = read_length(value, signed=True, bare=bare_unit())
    if abs(mm) > FURTHEST_MM:
        raise OutOfRangeError("", "No ring closes {off:g mm} beside itself.", "At most {most:g mm}.",
                              off=mm, most=FURTHEST_MM)  # fmt: skip
    return mm


def _listed(most: int, what: str) -> Any:
    def read(value: object) -> object:
        if not isinstance(value, (list, tuple)):
            raise UnreadableError("", f"These are no {what}.", "Write them inside [ ].")
        if len(value) > most:
            raise OutOfRangeError("", f"More than {most} {what} are more than one look.", f"At most {most}.")
        return value

    return BeforeValidator(read)


Name = Annotated[str, BeforeValidator(_name)]
Label = Annotated[str, BeforeValidator(lambda value: "" if value in (None, "") else _name(value))]
Day = Annotated[str, BeforeValidator(_day)]
Miss = Annotated[float, BeforeValidator(_miss)]


@request
class RingMiss:
    """How a ring came out: ``mm`` is what the neutral line alone would have missed round, > 0 large.

    ``gauge`` is what it was read on, ``calibrated`` how that stood; a gauge calibrated anew is another one to drift.
    """

    group: Name
    mm: Miss
    at: Day = ""
    gauge: Label = ""
    calibrated: Label = ""
    person: Label = ""


@request
class LearnRequest:
    """Rings as they came out, in the order they were read; ``in_force`` are the corrections in their sign [mm]."""

    misses: Annotated[tuple[RingMiss, ...], _listed(MOST_MISSES, "rings")]
    groups: Annotated[tuple[Name, ...], _listed(MOST_GROUPS, "groups")] = ()
    in_force: Annotated[dict[str, SignedMm], Field(max_length=MOST_GROUPS)] = field(default_factory=dict)
    units: UnitKey = "mm"


LEARN: TypeAdapter[LearnRequest] = TypeAdapter(Annotated[LearnRequest, IN_OWN_UNITS])
