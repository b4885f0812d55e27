"""Two who book one blank from two bars, on two nodes, and commit together: one of them does.

``python -m tools.cluster.booking NTH`` is one of the two, told by lines what to do next. With ``only-lock`` the rows
are locked for reading and not written, as they were once: then both do, which shows that the trial can fail. They cut
with shears: no filings of both go to one lot, and nothing but what they hold keeps them apart.
"""

from __future__ import annotations

import json
import os
import subprocess
import sys
from collections import Counter
from collections.abc import Callable
from typing import IO, Any

RECTANGLE = {"profile": "rectangle", "width_mm": 3.3, "thickness_mm": 1.7}
ORDER = {"style": "plain-band", "size": "US 6 3/4", "metal": "sterling", "stock": RECTANGLE}
SHOP = "two at once"


def made() -> dict[str, Any]:
    """A workshop with one ring to cut and two stocks that serve it: flat wire, and sheet."""
    from ringcraft.schema import read_request
    from ringcraft.stock.drawer import PIECE
    from ringcraft.styles import read_ring
    from workshop.core.history import Actor
    from workshop.jobs.actions import create_job
    from workshop.jobs.details import JobDetails
    from workshop.people.models import Workshop
    from workshop.stock.actions import ItemWords, take_in
    from workshop.stock.groups import group_key

    actor = Actor(Workshop.objects.create(name=SHOP).pk)
    job = create_job(actor, JobDetails("band", "somebody"), read_ring(ORDER))
    bars = [
        {"kind": "wire", "metal": "sterling", **RECTANGLE, "length_mm": 300},
        {"kind": "sheet", "metal": "sterling", "thickness_mm": 1.7, "width_mm": 40, "length_mm": 90},
    ]
    items = [take_in(actor, read_request(PIECE, one), ItemWords()) for one in bars]
    return {"shop": actor.workshop_id, "job": job.pk, "groups": [group_key(item) for item in items]}


def told() -> str:
    """The next word of who leads."""
    return sys.stdin.readline().strip()


def say(word: str) -> None:
    """One word back."""
    print(word, flush=True)


def one_of_two(case: dict[str, Any], nth: int) -> None:
    """Propose, book, and commit when told; what was refused is run again as a whole."""
    from django.db import OperationalError, connection, transaction

    from ringcraft.errors import BadRequest
    from workshop.core.history import Actor
    from workshop.stock.cuts import Selection, _book, confirm, propose

    actor, chosen = Actor(case["shop"]), Selection(case["groups"][nth], jobs=(case["job"],), sheared=True)
    while told() == "round":
        caught_up()
        proposed, booked = propose(actor, chosen), False
        say("proposed")
        told()
        try:
            with transaction.atomic():
                _book(actor, chosen, proposed.key, proposed)
                booked = True
                say("booked")
                told()
            say("committed")
        except (OperationalError, BadRequest) as problem:
            if not booked:
                say("not booked")
                told()
            if isinstance(problem, BadRequest):
                say("told")
                continue
            connection.close()
            try:
                confirm(actor, chosen, proposed.key)
                say(f"committed after {problem.args[0]}")
            except BadRequest:
                say(f"told after {problem.args[0]}")


def caught_up() -> None:
    """What follows sees all that was committed on any node."""
    from django.db import connection

    with connection.cursor() as cursor:
        cursor.execute("SET SESSION wsrep_sync_wait = 1")


def taken_back(case: dict[str, Any]) -> int:
    """How often the blank is booked now; all of it is taken back."""
    from workshop.core.history import Actor
    from workshop.stock.cuts import settled_batches, take_back
    from workshop.stock.models import Movement

    caught_up()
    rows = Movement.objects.filter(job_id=case["job"], kind="cut", mass_g__lt=0)
    batches = set(rows.values_list("batch", flat=True))
    open_ = batches - settled_batches(batches)
    for batch in open_:
        take_back(Actor(case["shop"]), batch)
    return len(open_)


def only_lock() -> None:
    """Rows that are held are locked for reading alone, on their own node."""
    from workshop.core import turns
    from workshop.jobs import locking

    def locked(rows: Any) -> Any:
        list(rows.order_by("pk").select_for_update())
        return rows.all()

    both: list[Any] = [turns, locking]
    for module in both:
        module.hold, module.hold_one = locked, lambda rows: locked(rows).get()


class Pair:
    """The two, each a process over a node of its own, led from here."""

    def __init__(self, environments: list[dict[str, str]], case: dict[str, Any], *, lock: bool) -> None:
        self.both = [
            subprocess.Popen(
                [sys.executable, "-m", "tools.cluster.booking", str(nth), *(["only-lock"] if lock else [])],
                env={**environment, "CASE": json.dumps(case), "DJANGO_SETTINGS_MODULE": "workshop.settings"},
                stdin=subprocess.PIPE, stdout=subprocess.PIPE, text=True,
            )
            for nth, environment in enumerate(environments)
        ]  # fmt: skip

    def round(self) -> list[str]:
        """One round of both; how each ended."""
        self._tell("round")
        self._hear()
        self._tell("book")
        self._hear()
        self._tell("commit")
        return self._hear()

    def end(self) -> None:
        """Let them go."""
        for one in self.both:
            one.communicate("end\n", timeout=30)

    def _tell(self, word: str) -> None:
        for one in self.both:
            _pipe(one.stdin).write(word + "\n")
            _pipe(one.stdin).flush()

    def _hear(self) -> list[str]:
        return [_pipe(one.stdout).readline().strip() for one in self.both]


def _pipe(pipe: IO[str] | None) -> IO[str]:
    assert pipe is not None
    return pipe


def booked_together(
    environments: list[dict[str, str]],
    case: dict[str, Any],
    rounds: int,
    count: Callable[[], int],
    *,
    lock: bool = False,
) -> tuple[Counter[int], Counter[str]]:
    """How often the blank was booked in each of some rounds, and how the two ended."""
    times, ends = Counter[int](), Counter[str]()
    pair = Pair(environments, case, lock=lock)
    try:
        for _ in range(rounds):
            ends.update(pair.round())
            times[count()] += 1
    finally:
        pair.end()
    return times, ends


def main() -> None:
    """Be one of the two."""
    import django

    django.setup()
    if "only-lock" in sys.argv:
        only_lock()
    one_of_two(json.loads(os.environ["CASE"]), int(sys.argv[1]))


if __name__ == "__main__":
    main()
