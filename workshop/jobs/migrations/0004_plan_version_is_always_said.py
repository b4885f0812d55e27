"""The version of a plan is set with the plan; the column's default follows no release any more."""

from django.db import migrations, models


class Migration(migrations.Migration):
    dependencies = [("jobs", "0003_after_release_0_1")]

    operations = [
        migrations.AlterField(
            model_name="job",
            name="plan_version",
            field=models.PositiveSmallIntegerField(default=0),
        ),
    ]
