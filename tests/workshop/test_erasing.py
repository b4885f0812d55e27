"""Erasing a customer or a colleague: the name is in no column, no file, no paper after, and what was measured stays."""

from __future__ import annotations

import base64
import io
import json
import zlib
from datetime import date
from pathlib import Path
from typing import Any

import pypdf
import pytest
from django.apps import apps
from django.db import connection

from ringcraft.resize.plan import read_resize
from ringcraft.styles import read_ring
from ringcraft.works import RESIZE as RESIZE_WORK
from tests.orders import order
from tests.resizes import came_in, picture
from tests.stock import put_in
from tests.workshop.conftest import PASSWORD, Shop
from workshop.core.models import Event, Sent
from workshop.customers.actions import FingerDetails, create_customer, edit_customer, measure_finger
from workshop.customers.models import Customer
from workshop.jobs.actions import create_job
from workshop.jobs.details import JobDetails
from workshop.jobs.measures import Taken, take_measure
from workshop.jobs.models import Job, JobPhoto
from workshop.jobs.photos import add_photo
from workshop.people.models import User, Workshop
from workshop.photos.models import Photo, StoredFile
from workshop.safekeeping.erasing import erase_again, erase_customer
from workshop.safekeeping.scrubbing import NO_NAMES, OURS, PATHS, TEXTS, swapping
from workshop.stock.actions import ItemWords
from workshop.stock.models import Movement

NAME = "Quimbly Zörpax"
PARTS = ("quimbly", "zörpax", "zorpax", "z\\u00f6rpax")


def everything() -> str:
    """Every column of every table, packed answers unpacked, as one text."""
    out = []
    with connection.cursor() as cursor:
        for table in connection.introspection.table_names(cursor):
            cursor.execute(f"SELECT * FROM `{table}`")
            for row in cursor.fetchall():
                for cell in row:
                    if isinstance(cell, bytes):
                        try:
                            cell = zlib.decompress(cell).decode()
                        except (zlib.error, UnicodeDecodeError):
                            cell = cell.decode(errors="replace")
                    out.append(f"{table}: {cell}")
    return "\n".join(out).lower()


def left(text: str) -> list[str]:
    return [line[:200] for line in text.lower().split("\n") for part in PARTS if part in line]


@pytest.fixture
def named(ours: Shop) -> dict[str, Any]:
    """A name in every place that people type in, and in those that follow from them."""
    made = ours.send(
        "post", "/customers", {"name": NAME, "note": f"{NAME}: no nickel"}, **{"Idempotency-Key": "of-the-customer"}
    ).json()
    customer = Customer.objects.get(pk=made["id"])
    edit_customer(ours.actor, customer.pk, 1, NAME, f"call {NAME.upper()} before five")
    measure_finger(ours.actor, customer, FingerDetails("left", "7", date(2026, 5, 4), None, None, "swollen"), "us")
    details = JobDetails(
        title="Zörpax wedding band", customer=customer, customer_name=NAME, note="for Quimbly’s wife"
    )
    job = create_job(ours.actor, details, read_ring(order()))
    resize = create_job(
        ours.actor,
        JobDetails(title="heirloom", customer=customer, customer_name=NAME),
        read_resize(came_in()),
        RESIZE_WORK,
    )
    other = create_job(ours.actor, JobDetails(title=f"like the one of {NAME}", note="not his"), read_ring(order()))
    take_measure(ours.actor, job, Taken("stock-thickness", "1.9"))
    add_photo(ours.actor, resize, "before", base64.b64decode(picture()))
    item = put_in(ours.actor, ItemWords(name=f"coil from {NAME}", job_id=job.pk))
    Movement.objects.filter(item=item).update(note=f"brought by {NAME}", job=job)
    ours.send("put", f"/jobs/{job.pk}/place", {"place": "setter", "note": f"ask {NAME}", "version": 1})
    ours.send("put", f"/jobs/{job.pk}/steps/measure-stock", {"done": True}, **{"Idempotency-Key": "a-tick-of-it"})
    ours.send("put", f"/jobs/{resize.pk}/closed", {"closed": True, "without": f"{NAME} was in a hurry"})
    ours.send("post", "/day/settle", {})
    ours.send("get", "/logbook")
    assert len(left(everything())) > 20
    return {"customer": customer, "job": job, "resize": resize, "other": other, "item": item}


