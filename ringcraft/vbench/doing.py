"""Reading the deeds of a step from its table and doing them on the virtual bench, one after another."""

from __future__ import annotations

from collections.abc import Callable, Iterable, Iterator, Mapping
from dataclasses import MISSING, fields, replace
from typing import Any, Protocol, get_type_hints

from ringcraft.metals import SOLDERS, SolderBook
from ringcraft.units import Length, fill, placeholders
from ringcraft.vbench.deeds import OPS, AnyDeed, Part, SolderJoint
from ringcraft.vbench.needs import Unmet, UnmetNeedError, all_the_same, must
from ringcraft.vbench.ops import act, seam_margin_c
from ringcraft.vbench.pieces import Piece
from ringcraft.vbench.thing import Seat

ALL = "*"
#: What comes to the stones that are still in a piece at a joint there, by its solder: the heat model's answer.
Heated = Callable[[Piece, SolderJoint], tuple[Seat, ...]]


_KINDS: dict[str, Mapping[str, Any]] = {op: get_type_hints(kind) for op, kind in OPS.items()}


_NUMBERS = (float, int, float | None)
#: Fields that take a fact as it is: some stones by their names, an arc.
_LISTS = (tuple[str, ...], tuple[float, ...] | None)


#: What a row says about its deed beside its fields: when it is done, and to which stones.
_ABOUT = {"when": "bool", "each_stone": "tuple"}


def _alias(name: str) -> str:
    return name.removesuffix("_")


def check_deeds(rows: Iterable[Mapping[str, Any]]) -> Iterator[tuple[str, tuple[str, ...]]]:
    """Every name that a step's deeds ask the facts for, with the types it can be; raises LookupError at an op or a
    field that there is none of.
    """
    for row in rows:
        op = row["op"]
        if "{" in op:
            yield from ((name, ("str",)) for name in placeholders(op))
            op = "cool"
        if op not in OPS:
            raise LookupError(f"there is no op called {op}")
        kinds = {_alias(name): hint for name, hint in _KINDS[op].items()}
        for name, value in row.items():
            if name in _ABOUT:
                yield value, (_ABOUT[name],)
            elif name not in kinds:
                raise LookupError(f"{op} has no field called {name}")
            elif isinstance(value, str):
                yield from _asks(value, kinds[name])
        for one in fields(OPS[op]):
            given = _alias(one.name) in row or one.name in ("piece", "margin_c")
            if not given and one.default is MISSING and one.default_factory is MISSING:
                raise LookupError(f"{op} lacks its {_alias(one.name)}")


def _asks(value: str, hint: Any) -> Iterator[tuple[str, tuple[str, ...]]]:
    """The facts that a field's text asks for: its name alone for what is no text, else its placeholders."""
    kinds = ("float", "int", "Length") if hint in _NUMBERS else ("tuple",) if hint in _LISTS else ("bool",)
    if hint in (*_NUMBERS, *_LISTS, bool):
        yield value, kinds
    else:
        yield from ((word, ("str", "Length")) for word in placeholders(value))


class Known(Protocol):
    """The facts that deeds are filled with: words and numbers by name, and whether a condition holds."""

    @property
    def words(self) -> Mapping[str, str | Length]:
        """Every fact in words, by name."""

    def number(self, name: str) -> float:
        """A fact as a plain number [mm, or none]."""

    def listed(self, name: str) -> Any:
        """A fact that is a list or an arc, as it is."""

    def holds(self, when: str | None) -> bool:
        """Whether a condition holds; no condition always does."""


