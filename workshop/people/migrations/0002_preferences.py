"""The ways of a shop and of a person are called preferences in the code; the screen may go on saying ways."""

from django.db import migrations


class Migration(migrations.Migration):

    dependencies = [
        ('people', '0001_release_0_1'),
    ]

    operations = [
        migrations.RenameField('user', 'ways', 'preferences'),
        migrations.RenameField('user', 'ways_version', 'preferences_version'),
        migrations.RenameField('workshop', 'ways', 'preferences'),
        migrations.RenameField('workshop', 'ways_version', 'preferences_version'),
    ]