def test_after_it_the_name_is_nowhere_and_what_was_measured_stays(ours: Shop, named: dict[str, Any]) -> None:
    job = Job.objects.get(pk=named["job"].pk)
    mass, cut, rows = named["item"].mass_g, job.plan["blanks"][0]["cut_text"], Event.objects.count()
    answer = ours.send("delete", f"/customers/{named['customer'].pk}")
    token = answer.json()["token"]
    assert left(everything()) == []
    job = Job.objects.get(pk=job.pk)
    assert (job.customer_name, job.plan["blanks"][0]["cut_text"]) == (token, cut)
    assert token in job.title
    assert named["customer"].fingers.get().text == "7"
    assert job.measures.get(key="stock-thickness").text == "1.9"
    named["item"].refresh_from_db()
    assert (named["item"].mass_g, named["item"].owner) == (mass, token)
    assert (Photo.objects.count(), StoredFile.objects.count(), JobPhoto.objects.count()) == (0, 0, 0)
    assert Event.objects.count() == rows + 1
    assert Event.objects.latest("pk").what == "erased"
    assert Job.objects.get(pk=named["other"].pk).note == "not his"


def test_no_endpoint_no_paper_and_no_kept_answer_says_it(ours: Shop, named: dict[str, Any]) -> None:
    ours.send("delete", f"/customers/{named['customer'].pk}")
    job, resize = named["job"].pk, named["resize"].pk
    pages = [
        "/bench", "/jobs", "/customers", f"/customers/{named['customer'].pk}", f"/jobs/{job}", f"/jobs/{job}/history",
        f"/jobs/{job}/file", f"/jobs/{resize}", f"/jobs/{resize}/history", f"/jobs/{resize}/ticket.pdf",
        f"/jobs/{job}/ticket.pdf", f"/jobs/{job}/blank.pdf", f"/jobs/{job}/blank.svg", f"/slips/{resize}.pdf",
        "/stock", "/stock/items.csv", "/stock/movements.csv", f"/stock/{named['item'].pk}", "/logbook",
        "/logbook/rings.csv", "/logbook/rings.json", "/jobs/find?q=quimbly", "/day", "/people",
    ]  # fmt: skip
    for page in pages:
        answer = ours.send("get", page)
        assert answer.status_code == 200, page
        body = b"".join(answer)
        if body.startswith(b"%PDF"):
            body = "".join(one.extract_text() for one in pypdf.PdfReader(io.BytesIO(body)).pages).encode()
        assert left(body.decode(errors="replace")) == [], page
    again = ours.send(
        "post", "/customers", {"name": NAME, "note": f"{NAME}: no nickel"}, **{"Idempotency-Key": "of-the-customer"}
    )
    assert (again["Idempotency-Replayed"], left(again.content.decode())) == ("true", [])
    assert Sent.objects.filter(key="a-tick-of-it").exists()


def test_another_customer_of_the_same_name_keeps_it(ours: Shop, named: dict[str, Any]) -> None:
    twin = create_customer(ours.actor, NAME, "the other one")
    job = create_job(ours.actor, JobDetails(title="hers", customer=twin, customer_name=NAME), read_ring(order()))
    ours.send("delete", f"/customers/{named['customer'].pk}")
    twin.refresh_from_db()
    job.refresh_from_db()
    assert (twin.name, twin.note, job.customer_name) == (NAME, "the other one", NAME)
    assert Job.objects.get(pk=named["job"].pk).customer_name.startswith("erased-")


@pytest.mark.parametrize("name", ["Rose Gold", "Sterling", "Half Round"])
def test_who_is_called_like_a_metal_changes_no_plan(ours: Shop, name: str) -> None:
    """What a plan is reckoned from is nobody's name: not even in this customer's own jobs."""
    customer = create_customer(ours.actor, name)
    details = JobDetails(title=f"{name}’s band", customer=customer, customer_name=name, note=f"{name} rang")
    jobs = [
        create_job(ours.actor, details, read_ring(order(metal=metal))) for metal in ("gold-14k-rose", "sterling")
    ] + [create_job(ours.actor, JobDetails(title="another"), read_ring(order(metal="gold-14k-rose")))]
    before = {one.pk: (one.order, one.plan, one.metal_family, one.summary) for one in Job.objects.all()}
    ours.send("delete", f"/customers/{customer.pk}")
    after = {one.pk: (one.order, one.plan, one.metal_family, one.summary) for one in Job.objects.all()}
    assert after == before
    assert name not in Job.objects.get(pk=jobs[0].pk).title
    assert ours.send("get", f"/jobs/{jobs[0].pk}").json()["plan"]["metal"]["key"] == "gold-14k-rose"
    assert name not in json.dumps(list(Event.objects.values("before", "after")))


