"""A shop that works in inches: what it reads, in every text of every style, and what it may type without a unit."""

import re
from collections.abc import Iterator
from typing import Any

import pytest
from hypothesis import given
from hypothesis import strategies as st

from ringcraft.commands import gauge
from ringcraft.errors import BadRequest, CraftError
from ringcraft.following.inspection import read_measure, replan
from ringcraft.measure.charts import AChart, check_chart
from ringcraft.measure.sizes import read_size
from ringcraft.measure.tabular import read_chart
from ringcraft.reading import read_length
from ringcraft.schema import to_json
from ringcraft.styles import STYLES, read_ring, ring
from ringcraft.styles.orders import first_order
from ringcraft.units import INCH_MM, write_length
from ringcraft.work.fields import fields_of, set_path
from tests.orders import followed, style_order

#: Where a bare figure stands beside its unit, or is none of a length: the column's own head says what it is.
BARE = re.compile(
    r"(cut_text|sum_text|fraction|figure|\.rules\.\d+\.text|\.terms\.\d+\.text|engine|\.(iso|jp|minus40)|sensitivity\.says)$"
)
MASS = re.compile(r"mass")
METRIC = re.compile(r"(?<![a-z_])[mc]m[²³]?\b")
LOOSE = re.compile(r"(?<![\d.″])\d+\.\d+(?![\d″]| ?(%|°|g\b|in[²³]|US sizes?|sizes?|UK letters?|in a hundred))")

ODD = [
    {"join": {"saw_passes": 0, "file_passes": 2, "trim_mm": 1.0}, "wide": True},
    {"join": {"saw_passes": 3}, "rule": "mean-diameter", "leave": "large", "round_to_mm": 0.5},
    {"rule": "own", "own_correction_mm": -0.4, "leave": "small", "costly_share": 0.07},
    {"rule": "three-thickness", "metal": "platinum-950", "round_to_mm": 0},
    {"size": "0.71 in", "rule": "bare-chart"},
]


def texts(data: Any, path: str = "") -> Iterator[tuple[str, str]]:
    if isinstance(data, dict):
        for name, value in data.items():
            yield from texts(value, f"{path}.{name}")
    elif isinstance(data, list):
        for i, value in enumerate(data):
            yield from texts(value, f"{path}.{i}")
    elif isinstance(data, str):
        yield path, data


def metric(path: str, text: str) -> bool:
    """Whether an inch shop would read a metric figure here, or one that it cannot tell."""
    if METRIC.search(text):
        return True
    return bool(LOOSE.search(text)) and not BARE.search(path)


@pytest.mark.parametrize("changes", ODD, ids=lambda one: "-".join(map(str, one)))
@pytest.mark.parametrize("style", STYLES)
def test_an_inch_shop_reads_inches_in_every_text_of_every_style(style: str, changes: dict[str, Any]) -> None:
    data = {**first_order(STYLES[style], "in"), **changes}
    try:
        plan, said = ring(data), ""
    except BadRequest as problem:  # an odd order that cannot be: then its refusal is read
        said = " ".join(f"{error.message} {error.hint}" for error in problem.errors)
        plan = None
    if plan is None:
        assert not metric("", said)
        return
    answer = to_json(plan)
    weights = {ask.expected_text for step in plan.route for ask in step.measure if ask.kind == "mass"}
    assert [one for one in texts(answer) if metric(*one) and one[1] not in weights] == []
    assert {blank["unit"] for blank in answer["blanks"]} == {"in"}
    assert [step.unit for step in plan.route if re.match(r"mm\b", step.unit)] == []


@pytest.mark.sweep
@pytest.mark.parametrize("style", STYLES)
def test_verdicts_in_an_inch_shop_are_in_inches(style: str) -> None:
    order = read_ring({**first_order(STYLES[style], "in"), "leave": "exact"})
    then = replan(order, {})
    for ask in (ask for step in then.route for ask in step.measure):
        for share in (0.985, 1.015, 1.0):
            read = {ask.key: (ask.expected or 1.0) * share}
            try:
                found = followed(order, read).verdicts
            except (CraftError, BadRequest):
                continue
            for verdict in found:
                if ask.kind != "mass":
                    assert not metric("", verdict.says), verdict


@pytest.mark.parametrize(
    ("style", "field", "value"),
    [
        ("plain-band", "stock.thickness_mm", "0.5"),
        ("plain-band", "stock.width_mm", "3"),
        ("plain-band", "stock.thickness_mm", "0.001"),
        ("plain-band", "join.trim_mm", "1"),
        ("plain-band", "round_to_mm", "0.2"),
        ("plain-band", "size", "1.3 in"),
        ("adjustable", "overlap_mm", "2"),
        ("adjustable", "waist_mm", "1"),
        ("patterned", "repeat_mm", "0.001"),
        ("stamped", "letter_height_mm", "0.4"),
        ("stamped", "lines", ["A VERY LONG NAME INDEED, {AND} A DATE"]),
        ("hollow-signet", "rise_mm", "2"),
        ("shank", "gap_mm", "3"),
        ("tapered", "end_mm", "3"),
        ("stack", "outer.0.fit_mm", "0.5"),
        ("channel-inlay", "outer_stock.thickness_mm", "0.4"),
        ("wishbone", "v_angle_deg", "12"),
    ],
)
def test_a_refusal_in_an_inch_shop_is_in_inches(style: str, field: str, value: Any) -> None:
    data = first_order(STYLES[style], "in")
    if field.startswith("join"):
        data["join"] = {}
    set_path(data, field, value)
    with pytest.raises(BadRequest) as caught:
        ring(data)
    for error in caught.value.errors:
        assert not metric("", f"{error.message} {error.hint}"), error


