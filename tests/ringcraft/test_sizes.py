import math

import pytest
from hypothesis import given
from hypothesis import strategies as st

from ringcraft.errors import CraftError
from ringcraft.measure.sizes import SCALES, read_size, sizes_of


@pytest.mark.parametrize(
    ("text", "read_as", "inside_mm"),
    [
        ("US 7.5", "us", 17.7292),
        ("7 1/2", "us", 17.7292),
        ("7½", "us", 17.7292),
        ("us7,5", "us", 17.7292),
        ("K½", "uk", 50.625 / math.pi),
        ("K 1/2", "uk", 50.625 / math.pi),
        ("uk k", "uk", 50 / math.pi),
        ("Z+2", "uk", 71.25 / math.pi),
        ("z1", "uk", 70 / math.pi),
        ("Z+1½", "uk", 70.625 / math.pi),
        ("54", "iso", 54 / math.pi),
        ("ISO 54.5", "iso", 54.5 / math.pi),
        ("JP 13", "jp", 17.0),
        ("IT 14", "minus40", 54 / math.pi),
        ("54.4 mm", "circumference", 54.4 / math.pi),
        ("17.3mm ID", "diameter", 17.3),
        ("17,3 mm", "diameter", 17.3),
        ("0.68 in", "diameter", 17.272),
        ("57 mm circumference", "circumference", 57 / math.pi),
        ("ID 17.3", "diameter", 17.3),
        ("33 mm circumference", "circumference", 33 / math.pi),
        ("7 us", "us", 17.3228),
    ],
)
def test_sizes_as_people_write_them(text: str, read_as: str, inside_mm: float) -> None:
    size = read_size(text)
    assert (size.read_as, size.inside_diameter_mm) == (read_as, pytest.approx(inside_mm, abs=1e-4))
    assert size.circumference_mm == pytest.approx(math.pi * inside_mm, abs=1e-3)


def test_the_workshops_own_scale_wins_where_a_number_could_be_two() -> None:
    assert read_size("13", home="jp").read_as == "jp"
    assert read_size("13").read_as == "us"
    assert read_size("13", scale="minus40").read_as == "minus40"
    assert read_size("US 13", home="jp").read_as == "us"
    assert read_size("7", home="uk").read_as == "us"


@pytest.mark.parametrize(
    "text",
    [
        "",
        " ",
        "💍",
        "99",
        "US 45",
        "US -1",
        "uk 7",
        "K 1",
        "AA",
        "Z+7",
        "K 3/2",
        "32 mm",
        "7 mm",
        "40 mm ID",
        "7 1/0",
        "seven",
        "nan",
        "NaN mm",
        "1e9",
        "16 ga",
        "diameter circumference 17",
        "US",
        "9" * 300,
        "7;5",
        "<b>7</b>",
    ],
)
def test_what_is_no_size_is_refused_with_what_would_be(text: str) -> None:
    with pytest.raises(CraftError) as caught:
        read_size(text)
    assert caught.value.message
    assert caught.value.hint


def test_a_strict_scale_is_not_guessed_away() -> None:
    with pytest.raises(CraftError, match="US sizes run from 0 to 16"):
        read_size("54", scale="us")
    with pytest.raises(CraftError, match="letters"):
        read_size("7", scale="uk")


@pytest.mark.parametrize("key", SCALES)
@given(share=st.floats(0, 1))
def test_text_and_size_round_trip_on_every_scale(key: str, share: float) -> None:
    scale = SCALES[key]
    steps = round((scale.lowest + share * (scale.highest - scale.lowest)) / scale.label_step)
    inside = scale.diameter_mm(steps * scale.label_step)
    if not 10 <= inside <= 30:
        return
    text = scale.text(inside)
    again = read_size(text)
    assert again.read_as == key
    assert again.inside_diameter_mm == pytest.approx(inside, abs=1e-9)
    assert read_size(text.split(" ", 1)[1], scale=key).inside_diameter_mm == pytest.approx(inside, abs=1e-9)


@given(st.floats(10, 30))
def test_number_and_diameter_are_each_others_inverse(inside: float) -> None:
    for scale in SCALES.values():
        assert scale.diameter_mm(scale.number(inside)) == pytest.approx(inside)
    assert set(sizes_of(inside)) == set(SCALES)


def test_beyond_a_scale_is_said_not_invented() -> None:
    assert sizes_of(11.0)["us"] == "below US 0"
    assert sizes_of(26.0)["uk"] == "above UK Z+6"


@given(st.text(max_size=40))
def test_any_text_is_a_size_or_a_craft_error(text: str) -> None:
    try:
        size = read_size(text)
    except CraftError:
        return
    assert 10 <= size.inside_diameter_mm <= 30
