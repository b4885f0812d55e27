"""A shop's day as its ways: when it is open, who works when, what its pots and tumblers hold."""

from __future__ import annotations

import re
from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from datetime import UTC, date, datetime, time, timedelta
from functools import cache
from typing import Annotated, Any
from zoneinfo import ZoneInfo, available_timezones

from pydantic import BeforeValidator

from ringcraft.day.kinds import ACID, NICKEL
from ringcraft.errors import OutOfRangeError, UnreadableError
from ringcraft.schema import name_of, read_figure, request
from ringcraft.tables import record

WEEKDAYS = ("monday", "tuesday", "wednesday", "thursday", "friday", "saturday", "sunday")
EVERY_DAY = "every"
DAYS = {EVERY_DAY: "every day", **{key: key for key in WEEKDAYS}}
BATHS = {ACID: "pickle", NICKEL: "pickle for nickel white"}
OPEN_FIELDS: Mapping[str, str] = {
    "opens": "opens",
    "closes": "closes",
    "midday_from": "midday from",
    "midday_to": "to",
}
YES_NO = {"yes": "yes", "no": "no"}
MOST_ROWS = 60
_CLOCK = re.compile(r"(?P<h>[0-9]{1,2})(?:[:.h ](?P<m>[0-9]{2}))?\s*(?P<half>am|pm)?")


def _clock(value: object) -> str:
    """A time of day as people write it: 9, 9:30, 17.30, 5 pm."""
    if value in (None, ""):
        return ""
    found = _CLOCK.fullmatch(str(value).strip().lower()) if isinstance(value, (str, int)) else None
    if found is None:
        raise UnreadableError("", "That is no time of a day.", "Write 9:00 or 17:30.")
    hour, minute = int(found["h"]), int(found["m"] or 0)
    if found["half"]:
        hour = hour % 12 + (12 if found["half"] == "pm" else 0)
    if hour > 24 or minute > 59 or (hour == 24 and minute):
        raise OutOfRangeError("", "No day has that hour.", "From 0:00 to 24:00.")
    return f"{hour}:{minute:02d}"


def _date(value: object) -> str:
    try:
        return date.fromisoformat(value.strip() if isinstance(value, str) else "").isoformat()
    except ValueError:
        raise UnreadableError("", "That is no day.", "Such as 2027-12-24.") from None


def _zone(value: object) -> str:
    text = value.strip() if isinstance(value, str) else ""
    if text and text not in zones():
        raise UnreadableError("", "That time zone is not known here.", "Such as Europe/Vienna, or leave it open.")
    return text


@cache
def zones() -> frozenset[str]:
    """The time zones that are known here, by their names."""
    return frozenset(available_timezones())


def _held(value: object) -> int:
    holds = read_figure(value, (), "Write how many rings.", "That is no count.")
    if holds != holds // 1 or not 0 <= holds <= 400:
        raise OutOfRangeError("", "That is no count of rings.", "A whole number from 0 to 400.")
    return int(holds)


def _lighting(value: object) -> float:
    minutes = read_figure(value, ("min",), "Write minutes, such as 8.", "These are no minutes.")
    if not 0 <= minutes <= 60:
        raise OutOfRangeError("", "No torch takes that long to light and put away.", "From 0 to 60 minutes.")
    return minutes


def _torches(value: object) -> int:
    count = read_figure(value, (), "Write how many torches.", "That is no count of torches.")
    if count != count // 1 or not 0 <= count <= 12:
        raise OutOfRangeError("", "That is no count of torches.", "A whole number from 0 to 12.")
    return int(count)


def _text(value: object) -> str:
    text = " ".join(str(value or "").split()) if isinstance(value, (str, type(None))) else "\n"
    if len(text) > 60 or "\n" in text:
        raise UnreadableError("", "This is no name.", "At most 60 letters.")
    return text


def _named(value: object) -> str:
    text = _text(value)
    if not text:
        raise UnreadableError("", "And its name?", "Such as: the pot by the window.")
    return text


Clock = Annotated[str, BeforeValidator(_clock)]
Day = Annotated[str, BeforeValidator(_date)]
Zone = Annotated[str, BeforeValidator(_zone)]
Held = Annotated[int, BeforeValidator(_held)]
Lighting = Annotated[float, BeforeValidator(_lighting)]
TorchCount = Annotated[int, BeforeValidator(_torches)]
Text = Annotated[str, BeforeValidator(_text)]
Named = Annotated[str, BeforeValidator(_named)]
WeekdayKey = name_of("weekday", dict.fromkeys(WEEKDAYS, ""))
DayKey = name_of("day", DAYS, {"every day": EVERY_DAY, "daily": EVERY_DAY})
BathKey = name_of("bath", BATHS, {"pickle": ACID})
YesKey = name_of("answer", YES_NO, {"true": "yes", "false": "no"})


@request
class OpenDay:
    """When the shop is open on a weekday, with its midday; nothing said: closed on that day."""

    weekday: WeekdayKey
    opens: Clock = ""
    closes: Clock = ""
    midday_from: Clock = ""
    midday_to: Clock = ""


@request
class ClosedDay:
    """A day on which nobody works."""

    day: Day
    why: Text = ""


@request
class WorkDay:
    """When somebody works, where that is not the whole of the opening hours; without hours: not on that day."""

    person: Named
    weekday: DayKey = EVERY_DAY
    begins: Clock = ""
    ends: Clock = ""
    torch: YesKey = "yes"


@request
class PotRow:
    """A pot, the bath in it, and how many rings it holds at once."""

    name: Named
    bath: BathKey = ACID
    holds: Held = 4


