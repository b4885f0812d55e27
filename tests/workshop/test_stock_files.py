"""The drawer: melts, rests and slivers that are booked, and what goes out and comes in as CSV."""

import csv
import io
from decimal import Decimal
from typing import Any

import pytest
from django.db import connection
from django.test.utils import CaptureQueriesContext

from ringcraft.metals import METALS
from tests.stock import key_of, put_in, scrap, sums_hold
from tests.workshop.conftest import Shop
from workshop.jobs.models import Job
from workshop.stock import tables
from workshop.stock.actions import ByHand, ItemWords, move_by_hand
from workshop.stock.cuts import Selection, confirm, propose
from workshop.stock.demand import catch_up, open_blanks
from workshop.stock.models import JobBlanks, Movement, StockItem

pytestmark = pytest.mark.django_db


def test_a_melt_takes_scrap_and_gives_a_poured_bar(ours: Shop) -> None:
    one, two = scrap(ours.actor, 12), scrap(ours.actor, 9, state="filings")
    bar = {"kind": "bar", "metal": "sterling", "profile": "square", "thickness_mm": 5, "mass_g": 20.5}
    into = [{"item_id": one.pk, "mass_g": 12}, {"item_id": two.pk, "mass_g": "9 g"}]
    made = ours.send("post", "/stock/melts", {"into": into, "poured": [bar]})
    assert made.status_code == 201
    assert made.json()["poured"] is True
    assert made.json()["length_mm"] == pytest.approx(20.5 / (25 * METALS["sterling"].density_g_cm3) * 1000, abs=0.01)
    assert sums_hold(ours) == Decimal("20.5")
    assert ours.send("post", "/stock/melts", {"into": into, "poured": [bar]}).status_code == 422


def test_two_bars_from_one_melt_and_what_ran_over(ours: Shop) -> None:
    lot = scrap(ours.actor, 30)
    poured = [
        {"kind": "bar", "metal": "sterling", "profile": "square", "thickness_mm": 6, "mass_g": 17},
        {"kind": "bar", "metal": "sterling", "profile": "rectangle", "thickness_mm": 4, "width_mm": 5, "mass_g": 9},
        {"kind": "scrap", "metal": "sterling", "mass_g": 3.2},
    ]
    body = {"into": [{"item_id": lot.pk, "mass_g": 30}], "poured": poured}
    assert ours.send("post", "/stock/melts", body).status_code == 201
    assert sorted(StockItem.objects.filter(mass_g__gt=0).values_list("kind", "poured")) == [
        ("bar", True), ("bar", True), ("scrap", False),
    ]  # fmt: skip
    assert sums_hold(ours) == Decimal("29.2")


def test_gold_is_raised_by_mass_balance_and_not_otherwise(ours: Shop) -> None:
    low, fine = scrap(ours.actor, 8, "gold-14k-yellow"), scrap(ours.actor, 6, "fine-gold")
    # by hand: 8 g at 585 and x fine make 750: x = (0.75 x 8 - 0.585 x 8) / 0.25 = 5.28
    into = [{"item_id": low.pk, "mass_g": 8}, {"item_id": fine.pk, "mass_g": 5.28}]
    bar = {"kind": "bar", "metal": "gold-18k-yellow", "profile": "square", "thickness_mm": 4, "mass_g": 13.2}
    refused = ours.send("post", "/stock/melts", {"into": into, "poured": [bar]})
    assert "mass balance" in refused.json()["errors"][0]["message"]
    wrong = ours.send("post", "/stock/melts", {"into": into[:1], "poured": [bar | {"mass_g": 8}], "added_g": 1})
    assert wrong.json()["errors"][0]["field"] == "added_g"
    assert ours.send("post", "/stock/melts", {"into": into, "poured": [bar], "added_g": 0}).status_code == 201


def test_a_piece_that_was_weighed_is_used_up_by_its_length_and_by_its_mass(ours: Shop) -> None:
    """A coil that weighs a little more than its length says leaves nothing behind when all of it is gone."""
    coil = put_in(ours.actor, length_mm=200, mass_g=11.6)
    ours.send("post", f"/stock/{coil.pk}/moves", {"kind": "used", "length_mm": 150})
    coil.refresh_from_db()
    assert float(coil.mass_g) == pytest.approx(2.9)
    ours.send("post", f"/stock/{coil.pk}/moves", {"kind": "used", "mass_g": 2.9})
    coil.refresh_from_db()
    assert (coil.mass_g, coil.length_mm) == (0, 0)
    sums_hold(ours)


