from django.conf import settings
from django.db import migrations, models


class Migration(migrations.Migration):

    dependencies = [
        ('core', '0004_numbers_go_on'),
        ('people', '0005_held'),
        migrations.swappable_dependency(settings.AUTH_USER_MODEL),
    ]

    operations = [
        migrations.AlterModelOptions(
            name='event',
            options={'ordering': ['at', 'id']},
        ),
        migrations.AddField(
            model_name='turn',
            name='turns',
            field=models.PositiveBigIntegerField(db_default=0, default=0, editable=False),
        ),
        migrations.AddIndex(
            model_name='event',
            index=models.Index(fields=['workshop', 'kind', 'thing_id', 'at'], name='event_of_thing_by_time'),
        ),
        migrations.AddIndex(
            model_name='event',
            index=models.Index(fields=['workshop', 'at'], name='event_by_time'),
        ),
        migrations.RemoveIndex(
            model_name='event',
            name='event_of_thing',
        ),
    ]
