"""Every job that was kept gets its route, its words and its history in the one record.

Where it stands on the bench is worked out when the application starts, for every open job that does not say it yet.
"""

from django.db import migrations, transaction

from ringcraft.work.kept import KeptPlanError, version_of
from workshop.jobs.models import folded
from workshop.jobs.plans import kept_plan

BATCH = 200


def stand(apps, schema_editor):
    """Say of each job which route it is on; what was done so far was done on the route it has now."""
    Job = apps.get_model("jobs", "Job")
    StepDone = apps.get_model("jobs", "StepDone")
    Measure = apps.get_model("jobs", "Measure")
    last = 0
    while True:
        jobs = list(Job.objects.filter(pk__gt=last).order_by("pk")[:BATCH])
        if not jobs:
            return
        for job in jobs:
            with transaction.atomic():
                job.plan_version = version_of(job.plan) if isinstance(job.plan, dict) else 0
                job.opened = None  # a model of today opens a plan once and holds it
                try:
                    job.route_key = kept_plan(job).route_key()
                except KeptPlanError:
                    job.route_key = "make/unread"
                StepDone.objects.filter(job=job, route_key="").update(route_key=job.route_key)
                work = Measure.objects.filter(job=job, route_key="").exclude(
                    key__in=("stock-thickness", "stock-width", "inside-finished-ring")
                )
                work.update(route_key=job.route_key)
                job.words = folded(f"{job.customer_name} {job.title}")[:300]
                job.save()
        last = jobs[-1].pk


def one_history(apps, schema_editor):
    """Move the jobs' own history into the one record."""
    Old = apps.get_model("jobs", "Event")
    New = apps.get_model("core", "Event")
    while True:
        rows = list(Old.objects.select_related("job").order_by("id")[:BATCH])
        if not rows:
            return
        with transaction.atomic():
            for row in rows:
                made = New.objects.create(
                    workshop_id=row.job.workshop_id, by_id=row.by_id, kind="job", thing_id=row.job_id,
                    what=row.what, after=row.detail,
                )
                New.objects.filter(pk=made.pk).update(at=row.at)
            Old.objects.filter(pk__in=[row.pk for row in rows]).delete()


class Migration(migrations.Migration):

    dependencies = [
        ("core", "0001_initial"),
        ("jobs", "0003_steps_measures_places_and_the_benchs_columns"),
    ]

    operations = [
        migrations.RunPython(stand, migrations.RunPython.noop),
        migrations.RunPython(one_history, migrations.RunPython.noop),
        migrations.DeleteModel(name="Event"),
    ]
