"""A shop's ways in an order: what the order leaves out, they fill; once, wherever an order is read.

A way is a value at a dotted path of an order, such as ``join.blade``. Which paths there are follows from the order's
own fields: a way that an order does not have is not its matter.
"""

from __future__ import annotations

from collections.abc import Callable, Hashable, Iterator, Mapping
from contextlib import contextmanager
from contextvars import ContextVar
from dataclasses import is_dataclass
from functools import cache
from typing import Annotated, Any, cast, get_args, get_type_hints

from pydantic import Field, WrapValidator

from ringcraft.errors import UnreadableError
from ringcraft.schema import name_of

MOST_WAYS = 60
#: Whether a shop's ways fill what an order leaves out.
WaysKey = name_of("whose ways", {"none": "nobody's", "shop": "the shop's"})
#: Which fields of an order were filled from a shop's ways, by their dotted paths.
FromWays = Annotated[tuple[Annotated[str, Field(max_length=60)], ...], Field(max_length=MOST_WAYS)]
Ways = Mapping[str, object]
#: The ways of whoever asks, while requests are read; looked up only where an order asks for them.
_ASKED: ContextVar[Callable[[], Ways] | None] = ContextVar("the shop's ways", default=None)


@contextmanager
def ways_from(look_up: Callable[[], Ways]) -> Iterator[None]:
    """Read orders that ask for a shop's ways with these."""
    token = _ASKED.set(look_up)
    try:
        yield
    finally:
        _ASKED.reset(token)


def applied(order: Mapping[str, Any], ways: Ways, kind: type[Any]) -> dict[str, Any]:
    """A plain order of this kind with what it leaves out filled from ``ways``, and ``from_ways`` saying which.

    None is left out as much as what is not there; what the order says itself is never touched.
    """
    out, filled = dict(order), []
    for path, value in ways.items():
        name, _, part = path.partition(".")
        if not _has(cast(Hashable, kind), path):
            continue
        if not part:
            if out.get(name) is None:
                out[name] = value
                filled.append(path)
            continue
        inner = {} if out.get(name) is None else out[name]
        if isinstance(inner, Mapping) and inner.get(part) is None:
            out[name] = {**inner, part: value}
            filled.append(path)
    return {**out, "from_ways": filled}


def ways_in(order: Mapping[str, Any], paths: Mapping[str, object]) -> dict[str, object]:
    """The ways that a kept order was planned with: what stands in it at these paths."""
    out: dict[str, object] = {}
    for path in paths:
        name, _, part = path.partition(".")
        value = order.get(name)
        value = value.get(part) if part and isinstance(value, Mapping) else None if part else value
        if value is not None:
            out[path] = value
    return out


def takes_ways(kind: type[Any], but: Callable[[Mapping[str, Any], Ways], Ways] = lambda _, ways: ways) -> Any:
    """Marks an order that a shop's ways can fill; ``but`` leaves out those that this very order does not take.

    An order that says what was filled in was filled before, as a kept one is: nothing is filled in a second time.
    """

    def read(data: Any, go_on: Callable[[Any], Any]) -> Any:
        if not isinstance(data, Mapping) or data.get("ways") != "shop" or "from_ways" in data:
            return go_on(data)
        look_up = _ASKED.get()
        if look_up is None:
            said = "No shop's ways are known here."
            raise UnreadableError("ways", said, "Leave it out, and say in the order what matters.")
        return go_on(applied(data, but(data, look_up()), kind))

    return WrapValidator(read)


@cache
def _has(kind: Hashable, path: str) -> bool:
    """Whether an order of this kind has a field at a dotted path of one or two names."""
    name, _, part = path.partition(".")
    hints = get_type_hints(kind)
    if name not in hints:
        return False
    return not part or any(part in get_type_hints(inner) for inner in _classes(hints[name]))


def _classes(hint: Any) -> Iterator[type[Any]]:
    if is_dataclass(hint) and isinstance(hint, type):
        yield hint
    for inner in get_args(hint):
        yield from _classes(inner)
