"""One thing of a workshop is done by one person at a time: a row for each, to hold."""

import django.db.models.deletion
from django.db import migrations, models


class Migration(migrations.Migration):

    dependencies = [
        ('core', '0001_release_0_1'),
        ('people', '0002_preferences'),
    ]

    operations = [
        migrations.CreateModel(
            name='Turn',
            fields=[
                ('id', models.BigAutoField(auto_created=True, primary_key=True, serialize=False, verbose_name='ID')),
                ('what', models.CharField(max_length=20)),
                ('workshop', models.ForeignKey(on_delete=django.db.models.deletion.PROTECT, related_name='+', to='people.workshop')),
            ],
            options={
                'constraints': [models.UniqueConstraint(fields=('workshop', 'what'), name='turn_once')],
            },
        ),
    ]
