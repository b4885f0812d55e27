"""Finding a name in everything that is kept of a workshop, and putting a token in its place.

A table says by which path its rows belong to a workshop; a table that is not in it has a test against it. Looked
through are the columns and the fields in which people write: orders, plans and figures, in which no name can stand,
are left alone, since a customer can be called Rose, or Sterling. Answers of keyed requests are looked through whole.
"""

from __future__ import annotations

import json
import re
import zlib
from collections.abc import Callable, Iterator
from typing import Any

from django.apps import apps
from django.db import connection, models
from django.db.models import Model

from workshop.jobs.models import folded

#: By which path the rows of a table belong to a workshop. Tables of Django's and others' parts have no names in them,
#: but for those that are dropped whole (sessions, tries).
PATHS: dict[str, str] = {
    "core.Event": "workshop",
    "core.Sent": "by__workshop",
    "core.Turn": "workshop",
    "people.Workshop": "pk",
    "people.User": "workshop",
    "people.OpenSession": "user__workshop",
    "gauges.Gauge": "workshop",
    "gauges.Calibration": "gauge__workshop",
    "worth.SeenPrice": "workshop",
    "worth.FeedState": "workshop",
    "customers.Customer": "workshop",
    "customers.Finger": "customer__workshop",
    "photos.Photo": "workshop",
    "jobs.Job": "workshop",
    "jobs.JobPhoto": "job__workshop",
    "jobs.KeptEstimate": "job__workshop",
    "jobs.PastPlan": "job__workshop",
    "jobs.StepDone": "job__workshop",
    "jobs.JointLook": "job__workshop",
    "jobs.Measure": "job__workshop",
    "stock.StockItem": "workshop",
    "stock.Movement": "item__workshop",
    "stock.JobBlanks": "job__workshop",
    "stock.TakenBack": "workshop",
    "logbook.RingRecord": "workshop",
    "logbook.Finding": "workshop",
    "day.ShownPlan": "workshop",
    "day.Took": "workshop",
    "day.Pin": "workshop",
    "day.GoneHome": "workshop",
    "day.StepTime": "workshop",
    "day.LearntMinutes": "workshop",
    "day.CalendarAddress": "workshop",
}
#: Tables with texts that hold nobody's name: the installation's own.
NO_NAMES = {"photos.StoredFile", "people.UsedLink", "safekeeping.Backup"}
OURS = {"core", "people", "gauges", "worth", "customers", "photos", "jobs", "stock", "logbook", "day", "safekeeping"}
TEXTS = (models.CharField, models.TextField, models.JSONField)
#: Columns, and fields of JSON, in which people write, or that follow from what they wrote.
FREE = frozenset({
    "name", "note", "title", "customer_name", "place_note", "owner", "lot", "place", "words", "person_name", "person",
    "first_name", "last_name", "username", "gauge_name", "gauge", "found", "without", "why", "says", "by",
})  # fmt: skip
JSON = {("core.Event", "before"), ("core.Event", "after"), ("people.Workshop", "preferences"),
        ("people.User", "preferences")}  # fmt: skip
MADE = frozenset({"order", "plan"})  # in a line of the history
KEYS = {("jobs.Job", "place")}  # called like one of them, and no words of anybody
AT_ONCE = 200
Swap = Callable[[str], str]


def swapping(names: list[str], token: str) -> Swap:
    """Puts the token where one of the names stands as words of its own, whatever its capitals."""
    known = sorted({" ".join(name.split()) for name in names if name.strip()}, key=len, reverse=True)
    if not known:
        return lambda text: text
    said = "|".join(r"\s+".join(re.escape(word) for word in name.split()) for name in known)
    found = re.compile(rf"(?<!\w)(?:{said})(?!\w)", re.IGNORECASE)
    return lambda text: found.sub(token, text)


def both(names: list[str], token: str) -> Swap:
    """The same for texts as they are and for words that are kept folded, without capitals and accents."""
    plain, flat = swapping(names, token), swapping([folded(name) for name in names], token)
    return lambda text: flat(plain(text))


def parts_of(name: str) -> list[str]:
    """A name, and each word of it that is long enough to be nobody else's by chance."""
    return [name, *(word for word in name.split() if len(word) > 2)]


