"""Setting text on paper: fractions, letters the typeface lacks, lines that fit."""

import pytest
from reportlab.lib.units import mm

from workshop.paper.type import fractions, width, wrapped


@pytest.mark.parametrize(
    ("text", "set_"),
    [
        ("US 7 1/2", "US 7½"),
        ("K 3/4 on", "K ¾ on"),
        ("3/8 small", "3/8 small"),
        ("a 4/0 blade", "a 4/0 blade"),
        ("1/64 in", "1/64 in"),
        ("25/11/2026", "25/11/2026"),
        ("", ""),
    ],
)
def test_halves_and_quarters_are_single_glyphs(text: str, set_: str) -> None:
    assert fractions(text) == set_


@pytest.mark.parametrize("style", ["body", "strong", "figure"])
@pytest.mark.parametrize("text", ["band", "Žofie", "指輪", "💍", "a\u0000b", "x" * 300])
def test_every_letter_takes_room_whatever_it_is(style: str, text: str) -> None:
    assert width(text, style, 10) > 0
    assert width(text, style, 20) == pytest.approx(2 * width(text, style, 10))


@pytest.mark.parametrize("room", [20 * mm, 60 * mm, 170 * mm])
@pytest.mark.parametrize(
    "text",
    [
        "Cut the inner band first: the others follow its outside. It closes at US 7 3/8.",
        "x" * 200,
        "short",
        "A 12.30   B 14.10   C 15.90   D 17.70   E 19.50   F 21.30",
    ],
)
def test_no_line_is_wider_than_its_room_and_nothing_is_lost(text: str, room: float) -> None:
    lines = wrapped(text, "body", 10, room)
    assert all(width(line, "body", 10) <= room for line in lines)
    assert "".join("".join(lines).split()) == "".join(fractions(text).split())


def test_nothing_to_set_is_no_line() -> None:
    assert wrapped("", "body", 10, 50) == []
