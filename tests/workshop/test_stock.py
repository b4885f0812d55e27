"""The drawer: what is there is the sum of its movements, a plan is booked whole or not at all, and once."""

import io
import threading
from decimal import Decimal
from typing import Any

import pytest
from django.db import OperationalError, connection, transaction
from pypdf import PdfReader

from ringcraft.errors import BadRequest
from tests.orders import order
from tests.stock import HALF_ROUND, key_of, put_in, sums_hold
from tests.workshop.conftest import Shop
from workshop.jobs.actions import close_job, create_job, tick_step
from workshop.jobs.details import JobDetails
from workshop.jobs.measures import Taken, take_measure
from workshop.jobs.models import Job
from workshop.stock import booking
from workshop.stock.actions import ItemWords
from workshop.stock.booking import Booking
from workshop.stock.cuts import Selection, confirm, propose, take_back
from workshop.stock.demand import open_blanks
from workshop.stock.models import Movement, StockItem

pytestmark = pytest.mark.django_db


def test_a_plan_is_booked_with_its_cuts_its_kerfs_and_its_offcuts(ours: Shop) -> None:
    first, second = ours.job("one"), ours.job("two", size="US 9")
    coil = put_in(ours.actor, length_mm=190)
    before = sums_hold(ours)
    answer = ours.send("post", "/stock/plan", {"group": key_of(coil)}).json()
    assert answer["says"] == ["One piece is enough.", "The longest rest is as long as it can be."]
    plan = answer["plan"]["pieces"][0]
    assert len(plan["cuts"]) == 2
    assert answer["lines"][0]["stays"].endswith("an offcut")
    assert sums_hold(ours) == before
    booked = ours.send("post", "/stock/cuts", {"group": key_of(coil), "key": answer["key"]})
    assert booked.status_code == 201
    coil.refresh_from_db()
    assert coil.length_mm == 0
    offcut = StockItem.objects.get(kind="offcut")
    assert float(offcut.length_mm or 0) == pytest.approx(plan["offcut_mm"], abs=1e-3)
    assert offcut.came_from == coil
    filings = StockItem.objects.get(kind="filings")
    per_mm = float(offcut.mass_g) / float(offcut.length_mm or 1)
    assert float(filings.mass_g) == pytest.approx(2 * 0.22 * per_mm, abs=2e-3)
    cut = Movement.objects.filter(kind="cut")
    assert {row.job_id for row in cut} == {first.pk, second.pk}
    assert sums_hold(ours) - before == sum(row.mass_g for row in cut)
    assert ours.send("get", f"/jobs/{first.pk}/metal").json()["cut"][0]["called"] == "wire 1"
    again = ours.send("post", "/stock/plan", {"group": key_of(offcut)}).json()
    assert again["blanks"] == []
    history = ours.send("get", f"/stock/{offcut.pk}").json()
    assert (history["from_called"], history["movements"][0]["other"]) == ("wire 1", "wire 1")


def test_what_was_seen_is_what_is_booked_or_nothing(ours: Shop) -> None:
    job = ours.job()
    coil = put_in(ours.actor)
    chosen = Selection(key_of(coil))
    key = propose(ours.actor, chosen).key
    ours.send("post", f"/stock/{coil.pk}/moves", {"kind": "used", "length_mm": "12"})
    with pytest.raises(BadRequest) as refused:
        confirm(ours.actor, chosen, key)
    assert refused.value.errors[0].field == "key"
    assert "nothing is booked" in refused.value.errors[0].message
    assert not Movement.objects.filter(kind="cut").exists()
    key = propose(ours.actor, chosen).key
    take_measure(ours.actor, job, Taken("stock-thickness", "1.9"))  # the blank is another one now
    with pytest.raises(BadRequest):
        confirm(ours.actor, chosen, key)
    assert not Movement.objects.filter(kind="cut").exists()


