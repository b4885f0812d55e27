"""The shorthand line: whole plans, completions, and mistakes that point at their word."""

import pytest

from ringcraft.shorthand import ShorthandRequest, read_shorthand
from ringcraft.styles import STYLES, ring
from ringcraft.styles.orders import first_order
from ringcraft.work.fields import set_path


def read(text: str, **more: str):  # type: ignore[no-untyped-def]
    return read_shorthand(ShorthandRequest(text=text, **more))


@pytest.mark.parametrize(
    ("text", "fields"),
    [
        (
            "uk n, wishbone 75, d 3x2, gold 9k yellow",
            {
                "size": "uk n",
                "style": "wishbone",
                "v_angle_deg": "75",
                "stock.profile": "d",
                "stock.width_mm": "3",
                "stock.thickness_mm": "2",
                "metal": "gold-9k-yellow",
            },
        ),
        (
            "us 7.5, half-round 4x1.8, sterling",
            {"size": "us 7.5", "stock.profile": "half-round", "stock.width_mm": "4", "metal": "sterling"},
        ),
        (
            "7, round 16 ga, leave large, saw twice",
            {"stock.thickness_mm": "16 ga", "leave": "large", "join.saw_passes": "2"},
        ),
        ("Half-Round 4,0 x 1,8, 7½", {"stock.width_mm": "4,0", "stock.thickness_mm": "1,8", "size": "7½"}),
        ("shank, top 7, split", {"style": "shank", "top_width_mm": "7", "ends": "split"}),
        ("stamped Mara & Elias, letters 2", {"lines": "Mara & Elias", "letter_height_mm": "2"}),
        ("7, adjustable ring 12, waist 4", {"overlap_mm": "12", "waist_mm": "4"}),
        ("mean diameter, 3/0, small", {"rule": "mean-diameter", "join.blade": "3/0", "leave": "small"}),
    ],
)
def test_a_line_is_a_plan(text: str, fields: dict[str, str]) -> None:
    made = read(text)
    assert made.mistakes == ()
    assert fields.items() <= made.fields.items()


@pytest.mark.parametrize("style", STYLES)
def test_every_style_can_be_called_by_its_names(style: str) -> None:
    for name in (STYLES[style].title, style, *STYLES[style].aliases):
        made = read(f"us 8, {name}, 14k yellow")
        assert made.fields["style"] == style
        assert made.mistakes == ()
        order = first_order(STYLES[style])
        for path, value in made.fields.items():
            set_path(order, path, value)
        assert ring(order).blanks[0].cut_text in made.summary


@pytest.mark.parametrize(
    ("text", "word", "said"),
    [
        ("us 7, strling", "strling", "is not understood"),
        ("us 7, gold", "gold", "several metals"),
        ("us 77, sterling", "us 77", "run from"),
        ("us 7, d 3x9", "d 3x9", "cannot be bent"),
        ("us 7, half-round 2", "half-round 2", "How wide"),
        ("us 7, round 2x3x4", "round 2x3x4", "one measure"),
        ("us 7, wishbone 12", "wishbone 12", "no band is bent to"),
        ("us 7, 💍", "💍", "is not understood"),
        ("us 7, stamped ABCDEFGHIJKLMNOPQRSTUVWXYZABCDEF", "stamped ABCDEFGHIJKLMNOPQRSTUVWXYZABCDEF", "needs"),
    ],
)
def test_a_mistake_points_at_its_word(text: str, word: str, said: str) -> None:
    deviation = read(text).mistakes[0]
    assert text[deviation.start : deviation.end] == word
    assert said in deviation.message


@pytest.mark.parametrize(
    ("text", "wanted"), [("us 7, wish", "wishbone"), ("ster", "sterling"), ("us 7, half", "half-round")]
)
def test_what_is_begun_can_be_completed(text: str, wanted: str) -> None:
    found = {completion.word: completion for completion in read(text).completions}
    assert found[wanted].text == text[: text.rfind(" ") + 1] + wanted


@pytest.mark.parametrize(
    "ugly", ["", ",,,", "   ", "x" * 5000, "🔥" * 300, "\x00", "us 7;" * 50, "12/0", "7/0/0, NaN"]
)
def test_ugly_lines_are_answered_not_raised(ugly: str) -> None:
    made = read(ugly)
    assert made.mistakes or not made.fields
