"""A workshop out and in again: the same but ids, whole or not at all, nothing secret, nobody else's."""

from __future__ import annotations

import io
import json
import threading
import zipfile
from pathlib import Path
from typing import Any

import pytest
from django.apps import apps
from django.core.management import CommandError, call_command
from django.db import connection
from django_otp.plugins.otp_totp.models import TOTPDevice

from demo.load import load
from tests.full import full_shop
from tests.workshop.conftest import PASSWORD, Shop
from tests.workshop.test_erasing import everything
from workshop.core.models import Event, Turn
from workshop.jobs.models import Job
from workshop.people.accounts import one_time_link
from workshop.people.models import User, Workshop
from workshop.photos.models import StoredFile
from workshop.safekeeping import coming_in, going_out
from workshop.safekeeping.carried import ALONG, BEHIND, IN_LINES, NOBODY
from workshop.safekeeping.coming_in import ArchiveError, TakenNames, bring_in, people_of
from workshop.safekeeping.erasing import erase_customer, erase_person
from workshop.safekeeping.going_out import archive_of
from workshop.safekeeping.scrubbing import OURS
from workshop.safekeeping.status import epoch

Tables = dict[str, list[dict[str, Any]]]
BATCHES = ("batch", "by_batch")


@pytest.fixture
def full(db: None) -> Shop:
    return full_shop(PASSWORD)


@pytest.fixture
def out(full: Shop, tmp_path: Path) -> Path:
    return written(full.workshop.pk, tmp_path / "out.zip")


def written(workshop_id: int, path: Path) -> Path:
    path.write_bytes(b"".join(archive_of(workshop_id)))
    return path


def others(path: Path) -> dict[str, str]:
    return {name: f"{name}.2" for name in people_of(path)}


def tables(path: Path) -> Tables:
    with zipfile.ZipFile(path) as file:
        names = [name for name in file.namelist() if name.startswith("tables/")]
        return {
            name.removeprefix("tables/").removesuffix(".jsonl"): [
                json.loads(line) for line in file.read(name).splitlines()
            ]
            for name in names
        }


def points(label: str, row: dict[str, Any]) -> dict[str, tuple[str, Any]]:
    """Which columns of a row say an id, and of which table: by the columns themselves."""
    model = apps.get_model(label)
    found = {
        one.attname: (one.related_model._meta.label, row[one.attname])
        for one in model._meta.concrete_fields
        if one.is_relation
    }
    if not model._meta.pk.is_relation:
        found["id"] = (label, row["id"])
    if label == "core.Event":
        of = next(one._meta.label for one in apps.get_models() if one._meta.model_name == row["kind"])
        found["thing_id"] = (of, row["thing_id"])
    return found


def test_every_table_goes_along_or_is_left_behind_for_a_reason() -> None:
    ours = {model._meta.label for model in apps.get_models() if model._meta.app_label in OURS}
    assert ours == set(ALONG) | set(BEHIND)
    assert not set(ALONG) & set(BEHIND)
    before: set[str] = set()
    for label in ALONG:
        for one in apps.get_model(label)._meta.concrete_fields:
            if one.is_relation:
                assert one.related_model._meta.label in before | {label}, f"{label}.{one.name} comes too early"
        before.add(label)


def test_out_and_in_and_out_again_is_the_same_but_ids(full: Shop, out: Path, tmp_path: Path) -> None:
    came = bring_in(out, others(out))
    again = written(came.workshop.pk, tmp_path / "again.zip")
    one, two = tables(out), tables(again)
    assert [label for label, rows in one.items() if not rows] == []
    assert came.wrong == []
    ids: dict[tuple[str, Any], Any] = {}
    batches: dict[str, str] = {}
    for label, rows in one.items():
        assert len(rows) == len(two[label]), label
        for was, new in zip(rows, two[label], strict=True):
            key = apps.get_model(label)._meta.pk.attname
            ids[label, was[key]] = new[key]
            assert was[key] != new[key]
    ids["photos.Photo", 987_654] = NOBODY
    for label, rows in one.items():
        for was, new in zip(rows, two[label], strict=True):
            for name, (of, value) in points(label, was).items():
                assert (None if value is None else ids[of, value]) == new[name], (label, name)
            plain = set(was) - set(points(label, was))
            for name in plain:
                expected = was[name]
                if name in BATCHES and expected:
                    expected = batches.setdefault(expected, new[name])
                elif name == "username":
                    expected = f"{expected}.2"
                elif name == "file":
                    expected = f"photographs/{new['id']}.jpg"
                elif label == "core.Event" and name in ("before", "after"):
                    expected = {k: ids.get((IN_LINES[k], v), v) if k in IN_LINES else v for k, v in expected.items()}
                elif label == "people.Workshop" and name == "preferences":
                    expected = {**expected, "work_days": [{"person": "wren.2", "weekday": "monday"}]}
                assert new[name] == expected, (label, name)
    assert len(set(batches.values())) == len(batches)
    pictures = [
        [file.read(name) for name in file.namelist() if name.startswith("photographs/")]
        for file in (zipfile.ZipFile(out), zipfile.ZipFile(again))
    ]
    assert pictures[0] == pictures[1] != []


