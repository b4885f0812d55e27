from django.db import migrations, models


class Migration(migrations.Migration):

    dependencies = [
        ('worth', '0001_prices_as_they_were_seen'),
    ]

    operations = [
        migrations.AddField(
            model_name='seenprice',
            name='turns',
            field=models.PositiveBigIntegerField(db_default=0, default=0, editable=False),
        ),
    ]
