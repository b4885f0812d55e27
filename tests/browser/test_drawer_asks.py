"""What the drawer asks before it books: a piece that a file brings in once more, the solder that a job has flowed."""

from __future__ import annotations

import json
import re
from pathlib import Path

from playwright.sync_api import Page, expect

from tests.browser.conftest import Server, in_database

COUNT = "from workshop.stock.models import *; print(StockItem.objects.count())"
SOLDER = (
    "from workshop.stock.models import *;"
    "print([round(float(m.mass_g), 4) for m in Movement.objects.filter(kind='solder')])"
)


def own_file(bench: Page, folder: Path) -> Path:
    """The drawer as it goes out."""
    text = bench.evaluate("fetch('/api/stock/items.csv').then((answer) => answer.text())")
    file = folder / "drawer.csv"
    file.write_text(str(text), encoding="utf-8")
    return file


def test_a_file_of_pieces_that_are_there_is_asked_about(
    server: Server, bench: Page, tmp_path: Path, expected_errors: list[str]
) -> None:
    expected_errors.append("422")
    before = in_database(server, COUNT)
    file = own_file(bench, tmp_path)
    bench.goto(f"{server.url}/drawer")
    bench.get_by_label("bring in pieces from CSV").set_input_files(file)
    known = bench.get_by_test_id("known")
    expect(known).to_contain_text("are in the drawer already")
    assert in_database(server, COUNT) == before
    known.get_by_role("button", name="do not bring it in").click()
    expect(known).to_have_count(0)
    bench.get_by_label("bring in pieces from CSV").set_input_files(file)
    bench.get_by_test_id("known").get_by_role("button", name="leave them as they are").click()
    expect(bench.get_by_role("status").filter(has_text="left as they are")).to_be_visible()
    assert in_database(server, COUNT) == before
    bench.get_by_label("bring in pieces from CSV").set_input_files(file)
    bench.get_by_test_id("known").get_by_role("button", name=re.compile("new pieces")).click()
    expect(bench.get_by_test_id("known")).to_have_count(0)
    expect(bench.get_by_role("status").filter(has_text=f"{before.strip()} rows came in")).to_be_visible()
    assert int(in_database(server, COUNT)) == 2 * int(before)


def soldered(server: Server, bench: Page) -> str:
    """An open job of silver at its first joint, the card on it; its key."""
    rings = bench.evaluate("fetch('/api/bench').then((answer) => answer.json())")["rings"]
    for ring in rings:
        job = bench.evaluate(f"fetch('/api/jobs/{ring['id']}').then((answer) => answer.json())")
        steps = [one["key"] for one in job["plan"]["route"] if any(deed["op"] == "solder" for deed in one["does"])]
        done = {one["key"] for one in job["done"]}
        if job["plan"]["metal"]["key"] == "sterling" and steps and not done & set(steps):
            bench.goto(f"{server.url}/job/{ring['id']}#{steps[0]}")
            expect(bench.locator(f"[data-step={steps[0]}][aria-current=step]")).to_be_visible()
            return json.dumps([ring["id"], steps[0]])
    raise AssertionError("no open job of the demo is before its first joint")


def test_solder_is_asked_about_until_somebody_says(server: Server, bench: Page) -> None:
    bench.goto(server.url)
    soldered(server, bench)
    bench.get_by_role("button", name=re.compile("^Done")).first.click()
    asked = bench.get_by_test_id("solder-asked")
    expect(asked).to_contain_text(re.compile(r"Take 0\.\d{3} g of .+ in the drawer"))
    bench.reload()
    expect(asked).to_contain_text("in the drawer, and so for each joint of this job?")
    assert in_database(server, SOLDER).strip() == "[]"
    asked.get_by_role("button", name="take it from the drawer").click()
    expect(asked).to_have_count(0)
    bench.get_by_role("button", name="metal", exact=True).click()
    expect(bench.get_by_test_id("job-metal")).to_contain_text(re.compile(r"Solder from .+ 0\.\d{3} g"))
    taken = json.loads(in_database(server, SOLDER))
    assert len(taken) == 1
    assert -0.2 < taken[0] < 0
    bench.reload()
    expect(bench.locator("[aria-current=step]")).to_be_visible()
    expect(asked).to_have_count(0)


def test_of_a_job_that_said_no_nothing_is_taken(server: Server, bench: Page) -> None:
    bench.goto(server.url)
    soldered(server, bench)
    bench.get_by_role("button", name=re.compile("^Done")).first.click()
    bench.get_by_test_id("solder-asked").get_by_role("button", name="not for this job").click()
    expect(bench.get_by_test_id("solder-asked")).to_have_count(0)
    bench.reload()
    expect(bench.locator("[aria-current=step]")).to_be_visible()
    expect(bench.get_by_test_id("solder-asked")).to_have_count(0)
    assert in_database(server, SOLDER).strip() == "[]"
