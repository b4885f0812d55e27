"""What a workshop takes along in its archive: which tables, in which order, and what stays behind and why."""

from __future__ import annotations

from collections.abc import Iterator
from typing import Any

from django.apps import apps
from django.db import models
from django.db.migrations.recorder import MigrationRecorder
from django.db.models import Model

from workshop.core.pages import by_key
from workshop.safekeeping.scrubbing import OURS, PATHS

FORMAT, VERSION = "plain-shank-workshop", 1
MANIFEST, READ_ME, TABLES, PHOTOGRAPHS = "manifest.json", "README.txt", "tables", "photographs"
PARENTS, ROWS = 200, 500  # held in memory at once

#: The tables that go along, each after those that it points to.
ALONG = (
    "people.Workshop",
    "people.User",
    "gauges.Gauge",
    "gauges.Calibration",
    "customers.Customer",
    "customers.Finger",
    "photos.Photo",
    "jobs.Job",
    "jobs.JobPhoto",
    "jobs.KeptEstimate",
    "jobs.PastPlan",
    "jobs.StepDone",
    "jobs.JointLook",
    "jobs.Measure",
    "stock.StockItem",
    "stock.Movement",
    "stock.JobBlanks",
    "stock.TakenBack",
    "logbook.RingRecord",
    "logbook.Finding",
    "worth.SeenPrice",
    "day.Took",
    "day.Pin",
    "day.GoneHome",
    "day.StepTime",
    "day.LearntMinutes",
    "core.Turn",
    "core.Event",
)
#: What stays behind, and why.
BEHIND: dict[str, str] = {
    "core.Sent": "answers to requests of this installation, asked for again by its own devices alone",
    "people.OpenSession": "sessions end here",
    "people.UsedLink": "the installation's",
    "photos.StoredFile": "the photographs are files of the archive",
    "worth.FeedState": "the installation's feed",
    "day.ShownPlan": "planned anew",
    "day.CalendarAddress": "secret addresses are withdrawn with the installation; new ones are made",
    "safekeeping.Backup": "the installation's",
    "safekeeping.Restored": "the installation's",
}
#: Columns that stay behind: secrets, and what is the installation's.
COLUMNS_BEHIND: dict[str, frozenset[str]] = {
    "people.Workshop": frozenset({"came_in"}),
    "people.User": frozenset({"password", "last_login", "is_superuser", "is_staff"}),
}
#: Columns that hold no row's id and yet have to be another one: what was booked together is one of a kind everywhere.
NAMES_OF_THEIR_OWN = {("stock.Movement", "batch"), ("stock.TakenBack", "batch"), ("stock.TakenBack", "by_batch")}
#: What a line of the history says by id, and of which table.
IN_LINES = {
    "calibration": "gauges.Calibration",
    "customer_id": "customers.Customer",
    "job_id": "jobs.Job",
    "photo": "photos.Photo",
}
NOBODY = 0  # in a line of the history: of something that is not there any more


def model_of(label: str) -> type[Model]:
    """The table of this name."""
    return apps.get_model(label)


def columns_of(model: type[Model]) -> list[models.Field[Any, Any]]:
    """The columns of a table that go along, its key among them."""
    behind = COLUMNS_BEHIND.get(model._meta.label, frozenset())
    return [field for field in model._meta.concrete_fields if field.attname not in behind]


def kinds() -> dict[str, str]:
    """Which table a line of the history means by its kind."""
    return {
        str(model._meta.model_name): model._meta.label for model in apps.get_models() if model._meta.app_label in OURS
    }


def rows_of(workshop_id: int, label: str) -> Iterator[Model]:
    """The rows of a table that belong to a workshop, a few at a time, by the index that each lookup has."""
    model, path = model_of(label), PATHS[label]
    if "__" not in path:
        yield from by_key(model._default_manager.filter(**{path: workshop_id}), PARENTS)
        return
    owner = path.partition("__")[0]
    field = model._meta.get_field(owner)
    assert isinstance(field, models.ForeignKey | models.OneToOneField)
    parents = field.related_model._default_manager.filter(workshop=workshop_id)
    for keys in _in_parts(parents):
        rows = model._default_manager.filter(**{f"{owner}__in": keys}).order_by(field.attname, "pk")
        yield from rows.iterator(ROWS)


def _in_parts(rows: models.QuerySet[Any]) -> Iterator[list[int]]:
    last: Any = 0
    while some := list(rows.order_by("pk").filter(pk__gt=last).values_list("pk", flat=True)[:PARENTS]):
        yield some
        last = some[-1]


def migrations() -> list[str]:
    """Which migrations of ours made the records what they are."""
    applied = MigrationRecorder.Migration.objects.filter(app__in=OURS).values_list("app", "name")
    return sorted(f"{app}.{name}" for app, name in applied)
