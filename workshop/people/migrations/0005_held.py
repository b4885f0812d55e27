from django.db import migrations, models


class Migration(migrations.Migration):
    """People and workshops are counted up by whoever holds them; what counted a workshop's people does so for all."""

    dependencies = [("people", "0004_came_in")]

    operations = [
        migrations.RenameField("workshop", "people_version", "turns"),
        migrations.AlterField(
            "workshop", "turns", models.PositiveBigIntegerField(db_default=0, default=0, editable=False)
        ),
        migrations.AddField("user", "turns", models.PositiveBigIntegerField(db_default=0, default=0, editable=False)),
    ]
