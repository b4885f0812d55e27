"""An answer that was kept is given again to the same sight only. Those of before were made for owners: all were."""

from django.db import migrations, models


class Migration(migrations.Migration):

    dependencies = [
        ("core", "0002_turns"),
    ]

    operations = [
        migrations.AddField("sent", "sight", models.CharField(default="owner", max_length=20)),
        migrations.AlterField("sent", "sight", models.CharField(default="", max_length=20)),
    ]