def swapped(value: Any, swap: Swap, *, free: bool = True) -> Any:
    """The same data with its strings swapped; not ``free``, those alone that stand in a field of free words."""
    if isinstance(value, str):
        return swap(value) if free else value
    if isinstance(value, dict):
        return {
            name: one if name in MADE and not free else swapped(one, swap, free=free or name in FREE)
            for name, one in value.items()
        }
    if isinstance(value, list):
        return [swapped(one, swap, free=free) for one in value]
    return value


def tables() -> Iterator[tuple[type[Model], str]]:
    """Every table of ours whose rows belong to a workshop, with the path that says to which."""
    for model in apps.get_models():
        if model._meta.label in PATHS:
            yield model, PATHS[model._meta.label]


def texts_of(model: type[Model]) -> list[str]:
    """The columns of a table that hold words of people, or JSON in which some can stand."""
    label = model._meta.label
    return [
        field.attname
        for field in model._meta.concrete_fields
        if (label, field.attname) in JSON
        or (isinstance(field, TEXTS) and field.attname in FREE and (label, field.attname) not in KEYS)
    ]


def scrub(workshop_id: int, names: list[str], token: str) -> int:
    """Put the token in the place of these names in every column of a workshop; how many rows had one."""
    changed = 0
    swap = both(names, token)
    for model, path in tables():
        rows = model._default_manager.filter(**{path: workshop_id})
        columns = texts_of(model)
        if model._meta.label == "core.Sent":
            changed += _scrub_answers(rows, swap)
        elif columns:
            changed += scrub_rows(_having(rows, columns, names), columns, swap)
    return changed


def scrub_rows(rows: models.QuerySet[Any], columns: list[str], swap: Swap) -> int:
    """Swap the texts of these rows; how many had something to swap. A few are held in memory at once."""
    changed, last = 0, 0
    while True:
        some = list(rows.order_by("pk").filter(pk__gt=last).values("pk", *columns)[:AT_ONCE])
        for row in some:
            new = {name: swapped(row[name], swap, free=isinstance(row[name], str)) for name in columns}
            new = {name: value for name, value in new.items() if value != row[name]}
            if new:
                rows.model._default_manager.filter(pk=row["pk"]).update(**new)
                changed += 1
        if len(some) < AT_ONCE:
            return changed
        last = some[-1]["pk"]


def _having(rows: models.QuerySet[Any], columns: list[str], names: list[str]) -> models.QuerySet[Any]:
    """Those rows in which the database sees one of the names: as it is, folded, or as JSON writes it."""
    said = {form for name in names for form in (name, folded(name), json.dumps(name)[1:-1]) if form}
    table = connection.ops.quote_name(rows.model._meta.db_table)
    tests, given = [], []
    for column in columns:
        quoted = f"{table}.{connection.ops.quote_name(rows.model._meta.get_field(column).column)}"
        for form in sorted(said):
            tests.append(f"LOWER(CONVERT({quoted} USING utf8mb4)) LIKE %s")
            given.append("%" + re.sub(r"([\\%_])", r"\\\1", form.lower()) + "%")
    return rows.extra(where=[f"({' OR '.join(tests)})"], params=given)  # noqa: S610 (names of columns; values are given)


def _scrub_answers(rows: models.QuerySet[Any], swap: Swap) -> int:
    """Swap the answers of keyed requests, which are kept packed."""
    changed, last = 0, 0
    while True:
        some = list(rows.order_by("pk").filter(pk__gt=last).exclude(answer=b"").values_list("pk", "answer")[:AT_ONCE])
        for pk, answer in some:
            try:
                data = json.loads(zlib.decompress(bytes(answer)))
            except (ValueError, zlib.error):
                continue
            new = swapped(data, swap)
            if new != data:
                rows.model._default_manager.filter(pk=pk).update(answer=zlib.compress(json.dumps(new).encode()))
                changed += 1
        if len(some) < AT_ONCE:
            return changed
        last = some[-1][0]


def emptied(rows: models.QuerySet[Any], **texts: str) -> None:
    """Set the free texts of these rows, where they have one at all."""
    for name, text in texts.items():
        rows.exclude(**{name: ""}).update(**{name: text})
