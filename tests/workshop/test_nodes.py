"""Locks that are writes, orders that rest on no id alone, and which node of a group is asked."""

from __future__ import annotations

import ast
import subprocess
import sys
from base64 import b64decode
from collections.abc import Iterator
from pathlib import Path
from typing import Any

import MySQLdb
import pytest
from django.apps import apps
from django.db import OperationalError, connection, models, transaction
from django.db.transaction import TransactionManagementError
from django.test.utils import CaptureQueriesContext

from ringcraft.joint.asking import JointSeen
from tests.resizes import picture
from tests.stock import put_in, scrap
from tests.workshop.conftest import Shop
from workshop.core.holding import Held, hold
from workshop.core.models import Event, Turn
from workshop.core.tries import code_of, is_of_opening
from workshop.environment import addresses
from workshop.jobs.actions import tick_step
from workshop.jobs.joints import keep_look, newest_look
from workshop.jobs.measures import Taken, measures_now, take_measure
from workshop.jobs.models import Job, JobPhoto, JointLook, Measure, StepDone
from workshop.jobs.photos import add_photo
from workshop.nodes import serving, skipped
from workshop.nodes.base import DatabaseWrapper
from workshop.safekeeping.erasing import erase_customer
from workshop.stock.actions import ByHand, move_by_hand

ROOT = Path(__file__).resolve().parents[2]
OURS = [path for path in (ROOT / "workshop").rglob("*.py") if "migrations" not in path.parts]
#: Orders by key alone that mean nothing: how many there are where, and why.
BY_KEY = {
    "core/holding.py": (1, "in which rows are held: the same everywhere"),
    "core/pages.py": (1, "a walk over all rows"),
    "day/bench.py": (2, "people and jobs in any order that stays"),
    "day/planning.py": (1, "a stamp of the newest lines, not their order"),
    "day/sheet.py": (1, "people in any order that stays"),
    "jobs/catching_up.py": (1, "a walk over all rows"),
    "safekeeping/carried.py": (1, "a walk over all rows"),
    "safekeeping/erasing.py": (1, "keys, to be held"),
    "safekeeping/management/commands/copy_files.py": (1, "a walk over all rows"),
    "safekeeping/management/commands/tidy.py": (1, "a walk over all rows"),
    "safekeeping/management/commands/workshop_in.py": (1, "owners in any order"),
    "safekeeping/scrubbing.py": (2, "a walk over all rows"),
    "safekeeping/status.py": (2, "the largest key, which a restore makes larger, and which a backup holds"),
    "stock/tables.py": (1, "a walk over all rows"),
    "people/management/commands/new_person.py": (1, "workshops in any order"),
    "worth/reading.py": (2, "workshops in any order"),
}


def by_key(tree: ast.AST) -> Iterator[int]:
    """The lines that order by a key before anything else."""
    keys = {"id", "-id", "pk", "-pk"}
    for node in ast.walk(tree):
        first: Any = None
        if isinstance(node, ast.Call) and isinstance(node.func, ast.Attribute) and node.func.attr == "order_by":
            first = node.args[0] if node.args else None
        elif isinstance(node, ast.Call) and isinstance(node.func, ast.Name) and node.func.id == "page_of":
            first = node.args[1].elts[0] if isinstance(node.args[1], ast.Tuple) else None
        elif isinstance(node, ast.Call) and isinstance(node.func, ast.Attribute) and node.func.attr == "latest":
            first = node.args[0] if node.args else None
        if isinstance(first, ast.Constant) and first.value in keys:
            yield node.lineno


def test_no_order_that_means_something_rests_on_ids_alone() -> None:
    found = {str(path.relative_to(ROOT / "workshop")): list(by_key(ast.parse(path.read_text()))) for path in OURS}
    assert {path: len(lines) for path, lines in found.items() if lines} == {
        path: count for path, (count, _) in BY_KEY.items()
    }
    for model in apps.get_models():
        if model.__module__.startswith("workshop."):
            assert (*model._meta.ordering, "at")[0] not in ("id", "-id", "pk", "-pk"), model


