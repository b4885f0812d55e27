"""The drawer, by hand: the week's cuts planned and booked, an insert offered, a shank rolled to its stop, scrap melted."""

from __future__ import annotations

import re
from pathlib import Path

import pytest
from playwright.sync_api import Page, expect

from tests.browser.conftest import Server, in_database

COUNTS = (
    "from workshop.stock.models import *; from django.db.models import Sum;"
    "print(Movement.objects.count(), StockItem.objects.count(), StockItem.objects.aggregate(g=Sum('mass_g'))['g'])"
)


def drawer(server: Server, page: Page) -> None:
    page.goto(f"{server.url}/drawer")
    expect(page.get_by_test_id("cut-bars")).to_be_visible()


def marks(page: Page) -> list[str]:
    return page.locator("svg text.mark").all_text_contents()


def test_the_weeks_cuts_are_planned_booked_and_taken_back(server: Server, bench: Page) -> None:
    bench.keyboard.press("w")
    expect(bench.get_by_test_id("cut-counts")).to_have_text("four blanks from one piece")
    expect(bench.get_by_text("One piece is enough.")).to_be_visible()
    seen = marks(bench)
    assert len(seen) == 4
    bench.get_by_label("Lost to square an end").fill("0.5")
    expect(bench.locator("svg text.mark").first).to_have_text(f"{float(seen[0]) + 0.5:.1f}")
    bench.get_by_label("Lost to square an end").fill("")
    expect(bench.locator("svg text.mark").first).to_have_text(seen[0])
    bench.get_by_role("button", name="Cut them: book it").click()
    expect(bench.get_by_test_id("nothing-to-cut")).to_be_visible()
    coil = bench.get_by_test_id("drawer-list").get_by_role("link", name="coil B")
    expect(coil).to_contain_text("154.4")
    coil.click()
    moves = bench.get_by_test_id("movements").get_by_role("listitem")
    expect(moves.filter(has_text="cut for a job")).to_have_count(4)
    moves.filter(has_text="Okell").get_by_role("link", name="Okell, evening band").click()
    bench.get_by_role("button", name="metal", exact=True).click()
    expect(bench.get_by_test_id("job-metal")).to_contain_text("cut from coil B")
    bench.go_back()
    moves.first.get_by_role("button", name="take back").click()
    expect(bench.get_by_test_id("there")).to_contain_text("405.0")
    expect(moves.filter(has_text="taken back")).to_have_count(5)


def test_offcuts_appear_and_serve_the_next(server: Server, bench: Page) -> None:
    in_database(
        server,
        "from workshop.stock.models import StockItem; from workshop.stock.actions import *;"
        "from workshop.core.history import Actor; coil = StockItem.objects.get(name='coil B');"
        "move_by_hand(Actor(coil.workshop_id), coil.pk, ByHand('used', length_mm=90.0))",
    )
    drawer(server, bench)
    expect(bench.get_by_text("an offcut", exact=False)).to_be_visible()
    bench.get_by_role("button", name="Cut them: book it").click()
    expect(bench.get_by_test_id("nothing-to-cut")).to_be_visible()
    made = bench.get_by_test_id("drawer-list").get_by_role("link", name=re.compile("64.4"))
    expect(made).to_contain_text("offcut")
    made.click()
    expect(bench.get_by_test_id("there")).to_contain_text("from coil B")


def test_jobs_can_be_chosen_one_by_one(server: Server, bench: Page) -> None:
    drawer(server, bench)
    bench.get_by_label("What to cut").select_option("these")
    expect(bench.get_by_test_id("nothing-to-cut")).to_be_visible()
    bench.get_by_label("Silvan").check()
    expect(bench.get_by_test_id("cut-counts")).to_have_text("one blank from one piece")
    bench.get_by_label("Okell").check()
    expect(bench.get_by_test_id("cut-counts")).to_have_text("two blanks from one piece")
    expect(bench.get_by_role("img", name=re.compile("offcut 2"))).to_be_visible()


def test_what_a_colleague_took_meanwhile_is_not_cut_twice(
    server: Server, bench: Page, colleague: Page, expected_errors: list[str]
) -> None:
    expected_errors += ["422"]
    drawer(server, bench)
    drawer(server, colleague)
    bench.get_by_role("button", name="Cut them: book it").click()
    expect(bench.get_by_test_id("nothing-to-cut")).to_be_visible()
    colleague.get_by_role("button", name="Cut them: book it").click()
    expect(colleague.get_by_text("have changed since this plan was made: nothing is booked.")).to_be_visible()
    expect(colleague.get_by_test_id("drawer-list").get_by_role("link", name="coil B")).to_contain_text("405.0")
    colleague.reload()
    expect(colleague.get_by_test_id("drawer-list").get_by_role("link", name="coil B")).to_contain_text("154.4")
    assert (
        in_database(server, "from workshop.stock.models import *; print(Movement.objects.filter(kind='cut').count())")
        == "4"
    )


