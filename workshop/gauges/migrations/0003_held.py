from django.db import migrations, models


class Migration(migrations.Migration):

    dependencies = [
        ('gauges', '0002_release_0_1'),
    ]

    operations = [
        migrations.AddField(
            model_name='gauge',
            name='turns',
            field=models.PositiveBigIntegerField(db_default=0, default=0, editable=False),
        ),
    ]
