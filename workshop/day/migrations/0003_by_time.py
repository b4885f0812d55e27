from django.db import migrations, models


class Migration(migrations.Migration):

    dependencies = [
        ('day', '0002_gone_home'),
        ('jobs', '0012_turns_of_a_job'),
        ('people', '0005_held'),
    ]

    operations = [
        migrations.AlterModelOptions(
            name='calendaraddress',
            options={'ordering': ['made_at', 'id']},
        ),
        migrations.AlterModelOptions(
            name='took',
            options={'ordering': ['at', 'id']},
        ),
        migrations.AddField(
            model_name='shownplan',
            name='turns',
            field=models.PositiveBigIntegerField(db_default=0, default=0, editable=False),
        ),
        migrations.AddField(
            model_name='steptime',
            name='at',
            field=models.DateTimeField(null=True),
        ),
        migrations.AddIndex(
            model_name='steptime',
            index=models.Index(fields=['workshop', 'what', 'family', 'key', 'at'], name='step_times_of_key'),
        ),
        migrations.AddIndex(
            model_name='steptime',
            index=models.Index(fields=['workshop', 'what', 'at'], name='step_times_by_time'),
        ),
        migrations.RemoveIndex(
            model_name='steptime',
            name='step_times_of',
        ),
        migrations.RemoveIndex(
            model_name='steptime',
            name='step_times_newest',
        ),
    ]
