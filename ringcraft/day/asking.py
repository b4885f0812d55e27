"""What a plan of the day is asked with: people, torches, pots, tumblers, and what is left of each job."""

from __future__ import annotations

from collections.abc import Sequence
from typing import Annotated, Any

from pydantic import BeforeValidator, TypeAdapter, WithJsonSchema

from ringcraft.errors import BadRequest, CraftError, OutOfRangeError, UnknownNameError, UnreadableError
from ringcraft.schema import read_figure, read_request, request

MOST_JOBS, MOST_STEPS, MOST_PEOPLE, MOST_WINDOWS = 400, 200, 24, 400
MOST_MOVES = 100_000
FURTHEST_MIN = 1_000_000.0  # near two years: no plan reaches so far
MOST_STEP_MIN = 20_000.0  # two weeks: no wait of a bench is longer


def _minute(value: object) -> float:
    minute = read_figure(value, ("min",), "Write minutes, such as 90.", "That is no minute of a day.")
    if abs(minute) > FURTHEST_MIN:
        raise OutOfRangeError("", "That is further off than any plan of a bench.", "At most two years of minutes.")
    return minute


def _span(value: object) -> float:
    span = read_figure(value, ("min",), "Write minutes, such as 6.", "These are no minutes.")
    if not 0 <= span <= MOST_STEP_MIN:
        raise OutOfRangeError("", "No step takes that many minutes.", "From 0 to 20000.")
    return span


def _weight(value: object) -> float:
    weight = read_figure(value, (), "Write 1, or 2 where it matters twice as much.")
    if not 0 < weight <= 100:
        raise OutOfRangeError("", "That is no weight of a promise.", "More than 0, at most 100.")
    return weight


def _holds(value: object) -> int:
    return _whole(value, 0, 1000, "That is no count of what it holds.")


def _place(value: object) -> int:
    return _whole(value, 0, MOST_STEPS - 1, "A step is told by its place, from 0.")


def _whole(value: object, least: int, most: int, message: str) -> int:
    figure = read_figure(value, (), "Write a whole number.", message)
    if figure != figure // 1 or not least <= figure <= most:
        raise OutOfRangeError("", message, f"A whole number from {least} to {most}.")
    return int(figure)


def _name(value: object) -> str:
    if isinstance(value, int) and not isinstance(value, bool):
        value = str(value)
    if not isinstance(value, str) or not value.strip() or len(value) > 120:
        raise UnreadableError("", "This is no name.", "Such as J1.")
    return value.strip()


def _label(value: object) -> str:
    return "" if value in (None, "") else _name(value)


def _word(value: object) -> str:
    return _label(value).lower()


def _listed(most: int, what: str) -> Any:
    def read(value: object) -> object:
        if value is None:
            return ()
        if not isinstance(value, (list, tuple)):
            raise UnreadableError("", f"These are no {what}.", "Write them inside [ ].")
        if len(value) > most:
            raise OutOfRangeError("", f"More than {most} {what} are more than one plan.", f"At most {most}.")
        return value

    return BeforeValidator(read)


_NUMBER = WithJsonSchema({"anyOf": [{"type": "number"}, {"type": "string"}]}, mode="validation")
Minute = Annotated[float, BeforeValidator(_minute), _NUMBER]
Span = Annotated[float, BeforeValidator(_span), _NUMBER]
Weight = Annotated[float, BeforeValidator(_weight), _NUMBER]
Holds = Annotated[int, BeforeValidator(_holds)]
Place = Annotated[int, BeforeValidator(_place)]
Moves = Annotated[int, BeforeValidator(lambda v: _whole(v, 0, MOST_MOVES, "That is no count of moves."))]
Seed = Annotated[int, BeforeValidator(lambda v: _whole(v, 0, 2**31 - 1, "A seed is a whole number."))]
Torches = Annotated[int, BeforeValidator(lambda v: _whole(v, 0, 24, "That is no count of torches."))]
Name = Annotated[str, BeforeValidator(_name)]
Label = Annotated[str, BeforeValidator(_label)]
Word = Annotated[str, BeforeValidator(_word)]
Window = tuple[Minute, Minute]


@request
class DayPerson:
    """Who works when: windows of working minutes, and whether the torch is theirs to use."""

    key: Name
    hours: Annotated[tuple[Window, ...], _listed(MOST_WINDOWS, "hours")] = ()
    from_min: Minute | None = None
    to_min: Minute | None = None
    torch: bool = True


@request
class DayPot:
    """A pot of pickle: how many pieces it holds at once, and which bath is in it."""

    key: Name
    holds: Holds
    bath: Word = ""


@request
class DayTumbler:
    """A tumbler and how many pieces it holds at once."""

    key: Name
    holds: Holds


@request
class DayStep:
    """A step that is left: minutes of hands, then of waiting; its kind says which vessel or flame it needs."""

    key: Name
    kind: Word = "work"
    hands_min: Span = 0.0
    wait_min: Span = 0.0
    bath: Word = ""