@pytest.mark.parametrize("fails_at", [1, 3, 6])
def test_a_database_that_goes_away_in_the_middle_leaves_nothing_half_booked(
    ours: Shop, monkeypatch: pytest.MonkeyPatch, fails_at: int
) -> None:
    for n in range(3):
        ours.job(f"job {n}")
    coil = put_in(ours.actor, length_mm=250)
    chosen = Selection(key_of(coil))
    key, before, moved = propose(ours.actor, chosen).key, sums_hold(ours), 0
    real = Booking.move

    def move(self: Booking, *args: Any, **named: Any) -> Movement:
        nonlocal moved
        moved += 1
        if moved == fails_at:
            raise OperationalError(2013, "Lost connection to server during query")
        return real(self, *args, **named)

    monkeypatch.setattr(Booking, "move", move)
    with pytest.raises(OperationalError), transaction.atomic():
        confirm(ours.actor, chosen, key)
    monkeypatch.undo()
    assert sums_hold(ours) == before
    assert Movement.objects.count() == 1
    assert StockItem.objects.count() == 1
    confirm(ours.actor, chosen, propose(ours.actor, chosen).key)
    assert Movement.objects.filter(kind="cut").count() == 3


@pytest.mark.django_db(transaction=True)
def test_of_many_who_confirm_at_once_one_wins(ours: Shop) -> None:
    """Two hundred confirmations of one bar, from as many requests at a time as the database bears."""
    ours.job()
    coil = put_in(ours.actor, length_mm=70)
    chosen = Selection(key_of(coil))
    key = propose(ours.actor, chosen).key
    won: list[int] = []
    refused: list[str] = []
    gate = threading.Semaphore(24)

    def one(n: int) -> None:
        with gate:
            try:
                confirm(ours.actor, chosen, key)
                won.append(n)
            except BadRequest as problem:
                refused.append(problem.errors[0].field)
            finally:
                connection.close()

    threads = [threading.Thread(target=one, args=(n,)) for n in range(200)]
    for thread in threads:
        thread.start()
    for thread in threads:
        thread.join()
    assert len(won) == 1
    assert len(refused) == 199
    assert set(refused) <= {"key", "group"}
    assert Movement.objects.filter(kind="cut").count() == 1
    sums_hold(ours)


def test_owners_metals_and_sections_never_share_a_plan(ours: Shop) -> None:
    family, other = ours.job("from family silver"), ours.job("other")
    ours.job("gold", metal="gold-14k-yellow")
    ours.job("wider", stock={"width_mm": 5})
    shops = put_in(ours.actor, length_mm=300)
    theirs = put_in(ours.actor, ItemWords(job_id=family.pk), length_mm=300)
    put_in(ours.actor, metal="gold-14k-yellow", length_mm=300)
    put_in(ours.actor, width_mm=5, length_mm=300)
    groups = {one["key"]: one for one in ours.send("get", "/stock/groups").json()["groups"]}
    assert len(groups) == 4
    assert [one["job_id"] for one in groups[key_of(theirs)]["wanted"]] == [family.pk]
    assert [one["job_id"] for one in groups[key_of(shops)]["wanted"]] == [other.pk]
    for group in groups:
        made = propose(ours.actor, Selection(group))
        assert len({(item.metal, item.job_id, item.width_mm) for item in made.items.values()}) == 1
        assert all(blank.metal == made.group.metal for blank in made.blanks.values())
    confirm(ours.actor, Selection(key_of(theirs)), propose(ours.actor, Selection(key_of(theirs))).key)
    filings = StockItem.objects.get(kind="filings")
    assert filings.job_id == family.pk
    assert filings.owner == "Pym"


def test_a_blank_that_is_longer_than_every_piece_of_its_stock_is_told_what_else_would_do(ours: Shop) -> None:
    job = ours.job()
    put_in(ours.actor, kind="offcut", length_mm=57)
    put_in(ours.actor, kind="bar", profile="square", width_mm=None, thickness_mm=5, length_mm=60)
    found = ours.send("get", "/stock/groups").json()
    assert found["missing_count"] == 1
    found = ours.send("get", "/stock/missing").json()
    assert found["missing"][0]["blank"]["job_id"] == job.pk
    assert [way["key"] for way in found["missing"][0]["stock"]["ways"]] == ["short", "rolled", "melted"]
    short, bar = StockItem.objects.get(kind="offcut"), StockItem.objects.get(kind="bar")
    assert "short: the ring would come out" in found["could"][str(short.pk)]
    assert "rolled out" in found["could"][str(bar.pk)]
    put_in(ours.actor, length_mm=120)
    assert ours.send("get", "/stock/groups").json()["missing_count"] == 0


