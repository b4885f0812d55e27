"""Every part for a top and every later form on paper, as SVG and as DXF: as long and as wide as it is cut."""

from __future__ import annotations

import io
import xml.etree.ElementTree as ET
from typing import Any

import ezdxf
import pdfplumber
import pytest
from ezdxf.path import make_path

from ringcraft.styles import ring
from tests.forms import FORMS
from tests.workshop.test_paper import POINTS_PER_MM
from workshop.paper.blank import blank_pdf
from workshop.paper.dxf import blank_dxf
from workshop.paper.svg import blank_svg


@pytest.fixture(params=FORMS, scope="module")
def plan(request: pytest.FixtureRequest) -> Any:
    return ring(FORMS[request.param])


def test_the_drawing_runs_as_far_as_the_blank(plan: Any) -> None:
    for blank in plan.blanks:
        xs = [
            x for shape in blank.drawing.shapes if shape.tone != "ghost" for path in shape.paths for x, _, _ in path
        ]
        assert max(xs) == pytest.approx(blank.cut_length_mm, abs=0.06), blank.name


def test_the_svg_has_every_blank_with_its_scribe_at_its_length(plan: Any) -> None:
    root = ET.fromstring(blank_svg(plan, "band"))
    space = "{http://www.w3.org/2000/svg}"
    for blank in plan.blanks:
        group = root.find(f"./{space}g[@id='{blank.name}']")
        assert group is not None
        cut = group.find(f"{space}path[@class='mark cut']")
        assert cut is not None
        assert float(cut.attrib["d"].split()[0].removeprefix("M")) == pytest.approx(blank.cut_length_mm, abs=1e-3)


def test_the_dxf_is_in_millimetres_and_cuts_each_blank_its_count_of_times(plan: Any) -> None:
    read = ezdxf.read(io.StringIO(blank_dxf(plan).decode()))
    assert read.header["$INSUNITS"] == 4
    long = [make_path(one).bbox().size.x for one in read.modelspace().query("LWPOLYLINE[layer=='CUT']")]
    for blank in plan.blanks:
        xs = [
            x for shape in blank.drawing.shapes if shape.tone != "ghost" for path in shape.paths for x, _, _ in path
        ]
        alike = [one for one in long if one == pytest.approx(max(xs) - min(xs), abs=0.1)]
        assert len(alike) >= blank.count, blank.name


def test_the_pdf_says_every_cut_and_draws_each_blank_at_true_size(plan: Any) -> None:
    with pdfplumber.open(io.BytesIO(blank_pdf(plan, "band"))) as pages:
        said = " ".join(page.extract_text() for page in pages.pages)
        wide = [shape["width"] / POINTS_PER_MM for page in pages.pages for shape in (*page.rects, *page.curves)]
    for blank in plan.blanks:
        assert blank.cut_text in said
        assert any(one == pytest.approx(blank.cut_length_mm, abs=0.06) for one in wide), blank.name
