"""What a changed route does to a ring: which look comes too early or too late, how it ends otherwise than by ours.

The virtual bench refuses a step that a piece cannot bear. This finds what it cannot: a look that no longer says
anything of what follows it, and a ring that ends otherwise than its ledger and its order reckon with.
"""

from __future__ import annotations

from collections.abc import Iterator, Mapping, Sequence
from dataclasses import dataclass
from typing import Any

from ringcraft.routes.own import Row, row_key
from ringcraft.routes.steps import Step
from ringcraft.units import capital
from ringcraft.vbench.pieces import Piece

LOOKS = ("measure", "inspect", "read-size")
SAME_MM = 0.005  # lengths closer than this are one and the same at a bench
SAME_SHARE = 0.001  # of its metal
#: What must stand at the hand-over as by our route, and how it is called where it does not.
_FIGURES = {"length_mm": "its length", "width_mm": "its width", "thickness_mm": "its thickness"}
_STATES = {
    "shape": "its shape",
    "shut": "its ends",
    "clean": "whether it is pickled",
    "hot": "whether it is cold",
    "hump": "the solder at its joint",
    "bound": "what it is bound with",
    "guarded": "the guard on it",
    "coats": "what coats it",
    "joined": "its joints",
    "faces": "its surfaces",
}


@dataclass(frozen=True)
class Broken:
    """What a change breaks: at which step, and what in words."""

    step: str
    says: str


def looks_misplaced(ours: Sequence[Row], own: Sequence[Row]) -> Iterator[Broken]:
    """Looks that no longer stand between what they come after and what goes by them."""
    places = {row_key(row): place for place, row in enumerate(own)}
    for at, row in enumerate(ours):
        key = row_key(row)
        if not _is_look(row) or key not in places:
            continue
        after = next((one for one in ours[at + 1 :] if row_key(one) in places and not _is_look(one)), None)
        if after is not None and places[row_key(after)] < places[key]:
            yield Broken(
                key, f"“{step_name(row)}” is read or marked for “{step_name(after)}”, which now comes before it."
            )
        before = next((one for one in reversed(ours[:at]) if row_key(one) in places and not _is_look(one)), None)
        if before is not None and places[row_key(before)] > places[key]:
            yield Broken(
                key, f"“{step_name(row)}” goes by what “{step_name(before)}” leaves, which now comes after it."
            )


def _is_look(row: Row) -> bool:
    does = row.get("does", ())
    return bool(does) and all(deed["op"] in LOOKS for deed in does) and not row.get("added")


def step_name(row: Row) -> str:
    """How a step is called whatever the case: by its title, or by its key where a case fills in all of that."""
    title = plain_title(str(row["title"])).removesuffix(", …")
    return title if title.strip("… ,") else capital(str(row["key"]).replace("-", " "))


def plain_title(title: str) -> str:
    """The title of a step with what a case fills in left out.

    >>> plain_title("Solder with {solder}")
    'Solder with …'
    """
    return " ".join("…" if "{" in word else word for word in title.split()).replace("… …", "…")


def ends_otherwise(ours: Sequence[Step], own: Sequence[Step]) -> Iterator[str]:
    """How the pieces stand otherwise after the last step than by our route, in words."""
    if not ours or not own:
        return
    wanted, got = ours[-1].after, own[-1].after
    for name in sorted(wanted.keys() | got.keys()):
        if name not in wanted or name not in got:
            yield "which pieces are one"
            continue
        yield from _differs(wanted[name], got[name])


def _differs(wanted: Piece, got: Piece) -> Iterator[str]:
    was, now = vars(wanted), vars(got)
    yield from (says for field, says in _FIGURES.items() if abs(was[field] - now[field]) > SAME_MM)
    if abs(was["volume_mm3"] / now["volume_mm3"] - 1) > SAME_SHARE:
        yield "how much metal is in it"
    yield from (says for field, says in _STATES.items() if _value(was[field]) != _value(now[field]))


def _value(value: Any) -> Any:
    return dict(value) if isinstance(value, Mapping) else value


def ending_words(differs: Sequence[str]) -> str:
    """How it ends otherwise, as one sentence; empty where it ends as by ours."""
    said = list(dict.fromkeys(differs))
    return f"In the end this is not as by the usual steps: {', '.join(said)}." if said else ""