def test_what_is_due_first_and_what_waits_or_was_cut_is_said(ours: Shop) -> None:
    late, cut = ours.job("late"), ours.job("cut at the bench")
    coil = put_in(ours.actor, length_mm=200)
    tick_step(ours.actor, cut, "cut", True)
    inlay = create_job(ours.actor, JobDetails("inlay"), _inlay(), _make())
    made = ours.send("post", "/stock/plan", {"group": key_of(coil), "days": 7}).json()
    assert made["blanks"] == []
    made = ours.send("post", "/stock/plan", {"group": key_of(coil)}).json()
    assert [one["job_id"] for one in made["blanks"]] == [late.pk]
    assert [(one["job_id"], one["why"]) for one in made["left_out"]] == [
        (cut.pk, "cut at the bench already, not booked")
    ]
    outer = [one for one in open_blanks(Job.objects.filter(pk=inlay.pk)) if one.waits]
    assert outer, "an outer band of an inlay waits for the inner one"


def _inlay() -> Any:
    from tests.orders import style_order

    return _make().read(style_order("channel-inlay"))


def _make() -> Any:
    from ringcraft.works import MAKE

    return MAKE


def test_a_closed_job_wants_nothing_and_a_changed_one_another_length(ours: Shop) -> None:
    job = ours.job()
    coil = put_in(ours.actor)
    jobs = Job.objects.filter(workshop=ours.workshop, closed_at__isnull=True)
    was = open_blanks(jobs)[0].length_mm
    take_measure(ours.actor, job, Taken("stock-thickness", "2.0"))
    now = open_blanks(jobs)[0].length_mm
    assert now > was + 0.2
    close_job(ours.actor, job, True)
    assert propose(ours.actor, Selection(key_of(coil))).blanks == {}


def test_strips_of_a_sheet_and_what_is_left_of_it(ours: Shop) -> None:
    order_ = order("sheet", stock={"width_mm": 6.0, "thickness_mm": 0.9})
    for n in range(3):
        create_job(ours.actor, JobDetails(f"flat {n}"), _make().read(order_))
    sheet = put_in(ours.actor, kind="sheet", profile=None, thickness_mm=0.9, width_mm=40, length_mm=130)
    before = sums_hold(ours)
    chosen = Selection(key_of(sheet))
    made = propose(ours.actor, chosen)
    said = ours.send("post", "/stock/plan", {"group": chosen.group}).json()
    assert said["sheets"][0]["stays"].startswith(f"{made.plan.rests[-1].long_mm:.1f} × ")
    assert said["told"][f"{sheet.pk}/0"].startswith("along, 0.00 from the near edge, 6.00 wide")
    assert "the saw" in said["scribe"]
    sheared = ours.send("post", "/stock/plan", {"group": chosen.group, "sheared": True}).json()
    assert "saw" not in sheared["scribe"]
    assert made.plan.optimal
    assert sum(len(strip.cuts) for strip in made.plan.strips) == 3
    confirm(ours.actor, chosen, made.key)
    after = sums_hold(ours)
    cut = sum(row.mass_g for row in Movement.objects.filter(kind="cut"))
    assert after - before == cut
    sheet.refresh_from_db()
    assert sheet.mass_g == 0
    kept = StockItem.objects.filter(came_from=sheet, kind__in=("sheet", "offcut"), mass_g__gt=0)
    told = sorted((one.long_mm * one.wide_mm for one in made.plan.rests), reverse=True)
    there = sorted((float(one.length_mm or 0) * float(one.width_mm or 0) for one in kept), reverse=True)
    assert there == pytest.approx([area for area in told if area >= 10], abs=0.05)


