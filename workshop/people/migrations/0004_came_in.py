"""When a workshop came in from an archive: what its devices did before is asked about."""

from django.db import migrations, models


class Migration(migrations.Migration):

    dependencies = [
        ("people", "0003_roles"),
    ]

    operations = [
        migrations.AddField(
            model_name="workshop",
            name="came_in",
            field=models.PositiveBigIntegerField(default=0),
        ),
    ]
