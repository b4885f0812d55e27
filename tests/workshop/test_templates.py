"""Templates of every style at 1:1, measured with independent readers: pdfplumber, an XML parser, ezdxf."""

import io
import xml.etree.ElementTree as ET
from typing import Any

import ezdxf
import pdfplumber
import pytest
from ezdxf.document import Drawing
from shapely import Polygon

from ringcraft.styles import STYLES, read_ring
from tests.orders import style_order
from tests.workshop.conftest import Shop
from workshop.jobs.actions import create_job
from workshop.jobs.details import JobDetails
from workshop.jobs.measures import Taken, take_measure
from workshop.jobs.models import Job

POINTS_PER_MM = 72 / 25.4
SVG = "{http://www.w3.org/2000/svg}"
styles = pytest.mark.parametrize("style", STYLES)


def job_of(shop: Shop, style: str, **changes: Any) -> Job:
    return create_job(shop.actor, JobDetails(f"a {style}"), read_ring(style_order(style, **changes)))


def dxf(shop: Shop, job: Job) -> Drawing:
    answer = shop.send("get", f"/jobs/{job.pk}/blank.dxf")
    assert answer.headers["Content-Type"] == "image/vnd.dxf"
    return ezdxf.read(io.StringIO(answer.content.decode()))


@styles
def test_the_pdf_is_as_long_as_the_ledger(ours: Shop, style: str) -> None:
    job = job_of(ours, style)
    pages = pdfplumber.open(io.BytesIO(ours.send("get", f"/jobs/{job.pk}/blank.pdf").content)).pages
    drawn = [curve for page in pages for curve in (*page.curves, *page.rects)]
    lengths = [shape["width"] / POINTS_PER_MM for shape in drawn]
    for blank in job.plan["blanks"]:
        assert any(mm == pytest.approx(blank["cut_length_mm"], abs=0.01) for mm in lengths), blank["name"]
    said = " ".join(page.extract_text() for page in pages)
    for blank in job.plan["blanks"]:
        assert blank["cut_text"] in said
    assert all("This bar is 50 mm" in page.extract_text() for page in pages)
    right = max(shape["x1"] for shape in drawn)
    assert right < pages[0].width, "nothing runs off the paper"


@styles
def test_the_svg_is_as_long_as_the_ledger(ours: Shop, style: str) -> None:
    job = job_of(ours, style)
    root = ET.fromstring(ours.send("get", f"/jobs/{job.pk}/blank.svg").content)
    assert float(root.attrib["width"].removesuffix("mm")) == pytest.approx(float(root.attrib["viewBox"].split()[2]))
    for blank in job.plan["blanks"]:
        group = root.find(f"{SVG}g[@id='{blank['name']}']")
        assert group is not None
        cut = group.find(f"{SVG}path[@class='mark cut']")
        assert cut is not None
        assert float(cut.attrib["d"].split()[0].removeprefix("M")) == pytest.approx(blank["cut_length_mm"], abs=1e-3)
        assert group.find(f"{SVG}path[@class='blank metal']") is not None


@styles
def test_the_dxf_is_in_millimetres_and_cuts_only_outlines(ours: Shop, style: str) -> None:
    job = job_of(ours, style)
    read = dxf(ours, job)
    assert read.header["$INSUNITS"] == 4  # millimetres
    outlines = list(read.modelspace().query('LWPOLYLINE[layer=="CUT"]'))
    assert len(outlines) == sum(blank["count"] for blank in job.plan["blanks"])
    assert all(line.closed for line in outlines)  # type: ignore[attr-defined]
    pieces = [blank for blank in job.plan["blanks"] for _ in range(blank["count"])]
    for blank, outline in zip(pieces, outlines, strict=True):
        points = list(ezdxf.path.make_path(outline).flattening(0.001))  # type: ignore[attr-defined]
        drawn = Polygon([(point.x, point.y) for point in points])
        left, low, right, high = drawn.bounds
        assert right - left == pytest.approx(blank["cut_length_mm"], abs=1e-6)
        assert high - low == pytest.approx(blank["width_mm"], abs=1e-6)
        if blank["section"]["profile"] in ("sheet", "rectangle", "square") and style != "folded":
            assert drawn.area * blank["section"]["thickness_mm"] == pytest.approx(blank["volume_mm3"], rel=3e-4)