def test_what_the_plan_says_of_a_rest_is_what_is_booked(ours: Shop) -> None:
    """A band 10 wide from 11.9: the saw takes 0.22 of it, a strip 1.68 wide stays, and nothing solid is filings."""
    order_ = order("sheet", metal="gold-18k-yellow", stock={"width_mm": 10.0, "thickness_mm": 1.2})
    create_job(ours.actor, JobDetails("wide"), _make().read(order_))
    blank = open_blanks(Job.objects.all())[0]
    sheet = put_in(
        ours.actor, kind="sheet", metal="gold-18k-yellow", profile=None, thickness_mm=1.2, width_mm=11.9,
        length_mm=round(blank.length_mm, 2),
    )  # fmt: skip
    area_g = float(sheet.mass_g) / 11.9 / float(sheet.length_mm or 0)
    chosen = Selection(key_of(sheet))
    made = propose(ours.actor, chosen)
    said = ours.send("post", "/stock/plan", {"group": chosen.group}).json()
    assert said["sheets"][0]["stays"] == f"a strip {made.plan.rests[0].long_mm:.1f} × 1.7 stays"
    confirm(ours.actor, chosen, made.key)
    filings = StockItem.objects.get(kind="filings")
    assert float(filings.mass_g) == pytest.approx(0.22 * float(made.plan.rests[0].long_mm) * area_g, rel=0.02)
    strip = StockItem.objects.get(kind="offcut")
    assert float(strip.width_mm or 0) == pytest.approx(1.68)
    sums_hold(ours)


def test_a_booking_is_taken_back_whole_while_nothing_of_it_was_used(ours: Shop) -> None:
    ours.job()
    coil = put_in(ours.actor, length_mm=100)
    before = sums_hold(ours)
    chosen = Selection(key_of(coil))
    confirm(ours.actor, chosen, propose(ours.actor, chosen).key)
    batch = Movement.objects.filter(kind="cut").get().batch
    assert ours.send("post", f"/stock/back/{batch}", {}).status_code == 200
    coil.refresh_from_db()
    assert (coil.length_mm, sums_hold(ours)) == (100, before)
    assert [one.count for one in open_blanks(Job.objects.all())] == [1]
    assert ours.send("post", f"/stock/back/{batch}", {}).status_code == 422
    confirm(ours.actor, chosen, propose(ours.actor, chosen).key)
    batch = Movement.objects.filter(kind="cut").latest("id").batch
    offcut = StockItem.objects.filter(kind="offcut", mass_g__gt=0).get()
    ours.send("post", f"/stock/{offcut.pk}/moves", {"kind": "used", "length_mm": 5})
    with pytest.raises(BadRequest):
        take_back(ours.actor, batch)
    sums_hold(ours)


@pytest.mark.parametrize(
    ("body", "field"),
    [
        ({"kind": "used", "length_mm": "401"}, "length_mm"),
        ({"kind": "used", "mass_g": "9999"}, "mass_g"),
        ({"kind": "used"}, "length_mm"),
        ({"kind": "cut", "length_mm": 5}, "kind"),
        ({"kind": "correct", "length_mm": 390}, "note"),
        ({"kind": "used", "length_mm": "1e999"}, "length_mm"),
        ({"kind": "used", "length_mm": 5, "moves": 7}, "moves"),
        ({"kind": "used", "length_mm": "a\ud800"}, "length_mm"),
    ],
)
def test_stock_never_goes_below_nothing_unnoticed(ours: Shop, body: dict[str, Any], field: str) -> None:
    coil = put_in(ours.actor)
    answer = ours.send("post", f"/stock/{coil.pk}/moves", body)
    assert answer.status_code == 422
    assert answer.json()["errors"][0]["field"] in (field, "length_mm")
    coil.refresh_from_db()
    assert coil.length_mm == 400


def test_a_count_says_why_and_stays_in_the_history(ours: Shop) -> None:
    coil = put_in(ours.actor)
    body = {"kind": "correct", "length_mm": "396.5", "note": "measured on the bench"}
    found = ours.send("post", f"/stock/{coil.pk}/moves", body).json()
    assert found["length_mm"] == 396.5
    assert (found["movements"][0]["title"], found["movements"][0]["length_text"]) == ("counted again", "-3.5")
    scrapped = ours.send("post", f"/stock/{coil.pk}/moves", {"kind": "scrap", "length_mm": 20}).json()
    assert scrapped["movements"][0]["other"].startswith("scrap")
    sums_hold(ours)