def test_nothing_is_only_locked() -> None:
    """A lock for reading, a named lock and LOCK TABLES hold on one node of a group alone."""
    for path in [*OURS, *(ROOT / "tools").rglob("*.py"), *(ROOT / "demo").rglob("*.py")]:
        names = {node.attr for node in ast.walk(ast.parse(path.read_text())) if isinstance(node, ast.Attribute)}
        shows = path.name == "booking.py"  # shows on two nodes what became of that
        assert shows or "select_for_update" not in names, path
        assert not any(word in path.read_text() for word in ("GET_LOCK(", "LOCK TABLES", "LOCK IN SHARE")), path
    dump = (ROOT / "tools" / "shop" / "server.py").read_text()
    assert all(f'"{option}"' in dump for option in ("--skip-lock-tables", "--skip-add-locks"))


@pytest.mark.django_db
@pytest.mark.parametrize("model", [one for one in apps.get_models() if issubclass(one, Held)], ids=str)
def test_a_hold_is_a_write_before_anything_is_read(model: type[Held]) -> None:
    with CaptureQueriesContext(connection) as made:
        list(hold(model._default_manager.filter(pk=7)))
    kinds = [one["sql"].split()[0] for one in made.captured_queries]
    assert kinds == ["UPDATE", "SELECT"]
    assert "`turns` = (`" in made.captured_queries[0]["sql"]


@pytest.mark.django_db(transaction=True)
def test_nothing_is_held_outside_a_transaction(ours: Shop) -> None:
    with pytest.raises(TransactionManagementError):
        hold(Job.objects.all())


@pytest.mark.django_db
def test_a_count_never_goes_back(ours: Shop) -> None:
    job = ours.job()
    stale = Job.objects.get(pk=job.pk)
    with transaction.atomic():
        hold(Job.objects.filter(pk=job.pk))
    stale.title = "another"
    stale.save()
    job.refresh_from_db()
    assert (job.title, job.turns) == ("another", 1)


@pytest.mark.django_db
def test_whatever_changes_the_drawer_counts_its_turn_up(ours: Shop) -> None:
    coil = put_in(ours.actor, length_mm=100)
    before = Turn.objects.get(workshop=ours.workshop, what="drawer").turns
    move_by_hand(ours.actor, coil.pk, ByHand("filings", mass_g=0.2))
    middle = Turn.objects.get(workshop=ours.workshop, what="drawer").turns
    scrap(ours.actor, 1)
    after = Turn.objects.get(workshop=ours.workshop, what="drawer").turns
    assert before < middle < after


@pytest.mark.django_db
def test_of_two_measures_of_one_moment_the_later_holds_whatever_their_ids_are(ours: Shop) -> None:
    job = ours.job()
    take_measure(ours.actor, job, Taken("stock-thickness", "1.8"))
    take_measure(ours.actor, job, Taken("stock-thickness", "1.9"))
    first, second = Measure.objects.filter(job=job)
    Measure.objects.filter(job=job).update(at=first.at)
    Measure.objects.filter(pk=first.pk).update(id=second.pk + 100)  # as another node numbers it
    assert measures_now(Job.objects.get(pk=job.pk))["stock-thickness"].text.startswith("1.9")


@pytest.mark.django_db
def test_of_two_looks_of_one_moment_the_later_holds_whatever_their_ids_are(ours: Shop) -> None:
    job = ours.job()
    keep_look(ours.actor, job, "inspect", JointSeen(passes_made=1))
    keep_look(ours.actor, job, "inspect", JointSeen(passes_made=2))
    first, second = JointLook.objects.filter(job=job)
    JointLook.objects.filter(job=job).update(at=first.at)
    JointLook.objects.filter(pk=first.pk).update(id=second.pk + 100)
    found = newest_look(Job.objects.get(pk=job.pk), "inspect")
    assert found is not None
    assert found.seen["passes_made"] == 2


