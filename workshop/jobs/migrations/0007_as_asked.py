from django.db import migrations, models


class Migration(migrations.Migration):
    dependencies = [("jobs", "0006_joint_looks")]

    operations = [
        migrations.AddField(model_name="job", name="moved", field=models.JSONField(default=dict)),
        migrations.AddField(model_name="measure", name="asked", field=models.JSONField(null=True)),
    ]
