"""Setting text on a PDF canvas in the shipped typeface, with a fall-back for letters that it lacks."""

from __future__ import annotations

import re
from functools import cache
from pathlib import Path

import reportlab
from reportlab.pdfbase import pdfmetrics
from reportlab.pdfbase.ttfonts import TTFont
from reportlab.pdfgen.canvas import Canvas

FONTS = Path(__file__).parent / "fonts"
_VERA = Path(reportlab.__file__).parent / "fonts" / "Vera.ttf"
_FACES = {
    "body": ("Barlow-Regular", "Barlow-Ext-Regular", "Vera"),
    "strong": ("Barlow-SemiBold", "Barlow-Ext-SemiBold", "Vera"),
    "figure": ("BarlowSemiCondensed-SemiBold", "Barlow-Ext-SemiBold", "Vera"),
}
_FRACTION = re.compile(r"(?<![\d/.])(?:(\d+) )?(\d{1,2})/(\d{1,2})(?![\d/.])")
_GLYPHS = {(1, 2): "½", (1, 4): "¼", (3, 4): "¾"}


@cache
def _font(name: str) -> TTFont:
    path = _VERA if name == "Vera" else FONTS / f"{name}.ttf"
    font = TTFont(name, str(path))
    pdfmetrics.registerFont(font)
    return font


def _runs(text: str, style: str) -> list[tuple[str, str]]:
    runs: list[tuple[str, str]] = []
    for char in text:
        faces = _FACES[style]
        name = next((f for f in faces if ord(char) in _font(f).face.charToGlyph), faces[-1])
        if ord(char) not in _font(name).face.charToGlyph:
            char = "?"
            name = faces[0]
        if runs and runs[-1][0] == name:
            runs[-1] = (name, runs[-1][1] + char)
        else:
            runs.append((name, char))
    return runs


def fractions(text: str) -> str:
    """Halves and quarters as single glyphs: 7 1/2 becomes 7½."""

    def one(match: re.Match[str]) -> str:
        glyph = _GLYPHS.get((int(match.group(2)), int(match.group(3))))
        return f"{match.group(1) or ''}{glyph}" if glyph else match.group(0)

    return _FRACTION.sub(one, text)


def width(text: str, style: str, size: float) -> float:
    """Width [pt] of a line of text."""
    return sum(pdfmetrics.stringWidth(run, name, size) for name, run in _runs(fractions(text), style))


def draw(canvas: Canvas, x: float, y: float, text: str, style: str = "body", size: float = 10) -> float:
    """Draw a line of text from x [pt]; answers where it ends [pt]."""
    for name, run in _runs(fractions(text), style):
        canvas.setFont(name, size)
        canvas.drawString(x, y, run)
        x += pdfmetrics.stringWidth(run, name, size)
    return x


def wrapped(text: str, style: str, size: float, room: float) -> list[str]:
    """Text broken into lines no wider than ``room`` [pt]; a word too long for it is cut."""
    lines, line = [], ""
    for word in fractions(text).split():
        while width(word, style, size) > room and len(word) > 1:
            cut = max(1, int(len(word) * room / width(word, style, size)) - 1)
            if line:
                lines.append(line)
                line = ""
            lines.append(word[:cut])
            word = word[cut:]
        longer = f"{line} {word}".strip()
        if width(longer, style, size) > room:
            lines.append(line)
            line = word
        else:
            line = longer
    return [*lines, line] if line else lines
