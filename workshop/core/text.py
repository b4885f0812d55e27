"""Text that no door lets in, half characters and the like; and text as a spreadsheet may have it."""

from __future__ import annotations

import re
import unicodedata
from collections.abc import Iterator

from ringcraft.errors import CraftError, UnreadableError

ALLOWED_CONTROLS = "\t\n\r"
_RUNS = ("=", "+", "-", "@", "\t", "\r")
_FIGURE = re.compile(r"-?\d+(\.\d+)?")
DEEPEST = 40  # an order is five deep; deeper is no request of ours


def is_ugly(text: str) -> bool:
    """Whether text holds a lone surrogate, a control character or a noncharacter."""
    return any(
        (unicodedata.category(char) in ("Cs", "Cc") and char not in ALLOWED_CONTROLS)
        or (ord(char) & 0xFFFE) == 0xFFFE
        for char in text
        if char < " " or char > "~"
    )


def ugly_fields(data: object, path: str = "", deep: int = 0) -> Iterator[CraftError]:
    """An error at each field whose text, or whose name, cannot be kept."""
    if deep > DEEPEST:
        yield UnreadableError(_said(path), "This goes too deep to be a request.", "")
    elif isinstance(data, str):
        if is_ugly(data):
            yield UnreadableError(_said(path), "This holds characters that nobody can read.", "Type it anew.")
    elif isinstance(data, dict):
        for name, value in data.items():
            if is_ugly(name):
                yield UnreadableError(_said(path), "A name in here holds characters that nobody can read.", "")
            else:
                yield from ugly_fields(value, f"{path}.{name}" if path else name, deep + 1)
    elif isinstance(data, list):
        for place, value in enumerate(data):
            yield from ugly_fields(value, f"{path}.{place}" if path else str(place), deep + 1)


def _said(path: str) -> str:
    return path[:200]


def is_figure(cell: str) -> bool:
    """Whether a cell is a plain figure."""
    return _FIGURE.fullmatch(cell) is not None


def defused(cell: str) -> str:
    """A cell that no spreadsheet takes for a formula; a plain figure stays one.

    What looks like a defused cell already gets one mark more, so that it comes back as it was typed.

    >>> defused("=1+1"), defused("-12.5"), defused("-cmd"), defused("'=1+1")
    ("'=1+1", '-12.5', "'-cmd", "''=1+1")
    """
    return f"'{cell}" if cell.lstrip("'").startswith(_RUNS) and not _FIGURE.fullmatch(cell) else cell


def armed(cell: str) -> str:
    """A cell as it was before it was defused."""
    return cell[1:] if cell.startswith("'") and cell.lstrip("'").startswith(_RUNS) else cell