def test_numbers_go_on_where_they_were_and_its_people_come_in_by_links(full: Shop, out: Path, client: Any) -> None:
    last = Job.objects.filter(workshop=full.workshop).latest("number").number
    came = bring_in(out, others(out))
    owner = User.objects.get(username="wren.2")
    assert not owner.has_usable_password()
    link = one_time_link(owner).partition("#")[2]
    answer = client.post(
        "/api/session/welcome", {"link": link, "password": "copper and bronze"}, content_type="application/json"
    )
    assert answer.status_code == 200, answer.content
    owner.refresh_from_db()
    client.force_login(owner, backend="django.contrib.auth.backends.ModelBackend")
    assert Shop(came.workshop, owner, client).job().number == last + 1
    bench = Shop(came.workshop, owner, client).send("get", "/bench")
    assert bench.status_code == 200


def test_devices_of_the_workshop_as_it_was_ask_before_they_send(full: Shop, out: Path) -> None:
    """Ids are other ones: a tick that waited for job 7 must not reach another customer's ring."""
    before = epoch(full.workshop)
    assert epoch(bring_in(out, others(out)).workshop) > before
    full.workshop.refresh_from_db()
    assert epoch(full.workshop) == before


def test_a_photograph_that_its_storage_does_not_give_is_said_and_the_rest_goes_out(
    full: Shop, tmp_path: Path
) -> None:
    StoredFile.objects.filter(name=full.workshop.photos.get().file.name).delete()
    out = written(full.workshop.pk, tmp_path / "out.zip")
    came = bring_in(out, others(out))
    assert (came.photographs, came.workshop.photos.count()) == (0, 1)
    assert ["cannot be opened" in words for words in came.wrong] == [True]


def test_nothing_secret_and_nobody_elses_is_in_it(full: Shop, theirs: Shop, tmp_path: Path) -> None:
    theirs.job("a secret of theirs")
    TOTPDevice.objects.create(user=full.user, name="app", key="5ec2e7" * 5)
    full.user.refresh_from_db()
    out = written(full.workshop.pk, tmp_path / "mine.zip")
    with zipfile.ZipFile(out) as file:
        text = b"".join(file.read(name) for name in file.namelist()).decode(errors="replace")
    for secret in (full.user.password, "5ec2e7", "a secret of theirs", '"password"', '"last_login"'):
        assert secret not in text, secret
    assert full.user.username in text
    own = tables(written(theirs.workshop.pk, tmp_path / "theirs.zip"))
    assert [row["name"] for row in own["people.Workshop"]] == ["theirs"]
    assert [row["title"] for row in own["jobs.Job"]] == ["a secret of theirs"]


def test_a_taken_name_is_asked_for_and_nothing_came_in(full: Shop, out: Path) -> None:
    before = everything()
    with pytest.raises(TakenNames) as said:
        bring_in(out)
    assert said.value.names == sorted(people_of(out))
    with pytest.raises(TakenNames):
        bring_in(out, dict.fromkeys(people_of(out), "the-same"))
    with pytest.raises(ArchiveError, match="no name to sign in with"):
        bring_in(out, others(out) | {"wren": "a name of words"})
    with pytest.raises(CommandError, match="--name"):
        call_command("workshop_in", out)
    assert everything() == before
    said_so = io.StringIO()
    call_command("workshop_in", out, name=[f"{was}={new}" for was, new in others(out).items()], stdout=said_so)
    assert "/welcome#" in said_so.getvalue()
    assert "wren.2" in said_so.getvalue()


def test_by_the_command_it_goes_out_once(full: Shop, tmp_path: Path) -> None:
    call_command("workshop_out", "wren", tmp_path / "shop.zip", stdout=io.StringIO())
    assert people_of(tmp_path / "shop.zip")
    assert (tmp_path / "shop.zip").stat().st_mode & 0o077 == 0
    for username, file in (("wren", "shop.zip"), ("nobody", "b.zip"), ("wren", "no/such/folder.zip")):
        with pytest.raises(CommandError):
            call_command("workshop_out", username, tmp_path / file)
    assert sorted(one.name for one in tmp_path.iterdir()) == ["shop.zip"]