@pytest.mark.parametrize(
    ("changes", "field", "said"),
    [
        ({"metal": "gold-14k-yellow"}, "into.0.item_id", "mass balance"),
        ({"state": "solder"}, "into.0.item_id", "Solder in it"),
        ({"poured_g": 30}, "poured.0.mass_g", "came out"),
        ({"poured_g": 5}, "poured.0.mass_g", "came out"),
        ({"mass_g": 40}, "into.0.mass_g", "are there"),
        ({"job": True}, "into.1.item_id", "lot of its own"),
    ],
)
def test_a_melt_that_cannot_be_is_refused(ours: Shop, changes: dict[str, Any], field: str, said: str) -> None:
    first = scrap(ours.actor, 12, changes.get("metal", "sterling"), state=changes.get("state", "clean"))
    into = [{"item_id": first.pk, "mass_g": changes.get("mass_g", 12)}]
    if "job" in changes:
        mine = scrap(ours.actor, 5)
        StockItem.objects.filter(pk=mine.pk).update(job=ours.job(), owner="Pym")
        into.append({"item_id": mine.pk, "mass_g": 5})
    bar = {
        "kind": "bar",
        "metal": "sterling",
        "profile": "square",
        "thickness_mm": 5,
        "mass_g": changes.get("poured_g", 11.5),
    }
    answer = ours.send("post", "/stock/melts", {"into": into, "poured": [bar]})
    assert answer.status_code == 422
    errors = answer.json()["errors"]
    assert any(one["field"] == field and said in one["message"] for one in errors)
    assert Movement.objects.filter(kind="melt").count() == 0


def test_csv_goes_out_and_comes_in_the_same(ours: Shop, theirs: Shop) -> None:
    put_in(ours.actor, ItemWords(name="=HYPERLINK(1)", lot="-2+3", place="@drawer", price=Decimal("1.25")))
    scrap(ours.actor, 7.5)
    put_in(ours.actor, kind="sheet", profile=None, thickness_mm=0.9, width_mm=40, length_mm=130)
    text = ours.send("get", "/stock/items.csv").content.decode()
    rows = list(csv.DictReader(io.StringIO(text)))
    assert rows[0]["name"] == "'=HYPERLINK(1)"
    assert not any(cell.startswith(("=", "@", "+")) for row in rows for cell in row.values())
    assert theirs.send("post", "/stock/items.csv", {"text": text}).json() == {"count": 3, "counted": 0, "left": 0}
    again = tables.items_csv(theirs.workshop.pk)
    assert again == text
    sums_hold(theirs)
    moves = list(csv.DictReader(io.StringIO(b"".join(ours.send("get", "/stock/movements.csv")).decode())))
    assert [row["movement"] for row in moves] == ["in"] * 3


@pytest.mark.parametrize(
    ("text", "field"),
    [
        ("kind,metal\nwire,sterling\n", "rows.1.thickness_mm"),
        ("kind,metal,mass_g\nscrap,sterling,5\nscrap,mithril,5\n", "rows.2.metal"),
        ("kind,metal,mass_g\nscrap,sterling,-5\n", "rows.1.mass_g"),
        ("kind,metal,mass_g\nscrap,sterling,5,6,7\n", "text"),
        ("kind;metal;mass_g;job\nscrap;sterling;5;99\n", "rows.1.job"),
        ("colour\nred\n", "text"),
        ("", "text"),
        ("kind,metal,kind\n", "text"),
        ('kind,metal\n"unclosed', "text"),
        ("kind,metal,mass_g\n\x00", "text"),
        ("kind,metal,mass_g,name\nscrap,sterling,5," + "n" * 81, "rows.1.name"),
        ("kind,metal,mass_g\n" + "scrap,sterling,1e400\n", "rows.1.mass_g"),
    ],
)
def test_a_bad_file_is_refused_by_row_and_nothing_comes_in(ours: Shop, text: str, field: str) -> None:
    answer = ours.send("post", "/stock/items.csv", {"text": text})
    assert answer.status_code in (400, 422)
    assert field in [one["field"] for one in answer.json()["errors"]]
    assert not StockItem.objects.exists()


def test_prices_go_out_and_come_in_as_csv(ours: Shop) -> None:
    text = "metal;price\nsterling;1.35\n14k yellow;41,20\n"
    assert ours.send("post", "/stock/prices.csv", {"text": text}).json() == {"count": 2}
    out = ours.send("get", "/stock/prices.csv").content.decode()
    assert out.splitlines() == ["metal,price", "sterling,1.35", "14k yellow,41.2"]
    bad = ours.send("post", "/stock/prices.csv", {"text": "metal,price\nsterling,free\n"})
    assert bad.json()["errors"][0]["field"] == "rows.1.price"
    assert ours.send("get", "/stock/prices.csv").content.decode() == out