def test_a_booking_waits_until_the_server_is_back(server: Server, bench: Page, expected_errors: list[str]) -> None:
    expected_errors += ["Failed to load resource", "net::ERR", "503", "502"]
    drawer(server, bench)
    server.stop()
    bench.get_by_role("button", name="Cut them: book it").click()
    expect(bench.get_by_text("It is on its way.")).to_be_visible()
    server.start()
    bench.reload()
    expect(bench.get_by_test_id("drawer-list").get_by_role("link", name="coil B")).to_contain_text("154.4")


def test_a_resize_is_offered_an_insert_and_told_what_it_is_short(server: Server, bench: Page) -> None:
    bench.goto(f"{server.url}/resize/17")
    offer = bench.get_by_role("button", name=re.compile("offcut 5"))
    expect(offer).to_be_visible()
    expect(bench.get_by_text("short: the ring would come out", exact=False)).to_be_visible()
    offer.click()
    expect(bench.get_by_label("Piece at hand")).to_have_value("2.1")
    expect(bench.get_by_text("with it this ring would come out at", exact=False).first).to_be_visible()
    bench.goto(f"{server.url}/resize/16")
    expect(bench.get_by_role("button", name=re.compile("offcut 3"))).to_be_visible()
    expect(bench.get_by_text("(long enough)").first).to_be_visible()


def test_a_shank_is_rolled_to_its_live_stop(server: Server, bench: Page) -> None:
    bench.goto(f"{server.url}/mill")
    lead = bench.get_by_test_id("mill-lead")
    expect(lead).to_contain_text("cut the bar")
    for label, text in {
        "Width of the bar": "5",
        "Thickness of the bar": "3",
        "Width there": "5",
        "Thickness there": "1.5",
        "Length of each end": "8",
        "Final length": "60",
    }.items():
        bench.get_by_label(label).fill(text)
    # by hand: 2 x 8 stay, 44 at half the area come from 22
    expect(lead.get_by_test_id("figure")).to_have_text("38.0")
    bench.get_by_label("Length now").fill("46")
    expect(lead).to_contain_text("stop at")
    # 22 x 15 over 30 that the middle is long now
    expect(bench.get_by_test_id("stop")).to_have_text(
        "The middle is 11.00 mm² now, 2.20 mm thick. 14.0 mm left: stop at 60.0."
    )
    bench.get_by_label("Width now").fill("5")
    bench.get_by_label("Thickness now").fill("2.8")
    expect(bench.get_by_text("Width times thickness is 14.00 mm², the length says 11.00 mm².")).to_be_visible()
    bench.get_by_label("Thickness now").fill("2.2")
    bench.get_by_label("Length now").fill("60.6")
    bench.get_by_label("Thickness now").fill("")
    expect(bench.get_by_test_id("stop")).to_contain_text("0.6 mm past 60.0")
    bench.get_by_label("What the mill does").select_option("roll")
    table = bench.get_by_test_id("passes")
    expect(table).to_contain_text("anneal: 600 to 650 °C")
    bench.get_by_label("Bought or poured").select_option("yes")
    expect(bench.get_by_text("Poured metal hardens faster")).to_be_visible()


def test_scrap_becomes_a_poured_bar(server: Server, bench: Page, expected_errors: list[str]) -> None:
    expected_errors += ["422"]
    bench.goto(f"{server.url}/melt")
    bench.get_by_label(re.compile("scrap 10 ")).check()
    expect(bench.get_by_text("It goes to the refiner.", exact=False)).to_be_visible()
    bench.get_by_label(re.compile("scrap 10 ")).uncheck()
    bench.get_by_label(re.compile("scrap 9 ")).check()
    expect(bench.get_by_text("are enough", exact=False)).to_be_visible()
    bench.get_by_label("The bar weighs").fill("99")
    bench.get_by_role("button", name="Into the drawer").click()
    expect(bench.get_by_text("99.00 g came out.", exact=False)).to_be_visible()
    went = float(bench.get_by_label("Grams of scrap 9").input_value())
    bench.get_by_label("The bar weighs").fill(f"{went * 0.97:.2f}")
    bench.get_by_role("button", name="Into the drawer").click()
    expect(bench.get_by_role("heading", name=re.compile("poured here"))).to_be_visible()
    expect(bench.get_by_test_id("movements")).to_contain_text("melted, scrap 9")