@request
class TumblerRow:
    """A tumbler and how many rings it holds at once."""

    name: Named
    holds: Held = 10


def _listed(value: object) -> object:
    if value is None:
        return ()
    if not isinstance(value, (list, tuple)):
        raise UnreadableError("", "This is no list.", "Write it inside [ ].")
    if len(value) > MOST_ROWS:
        raise OutOfRangeError("", "More rows than a shop has.", f"At most {MOST_ROWS}.")
    return value


def _rows(kind: Any) -> Any:
    return Annotated[tuple[kind, ...], BeforeValidator(_listed)]


OpenDays = _rows(OpenDay)
ClosedDays = _rows(ClosedDay)
WorkDays = _rows(WorkDay)
Pots = _rows(PotRow)
Tumblers = _rows(TumblerRow)


@dataclass(frozen=True)
class ShopDay:
    """The ways of a day in force."""

    zone: str
    opening: Sequence[OpenDay]
    closed: Sequence[ClosedDay]
    works: Sequence[WorkDay]
    pots: Sequence[PotRow]
    tumblers: Sequence[TumblerRow]
    torches: int
    light_min: float


def our_opening() -> tuple[OpenDay, ...]:
    """The hours that hold until a shop says its own: five days with a midday."""
    table = record("day")
    hours = {name: table[name] for name in OPEN_FIELDS}
    return tuple(OpenDay(weekday=key, **(hours if nth < 5 else {})) for nth, key in enumerate(WEEKDAYS))


def our_pots() -> tuple[PotRow, ...]:
    """The pots that are assumed until a shop says its own: one of each bath."""
    holds = int(record("day")["pot_holds"])
    return (PotRow(name="pot", bath=ACID, holds=holds), PotRow(name="pot for nickel", bath=NICKEL, holds=holds))


def our_tumblers() -> tuple[TumblerRow, ...]:
    """The tumbler that is assumed until a shop says its own."""
    return (TumblerRow(name="tumbler", holds=int(record("day")["tumbler_holds"])),)


def pots_of(day: ShopDay) -> tuple[PotRow, ...]:
    """The pots in force: the shop's own, and ours of other names."""
    named = {row.name for row in day.pots}
    return (*day.pots, *(row for row in our_pots() if row.name not in named))


def tumblers_of(day: ShopDay) -> tuple[TumblerRow, ...]:
    """The tumblers in force: the shop's own, and ours of other names."""
    named = {row.name for row in day.tumblers}
    return (*day.tumblers, *(row for row in our_tumblers() if row.name not in named))


def windows(day: ShopDay, person: str, first: date, days: int) -> list[tuple[datetime, datetime]]:
    """The hours in which somebody works, day by day from the first, as they pass in the shop's time zone.

    An hour that is skipped or comes twice is counted as it passes.
    """
    out: list[tuple[datetime, datetime]] = []
    opening = {one.weekday: one for one in (*our_opening(), *day.opening)}
    closed = {one.day for one in day.closed}
    zone = ZoneInfo(day.zone)
    for nth in range(days):
        on = first + timedelta(days=nth)
        if on.isoformat() in closed:
            continue
        spans = _spans(opening[WEEKDAYS[on.weekday()]], _works_on(day.works, person, WEEKDAYS[on.weekday()]))
        for begins, ends in spans:
            span = (_at(on, begins, zone), _at(on, ends, zone))
            if span[1] > span[0]:
                out.append(span)
    return out


def _works_on(works: Sequence[WorkDay], person: str, weekday: str) -> WorkDay | None:
    """What is said of a person's hours on a weekday: of that day before every day."""
    mine = [one for one in works if one.person.lower() == person.lower()]
    return next((one for key in (weekday, EVERY_DAY) for one in mine if one.weekday == key), None)


def _spans(opening: OpenDay, works: WorkDay | None) -> list[tuple[int, int]]:
    """The working minutes of a day: the opening hours without midday, within a person's own."""
    begins, ends = minutes_of(opening.opens), minutes_of(opening.closes)
    if works is not None:
        if not works.begins and not works.ends:
            return [] if works.weekday != EVERY_DAY else _spans(opening, None)
        begins = minutes_of(works.begins) if works.begins else begins
        ends = minutes_of(works.ends) if works.ends else ends
    if begins is None or ends is None or ends <= begins:
        return []
    rests, goes_on = minutes_of(opening.midday_from), minutes_of(opening.midday_to)
    if rests is None or goes_on is None or goes_on <= rests:
        return [(begins, ends)]
    return [(a, b) for a, b in ((begins, min(ends, rests)), (max(begins, goes_on), ends)) if b > a]


def minutes_of(clock: str) -> int | None:
    """Minutes since midnight of a time of day; None where none is said.

    >>> minutes_of("9:30"), minutes_of("")
    (570, None)
    """
    if not clock:
        return None
    hour, _, minute = clock.partition(":")
    return int(hour) * 60 + int(minute)


def _at(on: date, minutes: int, zone: ZoneInfo) -> datetime:
    """A time of a day in a zone, in absolute time. One that is skipped is as late as its clock shows after it."""
    day, rest = divmod(minutes, 1440)
    local = datetime.combine(on + timedelta(days=day), time(rest // 60, rest % 60), zone)
    return local.astimezone(UTC)


def may_light(works: Sequence[WorkDay], person: str) -> bool:
    """Whether somebody uses the torch: yes, unless a row of theirs says no."""
    return all(one.torch == "yes" for one in works if one.person.lower() == person.lower())
