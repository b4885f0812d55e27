from django.db import migrations, models


class Migration(migrations.Migration):

    dependencies = [
        ('customers', '0002_release_0_1'),
    ]

    operations = [
        migrations.AddField(
            model_name='customer',
            name='turns',
            field=models.PositiveBigIntegerField(db_default=0, default=0, editable=False),
        ),
    ]
