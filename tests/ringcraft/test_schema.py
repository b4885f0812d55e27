"""Where JSON becomes a request: counts, figures, shares, names, and errors at their dotted place."""

from typing import Any

import pytest
from pydantic import TypeAdapter

from ringcraft.errors import BadRequest, CraftError, OutOfRangeError
from ringcraft.schema import (
    Count,
    Degrees,
    Mm,
    PositiveMm,
    Share,
    SignedMm,
    Whole,
    name_of,
    read_request,
    request,
    to_json,
)


@request
class Inner:
    """A part of a request."""

    width_mm: PositiveMm


@request
class Sample:
    """A request with one field of each kind."""

    count: Count = 1
    whole: Whole = 1
    mm: Mm = 0.0
    positive: PositiveMm = 1.0
    signed: SignedMm = 0.0
    angle: Degrees = 90.0
    share: Share = 0.1
    flag: bool = False
    metal: name_of("metal", {"fine-silver": 1, "sterling": 2}, {"ag": "fine-silver"}) = "sterling"  # type: ignore[valid-type]
    parts: tuple[Inner, ...] = ()


READER: TypeAdapter[Sample] = TypeAdapter(Sample)


def read(**fields: Any) -> Sample:
    return read_request(READER, fields)


@pytest.mark.parametrize(
    ("field", "given", "value"),
    [
        ("count", "twice", 2),
        ("count", "never", 0),
        ("count", 3.0, 3),
        ("whole", "24", 24),
        ("whole", 24.0, 24),
        ("mm", "0", 0.0),
        ("mm", "1/16 in", 1.5875),
        ("positive", "18 ga", 1.0237),
        ("signed", "-0.05", -0.05),
        ("signed", "−0,05", -0.05),
        ("angle", "72°", 72.0),
        ("angle", "72 deg", 72.0),
        ("angle", "72 1/2", 72.5),
        ("angle", 72, 72.0),
        ("share", "3 %", 0.03),
        ("share", "3%", 0.03),
        ("share", "0,03", 0.03),
        ("share", 0.03, 0.03),
        ("metal", "Fine Silver", "fine-silver"),
        ("metal", "fine_silver", "fine-silver"),
        ("metal", "AG", "fine-silver"),
    ],
)
def test_figures_are_read_the_way_people_write_them(field: str, given: object, value: object) -> None:
    got = getattr(read(**{field: given}), field)
    assert got == (pytest.approx(value, abs=1e-4) if isinstance(value, float) else value)


@pytest.mark.parametrize(
    ("field", "given"),
    [
        ("count", "often"),
        ("count", 13),
        ("count", 1.5),
        ("count", True),
        ("count", "²"),
        ("whole", 0),
        ("whole", 401),
        ("whole", "2.5"),
        ("whole", "-3"),
        ("whole", None),
        ("mm", "-1"),
        ("mm", float("nan")),
        ("positive", "0"),
        ("positive", ""),
        ("signed", "near"),
        ("angle", "blunt"),
        ("angle", float("inf")),
        ("angle", False),
        ("angle", []),
        ("share", "110 %"),
        ("share", -0.1),
        ("share", "%"),
        ("flag", "perhaps"),
        ("metal", "mithril"),
        ("metal", ""),
        ("metal", 7),
    ],
)
def test_what_cannot_be_read_is_said_at_its_field_with_what_would_do(field: str, given: object) -> None:
    with pytest.raises(BadRequest) as caught:
        read(**{field: given})
    error = caught.value.errors[0]
    assert error.field == field
    assert error.message
    assert error.hint


def test_every_error_of_a_request_is_told_at_once_at_its_own_place() -> None:
    with pytest.raises(BadRequest) as caught:
        read(count="often", parts=[{"width_mm": 2}, {"width_mm": -2}, {}, 7], colour="blue")
    fields = {error.field for error in caught.value.errors}
    assert fields == {"count", "parts.1.width_mm", "parts.2.width_mm", "parts.3", "colour"}


@pytest.mark.parametrize("ugly", [None, 3, "text", [], [{}]])
def test_a_request_is_one_object(ugly: object) -> None:
    with pytest.raises(BadRequest):
        read_request(READER, ugly)


def test_a_request_is_frozen_and_goes_out_as_it_came_in() -> None:
    made = read(parts=[{"width_mm": "4"}])
    with pytest.raises(AttributeError):
        made.count = 2  # type: ignore[misc]
    assert read(**to_json(made)) == made


def test_an_error_keeps_its_kind_when_it_is_placed() -> None:
    placed = OutOfRangeError("", "Too much.", "At most 3.").at("stock.width_mm")
    assert isinstance(placed, OutOfRangeError)
    assert isinstance(placed, CraftError)
    assert str(placed) == "stock.width_mm: Too much. At most 3."
    assert placed.as_dict() == {"field": "stock.width_mm", "message": "Too much.", "hint": "At most 3."}
    assert str(CraftError("", "Alone.")) == "Alone."
    assert str(BadRequest([placed, placed])).count("Too much.") == 2