GOOD = [
    ("db1:3307,db2:3308", [("db1", 3307), ("db2", 3308)]),
    ("db1, db2", [("db1", 3306), ("db2", 3306)]),
    ("[fd00::1]:3307,[fd00::2]", [("fd00::1", 3307), ("fd00::2", 3306)]),
    ("::1", [("::1", 3306)]),
    ("10.0.0.1:3306", [("10.0.0.1", 3306)]),
    ("", [("127.0.0.1", 3306)]),
]


@pytest.mark.parametrize(("said", "wanted"), GOOD)
def test_addresses_are_read(monkeypatch: pytest.MonkeyPatch, said: str, wanted: list[Any]) -> None:
    monkeypatch.setenv("PLAIN_SHANK_DB_HOST", said)
    assert addresses("DB_HOST", 3306, "NOTHING") == wanted


@pytest.mark.parametrize(
    "said", ["db1:0", "db1:70000", "db1:x", "fd00::1,fd00::2", "db1;db2", "db1:3306,db1", ",", "db 1", "[db1]:3306"]
)
def test_other_addresses_end_the_program_with_one_line(monkeypatch: pytest.MonkeyPatch, said: str) -> None:
    monkeypatch.setenv("PLAIN_SHANK_DB_HOST", said)
    with pytest.raises(SystemExit, match="PLAIN_SHANK_DB_HOST"):
        addresses("DB_HOST", 3306, "NOTHING")


@pytest.mark.parametrize(("said", "fine"), [("localhost", True), ("db1:3307", False), ("db1,db2", False)])
def test_addresses_beside_a_socket_are_refused(monkeypatch: pytest.MonkeyPatch, said: str, fine: bool) -> None:
    monkeypatch.setenv("PLAIN_SHANK_DB_HOST", said)
    monkeypatch.setenv("PLAIN_SHANK_DB_SOCKET", "/run/sock")
    if fine:
        addresses("DB_HOST", 3306, "DB_SOCKET")
        return
    with pytest.raises(SystemExit, match="both set"):
        addresses("DB_HOST", 3306, "DB_SOCKET")


class Node:
    """A made-up node: what it says of itself, or that it does not answer."""

    def __init__(self, on: str = "ON", **said: str) -> None:
        self.on, self.said, self.open = on, {**serving.SERVES, **said}, True

    def cursor(self) -> Node:
        return self

    def execute(self, sql: str) -> None:
        self.rows = [("wsrep_on", self.on)] if "VARIABLES" in sql else list(self.said.items())

    def fetchone(self) -> Any:
        return self.rows[0]

    def fetchall(self) -> Any:
        return self.rows

    def close(self) -> None:
        self.open = False

    def ping(self) -> None:
        """It answers, whatever it says of itself."""


NODES = [("one", 1), ("two", 2), ("three", 3)]
LOST = {"wsrep_cluster_status": "non-Primary", "wsrep_ready": "OFF", "wsrep_local_state_comment": "Initialized"}


@pytest.fixture
def clock(monkeypatch: pytest.MonkeyPatch) -> Iterator[list[float]]:
    now = [1000.0]
    monkeypatch.setattr("workshop.nodes.skipped.time.monotonic", lambda: now[0])
    skipped.forget()
    yield now
    skipped.forget()


def chosen(nodes: dict[str, Node | None]) -> tuple[str, list[str]]:
    """Which node is chosen, and in which order they were asked."""
    asked: list[str] = []

    def connect(params: dict[str, Any]) -> Node:
        asked.append(params["host"])
        node = nodes[params["host"]]
        if node is None:
            raise MySQLdb.OperationalError(2003, "nobody there")
        return node

    found = serving.opened(NODES, {"user": "somebody"}, connect)
    return next(name for name, node in nodes.items() if node is found), asked


