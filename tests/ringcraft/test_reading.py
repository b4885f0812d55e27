import math

import pytest
from hypothesis import given
from hypothesis import strategies as st

from ringcraft.errors import CraftError
from ringcraft.reading import read_length, read_number


@pytest.mark.parametrize(
    ("text", "value"),
    [
        ("7", 7),
        ("7.5", 7.5),
        ("7,5", 7.5),
        (" 7 1/2 ", 7.5),
        ("7½", 7.5),
        ("7 ½", 7.5),
        ("7-1/2", 7.5),
        ("½", 0.5),
        ("1/16", 0.0625),
        (".5", 0.5),
        ("-1/4", -0.25),
        ("−2", -2),
        ("⅜", 0.375),
        ("1⁄4", 0.25),
        ("７", 7),
    ],
)
def test_numbers_as_people_write_them(text: str, value: float) -> None:
    assert read_number(text) == pytest.approx(value)


@pytest.mark.parametrize(
    ("text", "mm"),
    [
        (1.8, 1.8),
        (2, 2),
        ("1.8", 1.8),
        ("1,8 mm", 1.8),
        ("0.18cm", 1.8),
        ("1/16 in", 1.5875),
        ('1/16"', 1.5875),
        ("0.0625 inch", 1.5875),
        ("1 1/4 in", 31.75),
        ("18 ga", 1.0237),
        ("AWG 18", 1.0237),
        ("18 gauge", 1.0237),
        ("0 ga", 8.2515),
        ("00 ga", 9.2658),
        ("2/0 ga", 9.2658),
    ],
)
def test_lengths_with_their_units(text: object, mm: float) -> None:
    assert read_length(text) == pytest.approx(mm, abs=1e-3)


@pytest.mark.parametrize(
    "ugly",
    [
        "",
        "   ",
        "abc",
        "💍",
        "1.2.3",
        "1/0 in",
        "7 1/2/3",
        "1,234.5",
        "nan",
        "inf",
        "1e5",
        "16.5 ga",
        "55 ga",
        "5 kg",
        "5 g",
        "1/16",
        "-3",
        "99999999999",
        "9" * 500,
        "9" * 60,
        math.nan,
        math.inf,
        10**400,
        True,
        None,
        [],
        {},
        -0.1,
        "1½½",
        "½½",
        "--1",
    ],
)
def test_ugly_lengths_are_refused_with_a_hint(ugly: object) -> None:
    with pytest.raises(CraftError) as caught:
        read_length(ugly)
    assert caught.value.message
    assert caught.value.hint


@given(st.text(max_size=60))
def test_any_text_is_read_or_refused(text: str) -> None:
    try:
        value = read_length(text)
    except CraftError:
        return
    assert math.isfinite(value)
    assert value >= 0


@given(st.floats(0, 9999, allow_nan=False))
def test_a_number_of_millimetres_is_itself(mm: float) -> None:
    assert read_length(mm) == mm
