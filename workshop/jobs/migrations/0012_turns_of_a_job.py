from django.db import migrations, models


class Migration(migrations.Migration):

    dependencies = [
        ('jobs', '0011_the_day_reads_columns'),
    ]

    operations = [
        migrations.AlterModelOptions(
            name='jobphoto',
            options={'ordering': ['turn', 'id']},
        ),
        migrations.AlterModelOptions(
            name='jointlook',
            options={'ordering': ['at', 'turn', 'id']},
        ),
        migrations.AlterModelOptions(
            name='measure',
            options={'ordering': ['at', 'turn', 'id']},
        ),
        migrations.AlterModelOptions(
            name='pastplan',
            options={'ordering': ['until', 'id']},
        ),
        migrations.AlterModelOptions(
            name='stepdone',
            options={'ordering': ['turn', 'id']},
        ),
        migrations.AddField(
            model_name='job',
            name='turns',
            field=models.PositiveBigIntegerField(db_default=0, default=0, editable=False),
        ),
        migrations.AddField(
            model_name='jobphoto',
            name='turn',
            field=models.PositiveBigIntegerField(db_default=0, default=0),
        ),
        migrations.AddField(
            model_name='jointlook',
            name='turn',
            field=models.PositiveBigIntegerField(db_default=0, default=0),
        ),
        migrations.AddField(
            model_name='measure',
            name='turn',
            field=models.PositiveBigIntegerField(db_default=0, default=0),
        ),
        migrations.AddField(
            model_name='stepdone',
            name='turn',
            field=models.PositiveBigIntegerField(db_default=0, default=0),
        ),
    ]
