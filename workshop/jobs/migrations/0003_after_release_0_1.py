"""Changes nothing: it refuses a database that stopped on its way to the release, which would be taken for whole."""

from django.db import migrations


class Stopped(Exception):
    """A database from before the release that was not brought up to its end."""


def refuse_a_part(apps, schema_editor):
    """Raise Stopped where a table of the release is missing."""
    there = set(schema_editor.connection.introspection.table_names())
    if not {'jobs_pastplan', 'jobs_stepdone', 'jobs_measure'} <= there:
        raise Stopped('This database stopped before release 0.1.0. Bring it up with the version that made it, then come back.')


class Migration(migrations.Migration):

    dependencies = [
        ('jobs', '0002_release_0_1'),
    ]

    operations = [migrations.RunPython(refuse_a_part, migrations.RunPython.noop)]