@request
class DayJob:
    """A job: its steps that are left, when it is promised, and from when it can be worked on."""

    id: Name
    steps: Annotated[tuple[DayStep, ...], _listed(MOST_STEPS, "steps")]
    due_min: Minute | None = None
    from_min: Minute | None = None
    weight: Weight = 1.0


@request
class PlacedStep:
    """A step at a time, by whom and in which vessel: begun, pinned or shown, as a plan answers its starts."""

    job: Name
    step: Place
    at_min: Minute
    person: Label = ""
    vessel: Label = ""


@request
class ShownSession:
    """A torch session of the plan that is shown now; ``flame_min``: when its flame was last used, where known."""

    person: Name
    from_min: Minute
    lit_min: Minute
    to_min: Minute
    flame_min: Minute | None = None


@request
class DayRequest:
    """Everything that a plan of the day follows from; ``before`` are the starts of the plan that is shown now.

    What has begun runs to its end, at least a minute more.

    ``pull``: what is shown for the next half hour keeps its order but begins as soon as hands are free.
    """

    people: Annotated[tuple[DayPerson, ...], _listed(MOST_PEOPLE, "people")]
    jobs: Annotated[tuple[DayJob, ...], _listed(MOST_JOBS, "jobs")]
    now_min: Minute = 0.0
    torches: Torches = 1
    light_min: Span = 8.0
    pots: Annotated[tuple[DayPot, ...], _listed(40, "pots")] = ()
    pot_holds: Holds | None = None
    tumblers: Annotated[tuple[DayTumbler, ...], _listed(40, "tumblers")] = ()
    begun: Annotated[tuple[PlacedStep, ...], _listed(MOST_JOBS * 4, "steps")] = ()
    pinned: Annotated[tuple[PlacedStep, ...], _listed(MOST_JOBS, "pins")] = ()
    before: Annotated[tuple[PlacedStep, ...], _listed(MOST_JOBS * MOST_STEPS, "starts")] = ()
    sessions: Annotated[tuple[ShownSession, ...], _listed(400, "sessions")] = ()
    pull: bool = False
    moves: Moves = 20_000
    seed: Seed = 0


_REQUEST: TypeAdapter[DayRequest] = TypeAdapter(DayRequest)


def read_day(data: object) -> DayRequest:
    """A request for a plan of the day; raises BadRequest with every field that cannot be."""
    return checked_day(read_request(_REQUEST, data))


def checked_day(asked: DayRequest) -> DayRequest:
    """The same request, once its parts go together; raises BadRequest."""
    if problems := _problems(asked):
        raise BadRequest(problems)
    return asked


def _problems(asked: DayRequest) -> list[CraftError]:
    out: list[CraftError] = []
    for where, keys in (("people", [p.key for p in asked.people]), ("jobs", [j.id for j in asked.jobs])):
        seen: set[str] = set()
        for place, key in enumerate(keys):
            if key in seen:
                out.append(UnknownNameError(f"{where}.{place}", f"“{key}” stands there twice.", "Name each once."))
            seen.add(key)
    for place, person in enumerate(asked.people):
        out += _hours_problems(place, person)
    steps = {job.id: len(job.steps) for job in asked.jobs}
    told: tuple[tuple[str, Sequence[PlacedStep]], ...] = (
        ("begun", asked.begun),
        ("pinned", asked.pinned),
    )
    for where, rows in told:
        for place, row in enumerate(rows):
            if row.job not in steps:
                out.append(UnknownNameError(f"{where}.{place}.job", f"“{row.job}” is no job of these.", ""))
            elif row.step >= steps[row.job]:
                hint = f"It has {steps[row.job]}, told by their places from 0."
                out.append(OutOfRangeError(f"{where}.{place}.step", "The job has no such step.", hint))
    known = {person.key for person in asked.people}
    for place, begun in enumerate(asked.begun):
        if begun.person and begun.person not in known:
            out.append(UnknownNameError(f"begun.{place}.person", f"“{begun.person}” does not work here.", ""))
    return out


def _hours_problems(place: int, person: DayPerson) -> list[CraftError]:
    if not person.hours and (person.from_min is None) != (person.to_min is None):
        missing = "from_min" if person.from_min is None else "to_min"
        return [UnreadableError(f"people.{place}.{missing}", "And the other end of the hours?", "Such as 540.")]
    said = person.hours or (((person.from_min or 0.0), (person.to_min or 0.0)),)
    for nth, (begins, closes) in enumerate(said):
        if closes < begins:
            where = f"people.{place}.hours.{nth}" if person.hours else f"people.{place}.to_min"
            return [OutOfRangeError(where, "These hours end before they begin.", "[0, 540]")]
    return []


def hours_of(person: DayPerson) -> list[tuple[float, float]]:
    """The windows in which somebody works, in order, those that meet or overlap as one [min]."""
    said = list(person.hours)
    if not said and person.from_min is not None and person.to_min is not None:
        said = [(person.from_min, person.to_min)]
    out: list[tuple[float, float]] = []
    for begins, ends in sorted(said):
        if out and begins <= out[-1][1] and ends >= begins:
            out[-1] = (out[-1][0], max(out[-1][1], ends))
        elif ends > begins:
            out.append((begins, ends))
    return out
