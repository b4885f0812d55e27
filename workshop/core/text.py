"""Text that no door lets in: half characters, nought characters and the like, wherever they stand."""

from __future__ import annotations

import unicodedata
from collections.abc import Iterator

from ringcraft.errors import CraftError, UnreadableError

ALLOWED_CONTROLS = "\t\n\r"
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
