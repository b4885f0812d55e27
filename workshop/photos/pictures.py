"""Making a picture harmless: it is decoded and drawn anew, so that only what is seen on it survives."""

from __future__ import annotations

import io
from dataclasses import dataclass

from PIL import Image, ImageOps, UnidentifiedImageError

from ringcraft.errors import CraftError, OutOfRangeError, UnreadableError

Image.MAX_IMAGE_PIXELS = None  # its own warning comes too late to be said: the size is checked here before decoding
FORMATS = ("JPEG", "PNG", "WEBP")
MOST_BYTES = 12_000_000
MOST_PIXELS = 50_000_000
LARGEST_SIDE = 1600  # pixels kept: enough to see a claw, small enough for a record book
SMALLEST_SIDE = 32
QUALITY = 85


@dataclass(frozen=True)
class Picture:
    """A picture as it is kept: JPEG without a word about camera, place or time, and its size in pixels."""

    jpeg: bytes
    width: int
    height: int


def picture_of(data: bytes) -> Picture:
    """The picture in what was sent; raises CraftError at ``image`` for what is none, too large or broken."""
    if not data:
        raise UnreadableError("image", "There is nothing in that file.", "Choose a JPEG, PNG or WebP picture.")
    if len(data) > MOST_BYTES:
        raise OutOfRangeError("image", "That picture is too large to keep.", f"At most {MOST_BYTES // 10**6} MB.")
    try:
        with Image.open(io.BytesIO(data), formats=FORMATS) as opened:
            _check_size(opened.width, opened.height)
            opened.load()
            return _anew(opened)
    except CraftError:
        raise
    except UnidentifiedImageError:
        raise UnreadableError("image", "That is no picture.", "Choose a JPEG, PNG or WebP picture.") from None
    except (OSError, SyntaxError, ValueError, MemoryError, Image.DecompressionBombError):
        raise UnreadableError("image", "That picture is broken or cut short.", "Take it again.") from None


def _check_size(width: int, height: int) -> None:
    if width * height > MOST_PIXELS:
        much = f"{width * height / 10**6:.0f} megapixels are more than a ring needs."
        raise OutOfRangeError("image", much, f"At most {MOST_PIXELS // 10**6} megapixels.")
    if min(width, height) < SMALLEST_SIDE:
        raise OutOfRangeError(
            "image", "Nothing can be seen on so small a picture.", f"At least {SMALLEST_SIDE} dots."
        )


def _anew(opened: Image.Image) -> Picture:
    upright = ImageOps.exif_transpose(opened)
    flat = Image.new("RGB", upright.size, "white")
    shown = upright.convert("RGBA")
    flat.paste(shown, mask=shown.getchannel("A"))
    flat.thumbnail((LARGEST_SIDE, LARGEST_SIDE))
    file = io.BytesIO()
    flat.save(file, "JPEG", quality=QUALITY, optimize=True)
    return Picture(file.getvalue(), flat.width, flat.height)