def test_the_first_that_serves_is_chosen(clock: list[float]) -> None:
    assert chosen({"one": Node(), "two": Node(), "three": Node()}) == ("one", ["one"])
    assert chosen({"one": Node(on="OFF", **LOST), "two": Node(), "three": Node()}) == ("one", ["one"])


@pytest.mark.parametrize(
    "first",
    [None, Node(**LOST), Node(wsrep_local_state_comment="Donor/Desynced"), Node(wsrep_ready="OFF"),
     Node(wsrep_local_state_comment="Joined")],
)  # fmt: skip
def test_one_that_does_not_serve_is_passed_by_for_ten_seconds(clock: list[float], first: Node | None) -> None:
    assert chosen({"one": first, "two": Node(), "three": Node()}) == ("two", ["one", "two"])
    assert first is None or not first.open
    assert chosen({"one": Node(), "two": Node(), "three": Node()}) == ("two", ["two"])
    clock[0] += 9.9
    assert chosen({"one": Node(), "two": None, "three": Node()})[0] == "three"
    clock[0] += 0.2
    assert chosen({"one": Node(), "two": Node(), "three": Node()}) == ("one", ["one"])


def test_where_none_serves_it_is_said_why(clock: list[float]) -> None:
    with pytest.raises(MySQLdb.OperationalError) as told:
        chosen({"one": Node(**LOST), "two": None, "three": Node(wsrep_local_state_comment="Joining")})
    assert told.value.args == (
        1047, "1 of 3 has lost the others, 1 of 3 has not caught up with the others, 1 of 3 does not answer"
    )  # fmt: skip


def test_several_that_do_not_serve_are_told_together(clock: list[float]) -> None:
    with pytest.raises(MySQLdb.OperationalError) as told:
        chosen({"one": Node(**LOST), "two": None, "three": None})
    assert told.value.args[1] == "1 of 3 has lost the others, 2 of 3 do not answer"


def test_what_a_worker_found_out_all_that_were_forked_know(clock: list[float]) -> None:
    import os

    if (child := os.fork()) == 0:
        skipped.skip(2)
        os._exit(0)
    os.waitpid(child, 0)
    assert [skipped.is_skipped(nth) for nth in range(4)] == [False, False, True, False]


def test_the_workers_share_it_as_it_is_read_before_they_are_forked() -> None:
    """By gunicorn's first process, with the application; each way of serving it does so (``--preload``)."""
    code = "import sys, workshop.wsgi; print('workshop.nodes.skipped' in sys.modules)"
    done = subprocess.run([sys.executable, "-c", code], cwd=ROOT, capture_output=True, text=True, check=True)
    assert done.stdout.strip() == "True"
    for name in ("demo.py", "shop/__main__.py", "cluster/serving.py"):
        assert '"--preload"' in (ROOT / "tools" / name).read_text()


@pytest.mark.django_db
def test_over_one_server_nothing_is_asked_and_nothing_marked(ours: Shop) -> None:
    assert connection.settings_dict["ENGINE"] == "workshop.nodes"
    with CaptureQueriesContext(connection) as made:
        answer = ours.send("post", "/customers", {"name": "Pym"})
    assert answer.status_code == 201
    assert "wrote" not in answer.cookies
    assert not any("wsrep" in one["sql"] for one in made.captured_queries)


@pytest.mark.django_db
def test_whoever_wrote_waits_for_the_node_that_answers(ours: Shop, settings: Any, monkeypatch: Any) -> None:
    waits: list[int] = []
    monkeypatch.setattr(DatabaseWrapper, "sees_what_was_written", lambda self: waits.append(1))
    monkeypatch.setitem(settings.DATABASES["default"], "NODES", NODES)
    assert ours.send("get", "/customers").status_code == 200
    assert "wrote" not in ours.send("post", "/customers", {"name": ""}).cookies
    assert waits == []
    answer = ours.send("post", "/customers", {"name": "Pym"})
    assert answer.cookies["wrote"]["max-age"] == 10
    assert ours.send("get", "/customers").status_code == 200
    assert waits == [1]


