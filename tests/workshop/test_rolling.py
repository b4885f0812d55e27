"""Which versions may come in while the one before goes on: those whose migrations only add."""

from __future__ import annotations

import json
from io import StringIO

import pytest
from django.core.management import call_command
from django.db import connection, migrations, models, transaction
from django.db.migrations.operations.base import Operation
from django.db.migrations.recorder import MigrationRecorder
from django.db.utils import IntegrityError

from tests.workshop.conftest import Shop
from workshop.core.models import Turn
from workshop.core.rolling import waiting, what_stops

INDEX = models.Index(fields=["what"], name="one_more")
ADDS: list[Operation] = [
    migrations.CreateModel("New", [("id", models.BigAutoField(primary_key=True))]),
    migrations.AddField("turn", "new", models.IntegerField(null=True)),
    migrations.AddField("turn", "new", models.IntegerField(db_default=0)),
    migrations.AddIndex("turn", INDEX),
    migrations.RemoveIndex("turn", "one_more"),
    migrations.AlterModelOptions("turn", {"ordering": ["id"]}),
    migrations.SeparateDatabaseAndState([migrations.AddIndex("turn", INDEX)], [migrations.DeleteModel("Turn")]),
]
STOPS: list[Operation] = [
    migrations.AddField("turn", "new", models.IntegerField(default=0)),
    migrations.AddField("turn", "new", models.IntegerField(null=True, unique=True)),
    migrations.RemoveField("turn", "after"),
    migrations.RenameField("turn", "after", "since"),
    migrations.AlterField("turn", "after", models.IntegerField(null=True)),
    migrations.DeleteModel("Turn"),
    migrations.RenameModel("Turn", "Order"),
    migrations.AlterModelTable("turn", "turns"),
    migrations.AddConstraint("turn", models.UniqueConstraint(fields=["what"], name="what_once")),
    migrations.RunSQL("SELECT 1"),
    migrations.RunPython(migrations.RunPython.noop),
    migrations.SeparateDatabaseAndState([migrations.RemoveField("turn", "after")], []),
]


@pytest.mark.parametrize("operation", ADDS, ids=lambda one: one.__class__.__name__)
def test_what_only_adds_does_not_stop_the_version_before(operation: Operation) -> None:
    assert what_stops([operation]) == []


@pytest.mark.parametrize("operation", STOPS, ids=lambda one: one.__class__.__name__)
def test_what_does_more_is_named(operation: Operation) -> None:
    assert len(what_stops([operation, ADDS[0]])) == 1


@pytest.mark.django_db(transaction=True)
def test_a_column_without_a_value_of_the_databases_own_would_stop_the_version_before(ours: Shop) -> None:
    """Why Django's own default is not enough: the database forgets it, and a row of the version before is refused."""
    row = "INSERT INTO core_turn (workshop_id, what, `after`) VALUES (%s, %s, 0)"
    for nth, field in enumerate((models.IntegerField(default=0), models.IntegerField(db_default=0))):
        field.set_attributes_from_name("trial")
        field.model = Turn
        with connection.schema_editor() as editor:
            editor.add_field(Turn, field)
        try:
            with transaction.atomic(), connection.cursor() as cursor:
                cursor.execute(row, [ours.workshop.pk, f"trial {nth}"])
            refused = False
        except IntegrityError:
            refused = True
        finally:
            with connection.schema_editor() as editor:
                editor.remove_field(Turn, field)
        assert refused is (nth == 0)


@pytest.mark.django_db
def test_it_is_said_what_waits_and_why(monkeypatch: pytest.MonkeyPatch) -> None:
    def said() -> dict[str, object]:
        out = StringIO()
        call_command("may_roll", stdout=out)
        found: dict[str, object] = json.loads(out.getvalue())
        return found

    assert (said(), waiting()) == ({"rolls": True, "waiting": [], "why": []}, {})
    known = MigrationRecorder(connection).applied_migrations()
    before = {key: row for key, row in known.items() if key not in {("worth", "0002_held"), ("people", "0005_held")}}
    monkeypatch.setattr(MigrationRecorder, "applied_migrations", lambda self: before)
    found = said()
    assert found["rolls"] is False
    assert any("people 0005_held: Rename" in line for line in found["why"])  # type: ignore[attr-defined]
    assert waiting()["worth 0002_held"] == []
