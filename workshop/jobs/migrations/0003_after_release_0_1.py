"""Changes nothing: it makes a database that stopped before the release refuse to go on, instead of being left behind."""

from django.db import migrations


class Migration(migrations.Migration):

    dependencies = [
        ('jobs', '0002_release_0_1'),
    ]

    operations = []
