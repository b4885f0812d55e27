"""What was booked together is taken back once; what a piece is of stands on its row."""

import django.db.models.deletion
from django.conf import settings
from django.db import migrations, models


def name_stocks(apps, schema_editor):
    """Set what each piece is of, as ``StockItem.stock_key`` does for a new one."""
    from ringcraft.errors import CraftError
    from ringcraft.stock.drawer import StockPiece, section_of_piece

    Item = apps.get_model("stock", "StockItem")
    for item in Item.objects.exclude(length_mm=None).iterator(500):
        figures = {name: getattr(item, name) for name in ("thickness_mm", "width_mm", "side_mm")}
        figures = {name: None if value is None else float(value) for name, value in figures.items()}
        try:
            section = section_of_piece(StockPiece(kind=item.kind, metal=item.metal, profile=item.profile or None, **figures))
        except (CraftError, KeyError, ValueError):
            continue  # nothing is cut from what nobody can describe
        if section is None:
            continue
        if item.kind == "sheet":
            item.stock = f"{item.metal}:sheet:{section.thickness_mm:.2f}"
        else:
            profile = "rectangle" if section.profile in ("sheet", "square") else section.profile
            sizes = f"{section.width_mm:.2f}x{section.thickness_mm:.2f}:{section.side_mm:.2f}"
            item.stock = f"{item.metal}:{profile}:{sizes}"
        item.save(update_fields=["stock"])


def name_what_was_taken_back(apps, schema_editor):
    """What was taken back before was known by the first letters of its batch alone."""
    Movement, Taken = apps.get_model("stock", "Movement"), apps.get_model("stock", "TakenBack")
    back = Movement.objects.filter(batch__startswith="back ").values_list("batch", "item__workshop_id").distinct()
    for mark, workshop in list(back):
        begun = Movement.objects.filter(batch__startswith=mark[5:], item__workshop_id=workshop)
        for batch in set(begun.values_list("batch", flat=True)):
            Taken.objects.get_or_create(batch=batch, defaults={"by_batch": mark, "workshop_id": workshop})


class Migration(migrations.Migration):

    dependencies = [
        ('jobs', '0007_as_asked'),
        ('people', '0002_preferences'),
        ('stock', '0001_the_drawer'),
        migrations.swappable_dependency(settings.AUTH_USER_MODEL),
    ]

    operations = [
        migrations.CreateModel(
            name='TakenBack',
            fields=[
                ('id', models.BigAutoField(auto_created=True, primary_key=True, serialize=False, verbose_name='ID')),
                ('batch', models.CharField(max_length=32, unique=True)),
                ('by_batch', models.CharField(max_length=32, unique=True)),
                ('at', models.DateTimeField(auto_now_add=True)),
            ],
        ),
        migrations.AddField(
            model_name='stockitem',
            name='stock',
            field=models.CharField(blank=True, default='', max_length=100),
        ),
        migrations.AddIndex(
            model_name='movement',
            index=models.Index(fields=['batch'], name='movement_of_batch'),
        ),
        migrations.AddIndex(
            model_name='stockitem',
            index=models.Index(fields=['workshop', 'stock', 'job', 'length_mm', 'mass_g'], name='stock_by_stock'),
        ),
        migrations.AddField(
            model_name='takenback',
            name='by',
            field=models.ForeignKey(null=True, on_delete=django.db.models.deletion.SET_NULL, related_name='+', to=settings.AUTH_USER_MODEL),
        ),
        migrations.AddField(
            model_name='takenback',
            name='workshop',
            field=models.ForeignKey(on_delete=django.db.models.deletion.PROTECT, related_name='+', to='people.workshop'),
        ),
        migrations.RunPython(name_stocks, migrations.RunPython.noop),
        migrations.RunPython(name_what_was_taken_back, migrations.RunPython.noop),
    ]
