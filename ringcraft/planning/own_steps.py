"""Steps of a shop's own: what it adds to a style's route, leaves out of it or does elsewhere in it.

Each change names the step that it is about and the step that it comes after, by the keys of the style's own table. A
change is worked on the virtual bench before it is kept (:mod:`ringcraft.own_routes`) and at every order.
"""

from __future__ import annotations

import re
from collections.abc import Mapping, Sequence
from typing import Annotated

from pydantic import BeforeValidator

from ringcraft.errors import OutOfRangeError, UnreadableError
from ringcraft.reading import tidy
from ringcraft.schema import name_of, read_figure, request
from ringcraft.tables import rows

MOST_MINUTES, MOST_STEPS, MOST_TITLE, MOST_SAYS = 6000.0, 120, 50, 300
ADDED, OUT, MOVED = "added", "out", "moved"
CHANGES = {ADDED: "added", OUT: "left out", MOVED: "moved"}
STEPS_BY = {"shop": "the shop's own", "ours": "the usual ones"}
STATIONS = ("measure", "cut", "anneal", "form", "join", "pickle", "round", "finish")
OWN = "own-"
STEPS_WAY = "own.steps"  # where a shop's ways fill them in an order
#: What an added step can do to the piece, beside words: the deeds of each by its key.
OWN_DEEDS = {row["key"]: row for row in rows("own-deeds", "deed")}
DEED_TITLES = {key: row["title"] for key, row in OWN_DEEDS.items()}

ChangeKey = name_of("change", CHANGES, {title: key for key, title in CHANGES.items()})
StepsByKey = name_of("whose steps", STEPS_BY)
StationKey = name_of("station", dict.fromkeys(STATIONS))
DeedKey = name_of("deed", DEED_TITLES, {title: key for key, title in DEED_TITLES.items()})
_KEY = re.compile(r"[a-z0-9]+(-[a-z0-9]+)*")


def _minutes(value: object) -> float:
    said = read_figure(value, (), "Write 8, or 2.5.", "These are no minutes.")
    if not 0 <= said <= MOST_MINUTES:
        raise OutOfRangeError("", "No step takes that many minutes.", f"From 0 to {MOST_MINUTES:.0f}.")
    return said


def _key(value: object) -> str:
    text = tidy(value) if isinstance(value, str) and len(value) <= 80 else None
    if text is None or (text and not _KEY.fullmatch(text)):
        raise UnreadableError("", "That is no step.", "By its short name, such as pickle-annealed.")
    return text


def _line(most: int) -> BeforeValidator:
    def read(value: object) -> str:
        text = " ".join(value.split()) if isinstance(value, str) else None
        if text is None or not text.isprintable() or "{" in text or "}" in text:
            raise UnreadableError("", "Words as they are read at the bench.", "Plain text, in one line.")
        if len(text) > most:
            raise OutOfRangeError("", "That is too long for a step.", f"At most {most} characters.")
        return text

    return BeforeValidator(read)


Minutes = Annotated[float, BeforeValidator(_minutes)]
StepName = Annotated[str, BeforeValidator(_key)]


@request
class OwnStep:
    """One change of a style's route: ``step`` is left out, or moved to come after another (empty: to be the first).

    An added step has a ``title``, what it ``says``, the station where it is done, minutes of hands and of waiting,
    and a ``deed`` if it does anything to the piece.
    """

    style: StepName
    change: ChangeKey
    step: StepName = ""
    after: StepName = ""
    title: Annotated[str, _line(MOST_TITLE)] = ""
    says: Annotated[str, _line(MOST_SAYS)] = ""
    station: StationKey = "form"
    hands_min: Minutes = 0.0
    wait_min: Minutes = 0.0
    deed: DeedKey = "none"

    def __post_init__(self) -> None:
        """Refuse a change that says nothing."""
        if self.change == ADDED and not self.key:
            raise UnreadableError("title", "What is done there?", "A few words, such as: Number the inside.")
        if self.change != ADDED and not self.step:
            raise UnreadableError("step", "Which step?", "By its short name.")

    @property
    def key(self) -> str:
        """The key of the step in the route: of an added one from its title."""
        if self.change != ADDED:
            return self.step
        slug = "-".join(re.findall(r"[a-z0-9]+", self.title.lower()))
        if not slug and self.title:
            slug = "-".join(f"{ord(one):x}" for one in self.title[:8] if not one.isspace())
        return f"{OWN}{slug}" if slug else ""


def _bounded(value: object) -> object:
    if isinstance(value, (list, tuple)) and len(value) > MOST_STEPS:
        raise OutOfRangeError("", "More changes than a shop has steps.", f"At most {MOST_STEPS}.")
    return value


#: Every change that a shop makes to routes, of all styles.
OwnSteps = Annotated[tuple[OwnStep, ...], BeforeValidator(_bounded)]


def without_steps(_: object, ways: Mapping[str, object]) -> dict[str, object]:
    """A shop's ways without its own steps: those are of styles of rings to make, and of no other work."""
    return {path: value for path, value in ways.items() if path != STEPS_WAY}


def steps_in(way: object, style: str) -> list[object]:
    """Of a shop's changes as plain data those of one style."""
    listed = way if isinstance(way, (list, tuple)) else ()
    return [one for one in listed if isinstance(one, Mapping) and one.get("style") == style]


def steps_of(changes: Sequence[OwnStep], style: str) -> tuple[OwnStep, ...]:
    """The changes of one style's route, in the order in which they are made."""
    return tuple(one for one in changes if one.style == style)
