"""Roles: today's people become owners. A price is the workshop's: one that a person had set is taken over where the
workshop has none of its own, and stays in the history either way."""

from django.conf import settings
from django.db import migrations, models
import django.db.models.deletion

PRICES = (
    "currency", "decimals", "hour_price", "solder_price", "setting_price", "plating_price", "metal_more",
    "refiner_keeps", "metal_prices",
)


def prices_are_the_workshops(apps, schema):
    User, Workshop = apps.get_model("people", "User"), apps.get_model("people", "Workshop")
    Event = apps.get_model("core", "Event")
    for user in User.objects.exclude(preferences={}).filter(workshop__isnull=False).order_by("pk"):
        own = {name: user.preferences[name] for name in PRICES if name in user.preferences}
        if not own:
            continue
        shop = Workshop.objects.get(pk=user.workshop_id)
        new = {name: value for name, value in own.items() if name not in shop.preferences}
        if new:
            shop.preferences = {**shop.preferences, **new}
            shop.preferences_version += 1
            shop.save(update_fields=["preferences", "preferences_version"])
            Event.objects.create(workshop_id=shop.pk, kind="workshop", thing_id=shop.pk, what="ways-set", after=new)
        user.preferences = {name: value for name, value in user.preferences.items() if name not in own}
        user.preferences_version += 1
        user.save(update_fields=["preferences", "preferences_version"])
        Event.objects.create(workshop_id=shop.pk, kind="user", thing_id=user.pk, what="ways-set", before=own)


class Migration(migrations.Migration):

    dependencies = [
        ("people", "0002_preferences"),
        ("core", "0002_turns"),
    ]

    operations = [
        migrations.AddField("workshop", "people_version", models.PositiveIntegerField(default=1)),
        migrations.AddField(
            "user",
            "role",
            models.CharField(
                choices=[("owner", "owner"), ("bench", "bench"), ("counter", "counter")], default="owner", max_length=12
            ),
        ),
        migrations.AlterField(
            "user",
            "role",
            models.CharField(
                choices=[("owner", "owner"), ("bench", "bench"), ("counter", "counter")], default="bench", max_length=12
            ),
        ),
        migrations.RunPython(prices_are_the_workshops, migrations.RunPython.noop),
        migrations.CreateModel(
            name="UsedLink",
            fields=[
                ("id", models.BigAutoField(auto_created=True, primary_key=True, serialize=False, verbose_name="ID")),
                ("digest", models.CharField(max_length=64, unique=True)),
                ("at", models.DateTimeField(auto_now_add=True)),
            ],
        ),
        migrations.CreateModel(
            name="OpenSession",
            fields=[
                ("id", models.BigAutoField(auto_created=True, primary_key=True, serialize=False, verbose_name="ID")),
                ("session_key", models.CharField(max_length=40, unique=True)),
                ("agent", models.CharField(default="", max_length=200)),
                ("address", models.CharField(default="", max_length=45)),
                ("since", models.DateTimeField(auto_now_add=True)),
                ("seen_at", models.DateTimeField(auto_now_add=True)),
                (
                    "user",
                    models.ForeignKey(
                        on_delete=django.db.models.deletion.CASCADE,
                        related_name="open_sessions",
                        to=settings.AUTH_USER_MODEL,
                    ),
                ),
            ],
        ),
    ]