def test_a_rest_too_short_to_serve_is_scrap_as_the_plan_says(ours: Shop) -> None:
    ours.job()
    length = open_blanks(Job.objects.all())[0].length_mm
    piece = put_in(ours.actor, kind="offcut", length_mm=length + 0.22 + 1.3)
    made = ours.send("post", "/stock/plan", {"group": key_of(piece)}).json()
    assert made["lines"][0]["stays"] == "1.3, scrap"
    per_mm = piece.g_per_mm
    confirm(ours.actor, Selection(key_of(piece)), made["key"])
    piece.refresh_from_db()
    assert piece.length_mm == 0
    assert float(StockItem.objects.get(kind="scrap").mass_g) == pytest.approx(1.3 * per_mm, abs=1e-3)
    assert float(StockItem.objects.get(kind="filings").mass_g) == pytest.approx(0.22 * per_mm, abs=1e-3)
    sums_hold(ours)


def test_no_more_scrap_goes_than_is_there(ours: Shop) -> None:
    lot = scrap(ours.actor, 5)
    answer = ours.send("post", f"/stock/{lot.pk}/moves", {"kind": "used", "mass_g": 5.1})
    assert answer.json()["errors"][0]["message"] == "Only 5.00 g of scrap 1 are there."
    assert ours.send("post", f"/stock/{lot.pk}/moves", {"kind": "used", "mass_g": 5}).json()["mass_g"] == 0


def test_what_is_less_than_the_saw_takes_is_filed_off_with_it(ours: Shop) -> None:
    ours.job()
    length = open_blanks(Job.objects.all())[0].length_mm
    piece = put_in(ours.actor, kind="offcut", length_mm=length + 0.1)
    before = sums_hold(ours)
    made = propose(ours.actor, Selection(key_of(piece)))
    assert made.plan.pieces[0].sawn == 0
    confirm(ours.actor, Selection(key_of(piece)), made.key)
    piece.refresh_from_db()
    assert (piece.length_mm, piece.mass_g) == (0, 0)
    cut = Movement.objects.get(kind="cut")
    assert sums_hold(ours) == before + cut.mass_g
    assert float(-(cut.length_mm or 0)) == pytest.approx(length, abs=1e-3)


def test_a_file_that_comes_back_is_asked_about_and_doubles_nothing(ours: Shop) -> None:
    coil, lot = put_in(ours.actor, length_mm=400), scrap(ours.actor, 7.5)
    text = ours.send("get", "/stock/items.csv").content.decode()
    asked = ours.send("post", "/stock/items.csv", {"text": text})
    assert (asked.status_code, asked.json()["errors"][0]["field"]) == (422, "known")
    assert asked.json()["errors"][0]["message"] == "2 of 2 are in the drawer already: numbers 1, 2."
    left = ours.send("post", "/stock/items.csv", {"text": text, "known": "leave"}).json()
    assert left == {"count": 0, "counted": 0, "left": 2}
    assert StockItem.objects.count() == 2
    counted = text.replace(",7.5,", ",6.9,") + "9,,scrap,sterling,,,,,,2,,,,,,,,,\r\n"
    made = ours.send("post", "/stock/items.csv", {"text": counted, "known": "count"}).json()
    assert made == {"count": 1, "counted": 1, "left": 1}
    lot.refresh_from_db()
    assert (float(lot.mass_g), lot.movements.latest("id").kind) == (6.9, "correct")
    sums_hold(ours)
    fresh = ours.send("post", "/stock/items.csv", {"text": text, "known": "new"}).json()
    assert fresh["count"] == 2
    assert sorted(StockItem.objects.values_list("number", flat=True)) == [1, 2, 3, 4, 5]
    coil.refresh_from_db()
    assert coil.length_mm == 400


