from django.db import migrations


class Migration(migrations.Migration):

    dependencies = [
        ('stock', '0002_adds_up'),
    ]

    operations = [
        migrations.AlterModelOptions(
            name='movement',
            options={'ordering': ['at', 'id']},
        ),
    ]
