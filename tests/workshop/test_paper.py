"""The papers, measured with a PDF reader and an XML parser."""

import io
import xml.etree.ElementTree as ET
from typing import Any

import pdfplumber
import pytest

from ringcraft.sections import PROFILES
from tests.workshop.conftest import Shop
from workshop.jobs.measures import Taken, take_measure

POINTS_PER_MM = 72 / 25.4


def pdf(shop: Shop, path: str) -> Any:
    answer = shop.send("get", path)
    assert answer.headers["Content-Type"] == "application/pdf"
    return pdfplumber.open(io.BytesIO(answer.content))


@pytest.mark.parametrize("profile", PROFILES)
def test_the_blank_is_drawn_at_true_size(ours: Shop, profile: str) -> None:
    job = ours.job(profile=profile)
    blank, section = job.plan["blanks"][0], job.plan["section"]
    page = pdf(ours, f"/jobs/{job.pk}/blank.pdf").pages[0]
    drawn = max(page.rects, key=lambda rect: rect["width"])
    assert drawn["width"] / POINTS_PER_MM == pytest.approx(blank["cut_length_mm"], abs=0.01)
    assert drawn["height"] / POINTS_PER_MM == pytest.approx(section["width_mm"], abs=0.01)
    bars = [line for line in page.lines if line["width"] / POINTS_PER_MM == pytest.approx(50, abs=0.001)]
    assert len(bars) == 1
    said = page.extract_text()
    assert blank["cut_text"] in said
    assert "50 mm" in said
    uprights = sorted(line["x0"] for line in page.lines if line["width"] == 0 and line["height"] > 5)
    edges = [(x - drawn["x0"]) / POINTS_PER_MM for x in uprights]
    for stretch in blank["stretches"]:
        if not stretch["off"] and stretch["from_mm"] > 0:
            assert any(edge == pytest.approx(stretch["from_mm"], abs=0.01) for edge in edges), stretch


def test_it_asks_not_to_be_scaled_and_is_the_same_each_time(ours: Shop) -> None:
    job = ours.job()
    first, second = (ours.send("get", f"/jobs/{job.pk}/blank.pdf").content for _ in range(2))
    assert first == second
    assert b"/PrintScaling" in first


def test_the_svg_has_the_same_length_in_millimetres(ours: Shop) -> None:
    job = ours.job("emoji 💍 <b> & co")
    answer = ours.send("get", f"/jobs/{job.pk}/blank.svg")
    root = ET.fromstring(answer.content)
    width = float(root.attrib["width"].removesuffix("mm"))
    assert width == pytest.approx(float(root.attrib["viewBox"].split()[2]))
    cut = root.find(".//{http://www.w3.org/2000/svg}path[@class='mark cut']")
    assert cut is not None
    at = float(cut.attrib["d"].split()[0].removeprefix("M"))
    assert at == pytest.approx(job.plan["blanks"][0]["cut_length_mm"], abs=1e-3)


def test_paper_follows_the_stock_as_measured(ours: Shop) -> None:
    job = ours.job()
    take_measure(ours.actor, job, Taken("stock-thickness", "1.95"))
    now = ours.send("get", f"/jobs/{job.pk}").json()["now"]["blanks"][0]["cut_text"]
    assert now != job.plan["blanks"][0]["cut_text"]
    assert now in pdf(ours, f"/jobs/{job.pk}/blank.pdf").pages[0].extract_text()


@pytest.mark.parametrize("title", ["band", "Žofie 7 1/2 – ring", "指輪 💍", "x" * 120])
def test_the_ticket_says_the_job_its_ledger_and_its_route(ours: Shop, title: str) -> None:
    job = ours.job(title)
    take_measure(ours.actor, job, Taken("cut-length", "60.4"))
    pages = pdf(ours, f"/jobs/{job.pk}/ticket.pdf").pages
    said = " ".join(page.extract_text() for page in pages)
    assert job.plan["blanks"][0]["cut_text"] in said
    for term in job.plan["blanks"][0]["terms"]:
        assert term["title"] in said
    for step in job.plan["route"]:
        assert step["title"].split(" ")[0] in said
    assert "60.4" in said