def test_a_stranger_is_not_touched(ours: Shop, theirs: Shop, named: dict[str, Any]) -> None:
    other = create_customer(theirs.actor, NAME, "of another workshop")
    assert theirs.send("delete", f"/customers/{named['customer'].pk}").status_code == 404
    ours.send("delete", f"/customers/{named['customer'].pk}")
    other.refresh_from_db()
    assert other.name == NAME


def test_a_colleague_is_erased_and_what_they_did_stays(ours: Shop) -> None:
    mate = User.objects.create_user("zquork", password=PASSWORD, first_name="Zquork", last_name="Plimth",
                                    workshop=ours.workshop, role="bench")  # fmt: skip
    theirs = Shop(ours.workshop, mate, ours.client.__class__())
    theirs.send("post", "/session", {"username": "zquork", "password": PASSWORD})
    job = theirs.send("post", "/jobs", {"title": "band by Zquork Plimth", "order": order(), "version": 1}).json()[
        "id"
    ]
    theirs.send("put", f"/jobs/{job}/steps/measure-stock", {"done": True})
    ours.send("put", "/ways/workshop", {"work_days": [{"person": "zquork", "weekday": "monday"}], "version": 1})
    ours.send("put", f"/people/{mate.pk}/role", {"role": "counter"})
    ours.send("post", "/day/settle", {})
    before = everything()
    assert before.count("zquork") > 5
    assert ours.send("delete", f"/people/{ours.user.pk}").status_code == 422
    assert ours.send("delete", f"/people/{mate.pk}").status_code == 200
    after = everything()
    found = [line[:160] for line in after.split("\n") if "zquork" in line or "plimth" in line]
    assert [line for line in found if not line.startswith(("axes_", "django_session"))] == []
    assert theirs.send("get", "/bench").status_code == 401
    assert Job.objects.get(pk=job).steps_done.get().by_id == mate.pk
    shown = ours.send("get", f"/jobs/{job}/history").json()
    assert "erased-" in json.dumps(shown)
    assert Workshop.objects.get(pk=ours.workshop.pk).preferences.get("work_days") == []


def test_a_list_outside_the_database_erases_again_after_a_restore(
    ours: Shop, named: dict[str, Any], settings: Any, tmp_path: Path
) -> None:
    settings.ERASURES = str(tmp_path / "erasures.jsonl")
    before = {model: list(model.objects.values()) for model in (Customer, Job)}
    answer = ours.send("delete", f"/customers/{named['customer'].pk}").json()
    assert answer["listed"] is True
    listed = Path(settings.ERASURES).read_text()
    assert left(listed) == []
    assert json.loads(listed)["token"] == answer["token"]
    for model, rows in before.items():  # as a restore would bring them back
        for row in rows:
            model.objects.filter(pk=row["id"]).update(**{name: value for name, value in row.items() if name != "id"})
    assert left(everything())
    assert erase_again(Path(settings.ERASURES)) == 1
    assert left(everything()) == []
    assert Customer.objects.get(pk=named["customer"].pk).name == answer["token"]
    assert erase_again(Path(settings.ERASURES)) == 0


def test_where_the_list_cannot_be_written_nothing_is_erased(ours: Shop, named: dict[str, Any], settings: Any) -> None:
    settings.ERASURES = "/nowhere/at/all"
    with pytest.raises(OSError, match="nowhere"):
        erase_customer(ours.actor, named["customer"].pk)
    assert Customer.objects.get(pk=named["customer"].pk).name == NAME


@pytest.mark.parametrize(
    ("text", "becomes"),
    [
        ("Li Moon and li  moon", "T and T"),
        ("LI MOON’s ring", "T’s ring"),
        ("Belli Moonstone", "Belli Moonstone"),
        ("silver, Li", "silver, Li"),
    ],
)
def test_a_name_is_found_as_words_of_its_own(text: str, becomes: str) -> None:
    assert swapping(["Li Moon"], "T")(text) == becomes


def test_every_table_with_texts_is_looked_through() -> None:
    """A new table costs a line in the table of paths, or one that says that it holds no name."""
    wanted = {
        model._meta.label
        for model in apps.get_models()
        if model._meta.app_label in OURS and any(isinstance(field, TEXTS) for field in model._meta.concrete_fields)
    }
    assert wanted - set(PATHS) - NO_NAMES == set()
    for label, path in PATHS.items():
        assert apps.get_model(label)._default_manager.filter(**{path: 1}).query
