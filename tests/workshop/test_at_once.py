"""Eight people at once: one wins, and what two could both have had is impossible in the database."""

from __future__ import annotations

import threading
from collections.abc import Callable
from typing import Any

import pytest
from django.db import IntegrityError, connection, transaction
from django.test import Client

from ringcraft.errors import BadRequest
from tests.stock import key_of, put_in, sums_hold
from tests.workshop.conftest import PASSWORD, Shop
from workshop.jobs.measures import Taken, take_measure
from workshop.people.accounts import enter_by_link, new_person, one_time_link
from workshop.people.factor import new_codes, passes
from workshop.stock.actions import ByHand, move_by_hand
from workshop.stock.cuts import Selection, confirm, propose, take_back
from workshop.stock.models import Movement, StockItem, TakenBack

pytestmark = pytest.mark.django_db(transaction=True)
PEOPLE = 8


def at_once(do: Callable[[int], Any], many: int = PEOPLE) -> list[Any]:
    """What comes of it where so many begin together: an answer each, or the error."""
    out: list[Any] = [None] * many
    gate = threading.Barrier(many)

    def one(n: int) -> None:
        try:
            gate.wait()
            out[n] = do(n)
        except Exception as problem:
            out[n] = problem
        finally:
            connection.close()

    threads = [threading.Thread(target=one, args=(n,)) for n in range(many)]
    for thread in threads:
        thread.start()
    for thread in threads:
        thread.join()
    return out


def test_what_was_booked_is_taken_back_once(ours: Shop) -> None:
    ours.job()
    coil = put_in(ours.actor, length_mm=1000)
    chosen = Selection(key_of(coil))
    for _ in range(3):
        confirm(ours.actor, chosen, propose(ours.actor, chosen).key)
        batch = Movement.objects.filter(kind="cut").latest("id").batch
        came = at_once(lambda _, batch=batch: take_back(ours.actor, batch))
        assert sum(isinstance(one, int) for one in came) == 1
        assert sum(isinstance(one, BadRequest) for one in came) == PEOPLE - 1
        with pytest.raises(BadRequest, match="took something back itself"):
            take_back(ours.actor, TakenBack.objects.get(batch=batch).by_batch)
        coil.refresh_from_db()
        assert coil.length_mm == 1000
    sums_hold(ours)
    with pytest.raises(IntegrityError), transaction.atomic():
        TakenBack.objects.create(batch=batch, by_batch="another", workshop=ours.workshop)


def test_a_link_works_once_whoever_uses_it_first(ours: Shop) -> None:
    for n in range(3):
        link = one_time_link(new_person(ours.workshop, f"new{n}", "New One")).partition("#")[2]
        came = at_once(lambda n, link=link: enter_by_link(link, f"a long word no {n} of mine"))
        assert sum(isinstance(one, BadRequest) for one in came) == PEOPLE - 1


def test_a_name_is_taken_once(ours: Shop) -> None:
    came = at_once(lambda _: new_person(ours.workshop, "same", "Same Name"))
    assert sum(isinstance(one, BadRequest) for one in came) == PEOPLE - 1


def test_a_shop_has_one_lot_of_filings_of_a_metal(ours: Shop) -> None:
    coils = [put_in(ours.actor, length_mm=100) for _ in range(PEOPLE)]
    came = at_once(lambda n: move_by_hand(ours.actor, coils[n].pk, ByHand("filings", mass_g=0.2)).pk)
    assert sorted(came) == [one.pk for one in coils]
    assert StockItem.objects.filter(kind="filings").count() == 1
    sums_hold(ours)


def test_of_eight_who_change_their_password_from_the_same_one_one_does(ours: Shop) -> None:
    def change(n: int) -> int:
        client = Client()
        client.force_login(ours.user, backend="django.contrib.auth.backends.ModelBackend")
        body = {"now": PASSWORD, "new": f"another long word {n}"}
        answer: int = client.put("/api/session/password", body, content_type="application/json").status_code
        return answer

    came = at_once(change)
    assert came.count(200) == 1
    assert {*came} <= {200, 401, 422}  # the new password signs the other devices out


def test_what_is_booked_is_what_stands_when_it_is_held(ours: Shop, monkeypatch: pytest.MonkeyPatch) -> None:
    """The search runs before anything is held; what moved meanwhile is seen after."""
    from workshop.stock import cuts

    ours.job()
    coil = put_in(ours.actor, length_mm=300)
    chosen = Selection(key_of(coil))
    key = propose(ours.actor, chosen).key
    real = cuts.hold_drawer

    def meanwhile(actor: Any, jobs: Any = ()) -> None:
        real(actor, jobs)
        StockItem.objects.filter(pk=coil.pk).update(moves=coil.moves + 1)

    monkeypatch.setattr(cuts, "hold_drawer", meanwhile)
    with pytest.raises(BadRequest) as refused:
        confirm(ours.actor, chosen, key)
    assert refused.value.errors[0].field == "key"
    assert not Movement.objects.filter(kind="cut").exists()


def test_a_job_that_changed_meanwhile_is_not_cut_by_the_old_plan(ours: Shop, monkeypatch: pytest.MonkeyPatch) -> None:
    from workshop.stock import cuts

    job = ours.job()
    coil = put_in(ours.actor, length_mm=300)
    chosen = Selection(key_of(coil))
    key = propose(ours.actor, chosen).key
    real = cuts.hold_drawer

    def meanwhile(actor: Any, jobs: Any = ()) -> None:
        take_measure(ours.actor, job, Taken("stock-thickness", "2.0"))
        real(actor, jobs)

    monkeypatch.setattr(cuts, "hold_drawer", meanwhile)
    with pytest.raises(BadRequest) as refused:
        confirm(ours.actor, chosen, key)
    assert refused.value.errors[0].field == "key"


def test_a_recovery_code_lets_one_in_whoever_uses_it_first(ours: Shop) -> None:
    for _ in range(3):
        code = new_codes(ours.user)[0]
        came = at_once(lambda _, code=code: passes(ours.user, code))
        assert [one for one in came if one is True] == [True]