def test_a_piece_comes_in_and_a_bad_file_does_not(
    server: Server, bench: Page, tmp_path: Path, expected_errors: list[str]
) -> None:
    expected_errors += ["422"]
    drawer(server, bench)
    form = bench.get_by_test_id("take-in")
    form.get_by_role("button", name="Into the drawer").click()
    expect(
        form.get_by_text("How wide is the stock along the finger?", exact=False).or_(
            form.get_by_text("How thick is it?")
        )
    ).to_be_visible()
    form.get_by_label("Profile").select_option("round")
    form.get_by_label("Thickness").fill("1.4")
    form.get_by_label("Mass").fill("8")
    form.get_by_label("Its name").fill("thin coil")
    form.get_by_role("button", name="Into the drawer").click()
    line = bench.get_by_test_id("drawer-list").get_by_role("link", name="thin coil")
    expect(line).to_contain_text("8.00 g")
    expect(line).to_contain_text("501.6")  # 8 g over 1.539 mm2 at 10.36 g/cm3, by hand
    bad = tmp_path / "drawer.csv"
    bad.write_text("kind,metal,mass_g\nscrap,sterling,4\nscrap,tin foil,3\n")
    bench.get_by_label("bring in pieces from CSV").set_input_files(bad)
    expect(bench.get_by_text("Row 2, metal:", exact=False)).to_be_visible()
    bad.write_text("kind,metal,mass_g\nscrap,copper,4\n")
    bench.get_by_label("bring in pieces from CSV").set_input_files(bad)
    expect(bench.get_by_text("1 row came in from drawer.csv.")).to_be_visible()


def test_the_card_says_how_hard_the_metal_is_and_what_is_missing(server: Server, bench: Page) -> None:
    bench.goto(f"{server.url}/job/1#form")
    bench.reload()
    expect(bench.get_by_test_id("hardness")).to_contain_text("of what sterling bears between two anneals")
    bench.goto(f"{server.url}/job/8")
    bench.get_by_role("button", name="metal", exact=True).click()
    expect(bench.get_by_test_id("losses")).to_contain_text("g")


@pytest.mark.parametrize("width", [390, 820])
def test_a_narrow_drawer_keeps_its_marks(server: Server, bench: Page, width: int) -> None:
    bench.set_viewport_size({"width": width, "height": 800})
    drawer(server, bench)
    expect(bench.locator("svg text.mark")).to_have_count(4)
    right = bench.locator("svg text.mark").last.bounding_box()
    assert right is not None
    assert right["x"] + right["width"] <= width


def test_a_database_killed_in_the_middle_of_a_booking_books_nothing(server: Server) -> None:
    """The server process of the database is killed for good while a booking is half written."""
    before = in_database(server, COUNTS)
    code = (
        "import os, signal\n"
        "from workshop.core.history import Actor\n"
        "from workshop.stock import booking, cuts\n"
        "from workshop.stock.models import StockItem\n"
        "coil = StockItem.objects.get(name='coil B'); actor = Actor(coil.workshop_id)\n"
        "from workshop.stock.groups import group_key\n"
        "chosen = cuts.Selection(group_key(coil))\n"
        "key = cuts.propose(actor, chosen).key\n"
        "real, moved = booking.Booking.move, []\n"
        "def move(self, *args, **named):\n"
        "    moved.append(1)\n"
        "    if len(moved) == 3:\n"
        f"        os.kill({server.database.process.pid}, signal.SIGKILL)\n"
        "    return real(self, *args, **named)\n"
        "booking.Booking.move = move\n"
        "from django.db import Error\n"
        "try:\n"
        "    cuts.confirm(actor, chosen, key)\n"
        "    print('booked')\n"
        "except Error:\n"
        "    print('lost')\n"
    )
    assert in_database(server, code) == "lost"
    server.database.revive()
    assert in_database(server, COUNTS) == before


def test_a_plan_of_something_else_is_not_booked(server: Server, bench: Page) -> None:
    """The last good plan stays on the screen while the next is worked out: it cannot be booked under its name."""
    drawer(server, bench)
    book = bench.get_by_role("button", name="Cut them: book it")
    expect(book).to_be_enabled()
    bench.route("**/api/stock/plan", lambda route: None)  # no answer comes
    bench.get_by_label("From which stock").select_option(label="copper sheet 0.9")
    expect(book).to_be_disabled()
    expect(bench.get_by_test_id("cut-counts")).to_have_count(0)
    bench.unroute("**/api/stock/plan")
    bench.get_by_label("What to cut").select_option("all")
    expect(bench.get_by_test_id("cut-counts")).to_have_text("one blank from one sheet")
    expect(book).to_be_enabled()
    expect(bench.get_by_text("× 38.8", exact=False).first).to_be_visible()
    bench.get_by_label("Saw or shears").select_option("shears")
    expect(bench.get_by_text("shear on the line", exact=False)).to_be_visible()
    expect(bench.get_by_text("× 39.0", exact=False).first).to_be_visible()
