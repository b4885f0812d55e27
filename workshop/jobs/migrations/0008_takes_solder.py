"""Whether the solder of a job is taken from the drawer: asked once."""

from django.db import migrations, models


class Migration(migrations.Migration):

    dependencies = [
        ('jobs', '0007_as_asked'),
    ]

    operations = [
        migrations.AddField(
            model_name='job',
            name='takes_solder',
            field=models.CharField(blank=True, default='', max_length=3),
        ),
    ]