class Doing:
    """The virtual bench while a route is written: the pieces as they stand, and what became of each.

    ``heated`` says what comes to stones in the heat. With a ``reason`` to do what is never done the needs that are
    broken are kept in ``unmet`` and the route is worked on. ``aside`` are pieces that are made beside the ring.
    """

    def __init__(
        self, start: Mapping[str, Piece], book: SolderBook = SOLDERS, heated: Heated | None = None, reason: str = ""
    ) -> None:
        self.book, self.heated, self.reason = book, heated, reason
        self.unmet: list[Unmet] = []
        self.pieces: dict[str, Piece] = dict(start)
        self.cautions: list[str] = []
        self.aside: tuple[str, ...] = ()
        self._went_into: dict[str, str] = {}

    def name(self, piece: str) -> str:
        """Where a piece is by now: in another, once they were soldered together."""
        while piece in self._went_into:
            piece = self._went_into[piece]
        return piece

    def _joined(self) -> list[str]:
        """Every piece of the ring: all but what is made beside it."""
        return [name for name in self.pieces if name not in self.aside]

    def named(self, piece: str) -> Piece:
        """A piece as it stands, by the name it began with."""
        return self.pieces[self.name(piece)]

    def do(self, step: str, rows: Iterable[Mapping[str, Any]], facts: Known, piece: str) -> list[AnyDeed]:
        """Do the deeds of a step; raises UnmetNeedError at its key where one cannot be done."""
        done: list[AnyDeed] = []
        self.cautions = []
        for row in rows:
            if not facts.holds(row.get("when")):
                continue
            every = row.get("piece") == ALL
            stones = facts.listed(row["each_stone"]) if "each_stone" in row else ("",)
            for name in self._joined() if every else [row.get("piece", piece)]:
                for stone in stones:
                    deed = self._deed({**row, "stone": stone} if stone else row, facts, name)
                    self._do(step, deed)
                    done.append(deed)
        return done

    def _do(self, step: str, deed: AnyDeed) -> None:
        try:
            if self.reason:
                with all_the_same() as broken:
                    self.pieces = act(self.pieces, deed, self.book)
                self.unmet += [Unmet(step, one) for one in broken]
            else:
                self.pieces = act(self.pieces, deed, self.book)
        except UnmetNeedError as problem:
            raise UnmetNeedError(step, f"{deed.op}: {problem.message}", "") from None
        if isinstance(deed, Part) and deed.op == "insert":
            self._went_into[deed.part] = deed.piece
        if isinstance(deed, SolderJoint):
            gone = [name for name in deed.pieces if name not in self.pieces]
            self._went_into |= {name: deed.into for name in gone if name != deed.into}

    def _deed(self, row: Mapping[str, Any], facts: Known, piece: str) -> AnyDeed:
        op = fill(row["op"], facts.words)
        kind = OPS[op]
        values: dict[str, Any] = {"op": op}
        for name, hint in _KINDS[op].items():
            if name in ("op", "piece") or _alias(name) not in row:
                continue
            values[name] = self._value(row[_alias(name)], hint, facts)
        if kind is SolderJoint:
            return self._solder(values)
        values["piece"] = self.name(piece)
        made: AnyDeed = kind(**values)
        return made

    def _value(self, value: Any, hint: Any, facts: Known) -> Any:
        if hint in _NUMBERS and isinstance(value, str):
            number = facts.number(value)
            return int(number) if hint is int else float(number)
        if hint in (float, float | None):
            return float(value)
        if hint in _LISTS and isinstance(value, str):
            return facts.listed(value)
        if hint is bool:
            return facts.holds(value) if isinstance(value, str) else value
        if isinstance(value, str):
            return fill(value, facts.words)
        if isinstance(value, list):
            return tuple(fill(one, facts.words) for one in value)
        return value

    def _solder(self, values: dict[str, Any]) -> SolderJoint:
        names = self._joined() if values["pieces"] == (ALL,) else [self.name(one) for one in values["pieces"]]
        pieces = tuple(dict.fromkeys(names))
        must(all(name in self.pieces for name in pieces), "what it is done to is there by then")
        parts = [self.pieces[name] for name in pieces]
        into = self.name(values["into"])
        earlier = any(part.joined for part in parts)
        margin = seam_margin_c(parts, values["solder"], self.book) if earlier else None
        if earlier and margin is None:
            self.cautions.append("seams-unknown")
        elif margin is not None and margin < 0:
            self.cautions.append("seam-may-run")
        deed = SolderJoint(**{**values, "pieces": pieces, "into": into, "margin_c": margin})
        if self.heated is None or not any(part.stones_in for part in parts):
            return deed
        return replace(deed, seats=self.heated(parts[0], deed))