def test_the_letters_stand_on_the_sheet_where_the_plan_puts_them(ours: Shop) -> None:
    job = job_of(ours, "stamped", lines="MARA", letter_height_mm=2.5)
    texts = dxf(ours, job).modelspace().query('TEXT[layer=="LETTERS"]')
    places = [(text.dxf.text, text.get_placement()[1].x) for text in texts]  # type: ignore[attr-defined]
    assert places == [(mark["char"], pytest.approx(mark["x_mm"])) for mark in job.plan["marks"]]
    page = pdfplumber.open(io.BytesIO(ours.send("get", f"/jobs/{job.pk}/blank.pdf").content)).pages[0]
    drawn = max((c for c in (*page.curves, *page.rects)), key=lambda shape: shape["width"])
    big = [char for char in page.chars if char["size"] == pytest.approx(2.5 / 0.7 * POINTS_PER_MM, rel=1e-3)]
    middles = [((char["x0"] + char["x1"]) / 2 - drawn["x0"]) / POINTS_PER_MM for char in big]
    assert middles == pytest.approx([mark["x_mm"] for mark in job.plan["marks"]], abs=0.05)
    said = page.extract_text()
    assert all(f"{mark['char']} {mark['x_mm']:.2f}" in said for mark in job.plan["marks"])


@pytest.mark.sweep
@styles
def test_the_ticket_names_every_blank_and_every_step(ours: Shop, style: str) -> None:
    job = job_of(ours, style)
    pages = pdfplumber.open(io.BytesIO(ours.send("get", f"/jobs/{job.pk}/ticket.pdf").content)).pages
    said = " ".join(page.extract_text() for page in pages)
    for blank in job.plan["blanks"]:
        assert f"{blank['cut_length_mm']:.2f}" in said
    for joint in job.plan["joints"][1:]:
        assert joint["solder"] in said


@pytest.mark.parametrize(
    ("style", "blank"), [("stack", "outer-1"), ("channel-inlay", "outer"), ("hollow-signet", "outer")]
)
def test_later_blanks_wait_for_the_inner_band_as_measured(ours: Shop, style: str, blank: str) -> None:
    job = job_of(ours, style)
    then = {b["name"]: b for b in job.plan["blanks"]}
    assert "measured" in then[blank]["waits"]
    take_measure(ours.actor, job, Taken("outside", f"{then['inner']['outside_mm'] + 0.1:.3f}"))
    answer = ours.send("get", f"/jobs/{job.pk}").json()
    now = {b["name"]: b for b in answer["now"]["blanks"]}
    assert now[blank]["waits"] == ""
    assert now[blank]["cut_length_mm"] > then[blank]["cut_length_mm"]
    assert now["inner"]["cut_length_mm"] == then["inner"]["cut_length_mm"]
    verdict = next(v for v in answer["verdicts"] if v["key"] == "outside")
    assert f"mark {now[blank]['cut_text']}, not {then[blank]['cut_text']}" in verdict["says"]
    take_measure(ours.actor, job, Taken(f"stock-thickness@{blank}", "1.0"))
    again = ours.send("get", f"/jobs/{job.pk}").json()["now"]["blanks"]
    assert next(b for b in again if b["name"] == blank)["section"]["thickness_mm"] == 1.0


@pytest.mark.sweep
@styles
def test_a_job_of_any_style_goes_out_and_comes_in_again(ours: Shop, style: str) -> None:
    job = job_of(ours, style)
    step = job.plan["route"][0]["key"]
    ours.send("put", f"/jobs/{job.pk}/steps/{step}", {"done": True})
    data = ours.send("get", f"/jobs/{job.pk}/file").json()
    answer = ours.send("post", "/jobs/import", data)
    assert answer.status_code == 201
    again = answer.json()
    assert again["plan"]["blanks"] == ours.send("get", f"/jobs/{job.pk}").json()["plan"]["blanks"]
    assert [done["key"] for done in again["done"]] == [step]


def test_a_measure_of_another_ring_is_refused(ours: Shop) -> None:
    job = job_of(ours, "plain-band")
    answer = ours.send("put", f"/jobs/{job.pk}/measures/outside@outer-1", {"text": "20"})
    assert answer.status_code == 422
    assert "is not measured on this job" in answer.json()["errors"][0]["message"]