def test_who_was_erased_stays_so(full: Shop, tmp_path: Path) -> None:
    customer = full.workshop.customers.first()
    name = customer.name
    erase_customer(full.actor, customer.pk)
    mate = User.objects.create_user("quillfeather", workshop=full.workshop)
    erase_person(full.actor, mate.pk)
    out = written(full.workshop.pk, tmp_path / "out.zip")
    with zipfile.ZipFile(out) as file:
        text = b"".join(file.read(one) for one in file.namelist() if one.startswith("tables/")).decode()
    assert name not in text
    assert "quillfeather" not in text
    came = bring_in(out, {one: f"{one}.2" for one in people_of(out) if not one.startswith("erased-")})
    assert User.objects.filter(workshop=came.workshop, username__startswith="erased-", is_active=False).count() == 1


def test_what_was_wrong_before_it_went_out_is_said_and_not_lost(full: Shop, tmp_path: Path) -> None:
    job = Job.objects.filter(workshop=full.workshop).latest("pk")
    Job.objects.filter(pk=job.pk).update(plan={"blanks": 7})
    out = written(full.workshop.pk, tmp_path / "out.zip")
    came = bring_in(out, others(out))
    assert any(f"job {job.number} " in words for words in came.wrong)
    assert Job.objects.get(workshop=came.workshop, number=job.number).plan == {"blanks": 7}


@pytest.mark.django_db(transaction=True)
def test_nothing_is_seen_before_it_is_whole_and_a_late_fault_leaves_nothing(
    tmp_path: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    load(PASSWORD, small=True)
    shop = Workshop.objects.get()
    out = written(shop.pk, tmp_path / "out.zip")
    seen: list[tuple[int, ...]] = []

    def from_elsewhere() -> None:
        counts = (Workshop, User, Job, StoredFile, Turn)
        seen.append(tuple(model._default_manager.count() for model in counts))
        connection.close()

    def look(workshop_id: int) -> Any:
        one = threading.Thread(target=from_elsewhere)
        one.start()
        one.join()
        raise ArchiveError("at the very end")

    before = everything()
    monkeypatch.setattr(coming_in, "look_through", look)
    from_elsewhere()
    with pytest.raises(ArchiveError, match="at the very end"):
        bring_in(out, others(out))
    assert seen[0] == seen[1]
    assert everything() == before


@pytest.mark.django_db(transaction=True)
def test_it_is_one_state_of_the_records_whatever_is_written_meanwhile(
    tmp_path: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    """A job that comes in while the archive is written is in none of its tables."""
    load(PASSWORD, small=True)
    user = User.objects.get(username="wren")
    jobs = Job.objects.count()

    def meanwhile() -> None:
        Shop(user.workshop, user, None).job("came meanwhile")  # type: ignore[arg-type]
        connection.close()

    monkeypatch.setattr(
        going_out, "AT_ONCE", 0
    )  # handed on row by row: the first piece is out before the jobs are read
    pieces: list[bytes] = []
    going = archive_of(user.workshop_id)  # type: ignore[arg-type]
    pieces.append(next(going))
    one = threading.Thread(target=meanwhile)
    one.start()
    one.join()
    pieces += going
    (tmp_path / "out.zip").write_bytes(b"".join(pieces))
    found = tables(tmp_path / "out.zip")
    assert Job.objects.count() == jobs + 1
    assert len(found["jobs.Job"]) == jobs
    assert not any("came meanwhile" in json.dumps(row) for rows in found.values() for row in rows)


def test_it_is_read_by_parts_however_many_there_are(ours: Shop, django_assert_max_num_queries: Any) -> None:
    for _ in range(3):
        ours.job()
    with django_assert_max_num_queries(70):
        few = len(b"".join(archive_of(ours.workshop.pk)))
    job = Job.objects.latest("pk")
    Event.objects.bulk_create(
        Event(workshop=ours.workshop, kind="job", thing_id=job.pk, what="looked-again") for _ in range(500)
    )
    with django_assert_max_num_queries(76):
        assert len(b"".join(archive_of(ours.workshop.pk))) > few


def test_only_the_owner_takes_it_out(ours: Shop) -> None:
    answer = ours.send("get", "/keeping/workshop.zip")
    assert answer.status_code == 200, answer.content
    with zipfile.ZipFile(io.BytesIO(b"".join(answer))) as file:
        assert json.loads(file.read("tables/people.Workshop.jsonl"))["name"] == "ours"
    User.objects.filter(pk=ours.user.pk).update(role="bench")
    assert ours.send("get", "/keeping/workshop.zip").status_code == 403


def test_ids_in_lines_of_the_history_are_all_known(full: Shop) -> None:
    """A number in a line of the history that is some row's id would say another's here."""
    known = {"heats", "marks", "passes_made", "sessions", "blanks", "strips"}
    for side in ("before", "after"):
        for line in Event.objects.values_list(side, flat=True):
            named = {name for name, value in line.items() if isinstance(value, int) and not isinstance(value, bool)}
            assert named <= known | set(IN_LINES), line