def test_a_resize_is_offered_the_piece_that_suits_with_what_it_is_short(ours: Shop, theirs: Shop) -> None:
    body = {"metal": "sterling", **HALF_ROUND, "need_mm": 4.0}
    put_in(theirs.actor, kind="offcut", length_mm=9)
    put_in(ours.actor, kind="offcut", length_mm=3.1)
    put_in(ours.actor, kind="offcut", length_mm=6)
    put_in(ours.actor, kind="offcut", length_mm=5, width_mm=3.7)
    put_in(ours.actor, ItemWords(job_id=ours.job().pk), kind="offcut", length_mm=4.5)
    put_in(ours.actor)
    found = ours.send("post", "/stock/inserts", body).json()["items"]
    assert [one["length_mm"] for one in found] == [6, 400, 3.1]
    assert found[2]["says"] == "0.90 mm short: the ring would come out 0.35 US sizes small"
    assert ours.send("post", "/stock/inserts", body | {"thickness_mm": "x"}).status_code == 422


def test_a_stale_description_shows_theirs(ours: Shop) -> None:
    coil = put_in(ours.actor)
    assert ours.send("put", f"/stock/{coil.pk}", {"name": "coil B", "version": 1}).json()["called"] == "coil B"
    stale = ours.send("put", f"/stock/{coil.pk}", {"name": "other", "version": 1})
    assert stale.status_code == 409
    assert stale.json()["theirs"]["name"] == "coil B"
    owner = ours.send("put", f"/stock/{coil.pk}", {"owner": "Orla Quist", "version": 2})
    assert owner.json()["errors"][0]["field"] == "job_id"


def test_the_paper_is_at_true_size_and_folded(ours: Shop) -> None:
    for n in range(6):
        ours.job(f"job {n}")
    coil = put_in(ours.actor, length_mm=500)
    paper = ours.send("get", f"/stock/plan.pdf?group={key_of(coil)}")
    assert paper["Content-Type"] == "application/pdf"
    reader = PdfReader(io.BytesIO(paper.content))
    text = "".join(page.extract_text() for page in reader.pages)
    assert "goes on from 267" in text
    for mark in propose(ours.actor, Selection(key_of(coil))).plan.pieces[0].marks_mm:
        assert f"{mark:.1f}" in text


def test_a_job_says_where_its_blank_can_come_from_and_what_it_weighs(ours: Shop) -> None:
    job = ours.job()
    put_in(ours.actor, length_mm=58)
    found = ours.send("get", f"/jobs/{job.pk}/metal").json()
    assert found["wanted"][0]["ways"][0]["key"] == "short"
    assert found["losses"]["verdict"] == ""
    take_measure(ours.actor, job, Taken("mass-finished", f"{found['losses']['should_g'] * 0.8:.2f}"))
    found = ours.send("get", f"/jobs/{job.pk}/metal").json()
    assert found["losses"]["verdict"] == "look"
    assert "in the drawer or on the floor" in found["losses"]["says"]


def test_metal_that_was_poured_here_hardens_faster_on_its_card(ours: Shop) -> None:
    job = ours.job()
    bar = put_in(ours.actor, kind="bar", poured=True)
    bought = {one["step"]: one["filled"] for one in ours.send("get", f"/jobs/{job.pk}").json()["hardness"]}
    confirm(ours.actor, Selection(key_of(bar)), propose(ours.actor, Selection(key_of(bar))).key)
    card = ours.send("get", f"/jobs/{job.pk}").json()
    assert card["poured"] is True
    assert {one["step"]: one["filled"] for one in card["hardness"]}["form"] == pytest.approx(bought["form"] / 0.9)


def test_a_drawer_of_many_asks_the_database_no_more_often(ours: Shop, django_assert_max_num_queries: Any) -> None:
    for n in range(3):
        ours.job(f"job {n}")
    for n in range(40):
        put_in(ours.actor, length_mm=60 + n)
    ours.send("get", "/stock/groups")
    with django_assert_max_num_queries(24):
        answer = ours.send("get", "/stock/groups")
    assert answer.json()["groups"][0]["pieces"] == 40
    with django_assert_max_num_queries(12):
        assert ours.send("get", "/stock?limit=10").json()["count"] == 40


def test_a_lot_is_one_however_often_it_is_filled(ours: Shop) -> None:
    coil = put_in(ours.actor)
    for _ in range(3):
        ours.send("post", f"/stock/{coil.pk}/moves", {"kind": "filings", "length_mm": 1})
    assert StockItem.objects.filter(kind="filings").count() == 1
    assert booking.decimal_of(1 / 3) == Decimal("0.3333")
