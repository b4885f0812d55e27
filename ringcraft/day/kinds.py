"""What a step is to a day: its kind follows from what it does, its bath from the metal."""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import dataclass
from functools import cache
from pathlib import Path

from ringcraft.metals import ALL_METALS
from ringcraft.routes.steps import Step
from ringcraft.tables import HERE, rows

#: Which deed gives a step its kind, the first of them that it does.
DEEDS = ("solder", "anneal", "pickle", "rinse", "tumble", "flux")
WAITS = {
    "pickle": "in the pickle",
    "solder": "cooling",
    "anneal": "cooling",
    "tumble": "in the tumbler",
    "glue": "the glue cures",
}
NICKEL, ACID = "nickel", "acid"


@dataclass(frozen=True)
class LeftStep:
    """A step that is left, as a day needs it: its minutes of hands and of waiting, its kind, its bath."""

    key: str
    title: str
    station: str
    kind: str
    hands_min: float
    wait_min: float
    bath: str


@cache
def _glued() -> frozenset[str]:
    """The steps of any route whose wait is the cure of glue: a field of the step, where no deed says so."""
    tables = [
        path.relative_to(HERE).with_suffix("").as_posix() for path in sorted(Path(HERE / "routes").glob("*.toml"))
    ]
    return frozenset(row["key"] for table in tables for row in rows(table, "step") if row.get("glue"))


def kind_of(step: Step) -> str:
    """Whether a step is done at the flame, in a bath, in the tumbler or under glue; else it is work of the hands.

    A step of an older plan, which knows no deeds, is told by where it is done.
    """
    ops = {deed.op for deed in step.does}
    for op in DEEDS:
        if op in ops:
            return op
    if "glue" in ops or step.key.partition("@")[0] in _glued():
        return "glue"
    if not step.does and step.torch:
        return "solder" if step.station == "join" else "anneal"
    if not step.does and step.station == "pickle":
        return "pickle"
    return "work"


def bath_of(metal: str) -> str:
    """The pot that a metal goes into: nickel would plate out on what is pickled after it, so it has its own."""
    known = ALL_METALS.get(metal)
    return NICKEL if known is not None and known.composition.get("Ni", 0.0) > 0 else ACID


def left_steps(route: Iterable[Step], done: Iterable[str], metal: str) -> tuple[LeftStep, ...]:
    """What is left of a route, in its order."""
    gone = set(done)
    out = []
    for step in route:
        if step.key in gone:
            continue
        kind = kind_of(step)
        bath = bath_of(metal) if kind == "pickle" else ""
        out.append(LeftStep(step.key, step.title, step.station, kind, step.hands_min, step.wait_min, bath))
    return tuple(out)
