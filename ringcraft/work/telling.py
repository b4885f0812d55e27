"""What was changed of an order, in the words of its sheet."""

from __future__ import annotations

from collections.abc import Iterator, Mapping
from dataclasses import dataclass, field
from typing import Any

from ringcraft.units import write_length

#: What an order need not say: then it is as usual in this shop.
USUAL = ("rule", "leave", "round_to_mm", "wide", "join")


def stock_labels(path: str) -> dict[str, str]:
    """How the measures of a stock are called that stands at a path of an order."""
    names = {"profile": "profile", "width_mm": "width", "thickness_mm": "thickness", "side_mm": "straight side"}
    return {f"{path}.{name}": label for name, label in names.items()}


@dataclass(frozen=True)
class SheetWords:
    """How the fields of an order are called, by their dotted paths, and the titles of what can be chosen in some."""

    labels: Mapping[str, str]
    titles: Mapping[str, Mapping[str, str]] = field(default_factory=dict)

    def label(self, path: str) -> str:
        """The label of a field, that of a list's entry with its place; empty for what no sheet shows."""
        if path in self.labels:
            return self.labels[path]
        for place, part in enumerate(steps := path.split(".")):
            if part.isdecimal():
                rest = ".".join(steps[place + 1 :])
                own = self.labels.get(rest) or self.labels.get(".".join([*steps[:place], *steps[place + 1 :]]), "")
                return with_place(own, int(part) + 1) if own else ""
        return ""

    def value(self, path: str, value: object, units: str) -> str:
        """A value as the sheet shows it: a metal by its name, a length with its unit."""
        if value is None or value == "":
            return "as usual" if path.partition(".")[0] in USUAL else "nothing"
        key = ("yes" if value else "no") if isinstance(value, bool) else str(value)
        one_of = ".".join(part for part in path.split(".") if not part.isdecimal())
        if title := self.titles.get(path, self.titles.get(one_of, {})).get(key):
            return title
        if isinstance(value, (int, float)) and not isinstance(value, bool):
            text = write_length(value, units) if path.endswith("_mm") else f"{value:g}"
            return f"{text} {units}" if path.endswith("_mm") and not text.endswith("mm") else text
        return key


def with_place(label: str, place: int) -> str:
    """The label of a list's entry: its place where the label has one for it, else behind it."""
    return label.replace("{n}", str(place)) if "{n}" in label else f"{label} {place}"


def changed_words(before: object, after: object, words: SheetWords, units: str) -> list[str]:
    """What differs between two kept orders, each as it was and as it is."""
    was, is_ = dict(_leaves(before)), dict(_leaves(after))
    out = []
    for path in dict.fromkeys([*is_, *was]):
        label, pair = words.label(path), [was.get(path), is_.get(path)]
        if label and pair[0] != pair[1] and any(one is not None and one is not False for one in pair):
            told = [words.value(path, one, units) for one in pair]
            out.append(f"{label}: {told[0]} → {told[1]}")
    return out


def _leaves(data: Any, path: str = "") -> Iterator[tuple[str, Any]]:
    """The fields of an order by their dotted paths; a gauge is its name, a list of texts is one text."""
    if isinstance(data, Mapping):
        for name, part in data.items():
            if name in ("gauge", "from_gauge", "to_gauge") and isinstance(part, Mapping):
                yield str(name), part.get("name") or "a gauge"
            else:
                yield from _leaves(part, f"{path}.{name}" if path else str(name))
    elif isinstance(data, (list, tuple)) and all(isinstance(one, str) for one in data):
        yield path, ", ".join(data)
    elif isinstance(data, (list, tuple)):
        for place, part in enumerate(data):
            yield from _leaves(part, f"{path}.{place}")
    elif path:
        yield path, data