def test_a_bare_figure_is_in_the_shops_unit_and_a_number_is_mm() -> None:
    inch = {**first_order(STYLES["plain-band"], "in"), "leave": "exact"}
    inch["stock"] = {"profile": "rectangle", "width_mm": "0.2", "thickness_mm": "1/16"}
    same = {"profile": "rectangle", "width_mm": 0.2 * INCH_MM, "thickness_mm": "1.5875 mm"}
    assert ring(inch).blanks[0].cut_length_mm == ring({**inch, "stock": same}).blanks[0].cut_length_mm
    mm = ring({**inch, "units": "mm", "stock": {**same, "thickness_mm": "1.5875"}})
    assert mm.blanks[0].cut_length_mm == pytest.approx(ring(inch).blanks[0].cut_length_mm)
    assert read_length("0.07", bare="in") == pytest.approx(1.778)
    assert read_measure("stock-thickness", "0.07", bare="in").value == pytest.approx(1.778)
    assert read_measure("stock-thickness", "1.8 mm", bare="in").text == "1.8 mm"


def test_what_a_slip_costs_is_told_by_the_fractions_that_an_inch_shop_reads() -> None:
    plan = ring({**first_order(STYLES["plain-band"], "in"), "size": "US 5"})
    long, thick = (float(word) for word in re.findall(r"is (\d\.\d\d)", plan.sensitivity.says))
    assert long == pytest.approx(plan.sensitivity.us_sizes_per_mm_length * INCH_MM / 32, abs=0.005)
    per_tenth = plan.sensitivity.us_sizes_per_0_1_mm_thickness
    assert thick == pytest.approx(per_tenth * 10 * 0.005 * INCH_MM, abs=0.005)


def test_a_gauge_a_chart_and_a_size_are_read_and_told_in_inches() -> None:
    marks = [{"mark": str(n), "diameter_mm": f"{0.458 + 0.032 * n:.4f}"} for n in (4, 7, 10)]
    fit = gauge({"scale": "us", "readings": marks, "units": "inches"})
    assert abs(fit.offset_mm) < 0.02
    assert not any(metric("", line) for line in fit.says)
    pasted = read_chart("size,diameter,circumference\n7,0.682,2.14\n8,0.714,2.6", "in")
    assert pasted[0].inside_diameter_mm == pytest.approx(0.682 * INCH_MM)
    assert read_chart("size,diameter (mm)\n7,17.3", "in")[0].inside_diameter_mm == 17.3
    rows = tuple({"size": one.size, "inside_diameter_mm": one.inside_diameter_mm,
                  "circumference_mm": one.circumference_mm} for one in pasted)  # fmt: skip
    from pydantic import TypeAdapter

    checked = check_chart(TypeAdapter(AChart).validate_python({"rows": rows, "units": "in"}))
    assert [row.agrees for row in checked.rows] == [True, False]
    assert not any(metric("", row.why) for row in checked.rows)
    assert read_size("0.68 in", units="in").text == "0.680″ inside"


@given(st.floats(0.01, 400), st.sampled_from(["mm", "in"]))
def test_what_is_written_into_a_field_reads_back_as_the_same_length(mm: float, units: str) -> None:
    assert read_length(write_length(mm, units), bare=units) == pytest.approx(mm, abs=6e-5)


@given(st.integers(1, 4000))
def test_a_thousandth_of_an_inch_stays_one(thousandths: int) -> None:
    assert write_length(thousandths * INCH_MM / 1000, "in") == f"{thousandths / 1000:g}"


@pytest.mark.parametrize("units", ["mm", "in"])
@pytest.mark.parametrize("style", STYLES)
def test_a_kept_order_goes_back_into_its_fields_and_plans_the_same_ring(style: str, units: str) -> None:
    order = read_ring({**first_order(STYLES[style], units), "own_correction_mm": None})
    again: dict[str, Any] = {"units": units}
    for path, text in fields_of(to_json(order), units).items():
        set_path(again, path, {"yes": True, "no": False}.get(text, text))
    assert to_json(ring(again))["blanks"] == to_json(ring(style_order(style) | to_json(order)))["blanks"]


def test_temperatures_stand_in_fahrenheit_beside_celsius_where_the_shop_says_so() -> None:
    """F = 1.8 C + 32, by the definition of the scale: silver hard flows at 745 to 790, 1373 to 1454."""
    for degrees, there in (("c", False), ("f", True)):
        made = ring({**first_order(STYLES["plain-band"]), "metal": "sterling", "degrees": degrees})
        step = next(one for one in made.route if one.key == "solder")
        said = " ".join(step.do)
        assert ("(1373 to 1454 °F)" in said) == there
        assert (step.unit == "°C, 1454 °F") == there