@pytest.mark.django_db
def test_a_group_that_cannot_agree_says_why(ours: Shop, monkeypatch: pytest.MonkeyPatch) -> None:
    from workshop.api import customers

    def alone(*_: Any, **__: Any) -> Any:
        raise OperationalError(1047, "1 of 3 has lost the others, 2 of 3 does not answer")

    monkeypatch.setattr(customers, "page_of", alone)
    answer = ours.send("get", "/customers")
    assert answer.status_code == 503
    assert "1 of 3 has lost the others" in str(answer.json())


def test_the_version_before_may_add_rows_to_whatever_is_held() -> None:
    for model in apps.get_models():
        if issubclass(model, Held):
            assert isinstance(model._meta.get_field("turns"), models.PositiveBigIntegerField)
            assert model._meta.get_field("turns").db_default == 0  # the version before may add rows meanwhile


@pytest.mark.django_db
def test_photographs_and_steps_stand_in_the_order_they_came_whatever_their_ids_are(ours: Shop) -> None:
    job = ours.job()
    for side in ("before", "after"):
        add_photo(ours.actor, job, side, b64decode(picture()))
    for key in ("cut", "scribe"):
        tick_step(ours.actor, job, key, True)
    for rows in (JobPhoto.objects.filter(job=job), StepDone.objects.filter(job=job)):
        first, second = rows
        rows.filter(pk=first.pk).update(id=second.pk + 100)
    assert [row.side for row in JobPhoto.objects.filter(job=job)] == ["before", "after"]
    assert [row.key for row in StepDone.objects.filter(job=job)] == ["cut", "scribe"]


@pytest.mark.django_db
def test_the_history_is_told_by_time_and_not_by_id(ours: Shop) -> None:
    job = ours.job()
    tick_step(ours.actor, job, "cut", True)
    made, ticked = Event.objects.filter(kind="job", thing_id=job.pk)
    Event.objects.filter(pk=made.pk).update(id=ticked.pk + 100)
    told = ours.send("get", f"/jobs/{job.pk}/history").json()["items"]
    assert [one["what"] for one in told] == ["ticked", "created"]


@pytest.mark.django_db
def test_who_is_erased_is_so_while_nobody_books(ours: Shop) -> None:
    made = ours.send("post", "/customers", {"name": "Pym"}).json()
    put_in(ours.actor, length_mm=100)
    before = Turn.objects.get(workshop=ours.workshop, what="drawer").turns
    erase_customer(ours.actor, made["id"])
    assert Turn.objects.get(workshop=ours.workshop, what="drawer").turns > before


@pytest.mark.django_db
@pytest.mark.parametrize("nodes", [[], [("127.0.0.1", 1), ("127.0.0.1", 2)]])
def test_where_nothing_was_reached_it_is_marked(clock: list[float], nodes: list[Any]) -> None:
    """So that nobody waits for three tries of what has asked every server already."""
    there = {**connection.settings_dict, "HOST": "127.0.0.1", "PORT": "1", "NODES": nodes}
    with pytest.raises(OperationalError) as told:
        DatabaseWrapper(there, "elsewhere").ensure_connection()
    assert is_of_opening(told.value)
    assert code_of(told.value) == (1047 if nodes else 2002)


@pytest.mark.parametrize(("node", "usable"), [(Node(), True), (Node(**LOST), False)])
def test_a_kept_connection_to_a_node_that_does_not_serve_any_more_is_given_up(node: Node, usable: bool) -> None:
    wrapper = DatabaseWrapper({**connection.settings_dict, "NODES": NODES}, "elsewhere")
    wrapper.connection = node
    assert wrapper.is_usable() is usable
    wrapper.connection = None