@pytest.mark.parametrize(
    ("changes", "field"),
    [
        ({"metal": "gold-14k-yellow", "mass_g": ""}, "rows.1.number"),
        ({"thickness_mm": "1.7"}, "rows.1.number"),
        ({"kind": "scrap", "length_mm": "", "mass_g": "4"}, "rows.1.number"),
        ({"moves": "0"}, "rows.1.length_mm"),
    ],
)
def test_what_is_another_piece_or_was_used_since_is_not_counted(
    ours: Shop, changes: dict[str, str], field: str
) -> None:
    put_in(ours.actor, length_mm=400)
    rows = list(csv.DictReader(io.StringIO(ours.send("get", "/stock/items.csv").content.decode())))
    out = io.StringIO()
    writer = csv.DictWriter(out, rows[0])
    writer.writeheader()
    writer.writerow({**rows[0], **changes})
    answer = ours.send("post", "/stock/items.csv", {"text": out.getvalue(), "known": "count"})
    assert [one["field"] for one in answer.json()["errors"]] == [field]
    assert Movement.objects.count() == 1


@pytest.mark.parametrize("name", ["'=1+1", "=1+1", "''=1", "'plain", "-3", "'-3", "@x", "'"])
def test_a_name_comes_back_as_it_was_typed(ours: Shop, theirs: Shop, name: str) -> None:
    put_in(ours.actor, ItemWords(name=name))
    text = ours.send("get", "/stock/items.csv").content.decode()
    assert not any(cell.startswith(("=", "@", "+")) for row in csv.reader(io.StringIO(text)) for cell in row)
    theirs.send("post", "/stock/items.csv", {"text": text})
    assert StockItem.objects.get(workshop=theirs.workshop).name == name


def test_a_file_of_many_pieces_is_kept_in_few_statements(ours: Shop) -> None:
    text = "kind,metal,mass_g\n" + "scrap,sterling,4\n" * 300
    with CaptureQueriesContext(connection) as many:
        assert ours.send("post", "/stock/items.csv", {"text": text}).json()["count"] == 300
    assert len(many) < 40
    assert sums_hold(ours) == 1200


def test_movements_come_by_pages_and_their_file_however_many_there_are(
    ours: Shop, monkeypatch: pytest.MonkeyPatch
) -> None:
    monkeypatch.setattr(tables, "AT_ONCE", 7)
    coil = put_in(ours.actor, length_mm=400)
    for _ in range(70):
        move_by_hand(ours.actor, coil.pk, ByHand("used", length_mm=1))
    assert len(ours.send("get", f"/stock/{coil.pk}").json()["movements"]) == 50
    page = ours.send("get", f"/stock/{coil.pk}/moves?limit=40&offset=50").json()
    assert page["count"] == 71
    assert [row["nth"] for row in page["items"]] == list(range(21, 0, -1))
    rows = list(csv.DictReader(io.StringIO(b"".join(ours.send("get", "/stock/movements.csv")).decode())))
    assert [row["movement"] for row in rows] == ["in"] + ["used"] * 70
    assert ours.send("get", f"/stock/{coil.pk}/moves?limit=0").status_code == 422


def test_what_another_engine_worked_out_is_caught_up_and_said_until_then(ours: Shop) -> None:
    jobs = [ours.job(f"job {n}") for n in range(3)]
    put_in(ours.actor)
    assert ours.send("get", "/stock/groups").json()["unreckoned"] == 0
    JobBlanks.objects.filter(job__in=jobs[:2]).update(stamp="4.older")
    JobBlanks.objects.filter(job=jobs[2]).delete()
    found = ours.send("get", "/stock/groups").json()
    assert (found["unreckoned"], found["groups"][0]["wanted_count"]) == (3, 0)
    assert catch_up() == 3
    found = ours.send("get", "/stock/groups").json()
    assert (found["unreckoned"], found["groups"][0]["wanted_count"]) == (0, 3)


def test_a_nickel_white_gold_is_not_booked_as_a_palladium_one(ours: Shop) -> None:
    lot = scrap(ours.actor, 8, "gold-18k-white-nickel")
    bar = {"kind": "bar", "metal": "gold-14k-white-palladium", "profile": "square", "thickness_mm": 4, "mass_g": 10}
    body = {"into": [{"item_id": lot.pk, "mass_g": 8}], "poured": [bar], "added_g": 2.26}
    answer = ours.send("post", "/stock/melts", body)
    assert answer.status_code == 422
    assert "nickel" in answer.json()["errors"][0]["message"]
    assert not Movement.objects.filter(kind="melt").exists()


def test_a_number_that_stands_twice_in_a_file_is_refused_in_its_row(ours: Shop) -> None:
    head = "number,kind,metal,profile,width_mm,thickness_mm,length_mm"
    row = "71,wire,sterling,half-round,4,1.8,100"
    answer = ours.send("post", "/stock/items.csv", {"text": f"{head}\n{row}\n{row}\n"})
    assert [one["field"] for one in answer.json()["errors"]] == ["rows.2.number"]
    assert not StockItem.objects.exists()
