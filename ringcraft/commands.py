"""The commands of the contract: plain JSON data in, a typed result out."""

from __future__ import annotations

from collections.abc import Callable

from pydantic import TypeAdapter

from ringcraft.border import SizeText, read_request, request
from ringcraft.errors import BadRequest, CraftError
from ringcraft.sizes import FingerSize, ScaleKey, read_size
from ringcraft.styles import ring


@request
class SizeRequest:
    """A finger size to read. ``scale`` is what a bare number is on; ``home_scale`` only its first guess."""

    text: SizeText
    scale: ScaleKey | None = None
    home_scale: ScaleKey = "us"


_SIZE = TypeAdapter(SizeRequest)


def size(data: object) -> FingerSize:
    """Read a finger size from ``{"text": ..., "scale": ...}``; raises BadRequest."""
    try:
        return size_of(read_request(_SIZE, data))
    except CraftError as problem:
        raise BadRequest([problem]) from None


def size_of(asked: SizeRequest) -> FingerSize:
    """Read a finger size; raises CraftError at ``text``."""
    try:
        return read_size(asked.text, asked.scale, asked.home_scale)
    except CraftError as problem:
        raise problem.at("text") from None


COMMANDS: dict[str, Callable[[object], object]] = {"size": size, "ring": ring}
