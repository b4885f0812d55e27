"""Making a picture harmless: it is decoded and drawn anew, so that only what is seen on it survives."""

from __future__ import annotations

import io
from dataclasses import dataclass

from PIL import Image, UnidentifiedImageError

from ringcraft.errors import CraftError, OutOfRangeError, UnreadableError

Image.MAX_IMAGE_PIXELS = None  # its own warning comes too late to be said: the size is checked here before decoding
FORMATS = ("JPEG", "PNG", "WEBP")
MOST_BYTES = 12_000_000
MOST_PIXELS = 50_000_000
LARGEST_SIDE = 1600  # pixels kept: enough to see a claw, small enough for a record book
SMALLEST_SIDE = 32
QUALITY = 85
ORIENTATION = 0x0112
#: How a picture is turned upright, by its orientation (Exif 2.3, tag 274).
TURNS = {
    2: Image.Transpose.FLIP_LEFT_RIGHT,
    3: Image.Transpose.ROTATE_180,
    4: Image.Transpose.FLIP_TOP_BOTTOM,
    5: Image.Transpose.TRANSPOSE,
    6: Image.Transpose.ROTATE_270,
    7: Image.Transpose.TRANSVERSE,
    8: Image.Transpose.ROTATE_90,
}


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
            opened.draft("RGB", (LARGEST_SIDE, LARGEST_SIDE))  # a JPEG is read no finer than it is kept
            opened.load()
            return _anew(opened)
    except CraftError:
        raise
    except UnidentifiedImageError:
        raise UnreadableError("image", "That is no picture.", "Choose a JPEG, PNG or WebP picture.") from None
    except Exception:
        raise UnreadableError("image", "That picture is broken or cut short.", "Take it again.") from None


def _check_size(width: int, height: int) -> None:
    if width * height > MOST_PIXELS:
        much = f"{width * height / 10**6:.0f} megapixels are more than a ring needs."
        raise OutOfRangeError("image", much, f"At most {MOST_PIXELS // 10**6} megapixels.")
    if min(width, height) < SMALLEST_SIDE:
        raise OutOfRangeError(
            "image", "Nothing can be seen on so small a picture.", f"At least {SMALLEST_SIDE} dots."
        )


def _orientation(opened: Image.Image) -> int:
    """How the camera was held, as the file says it; what cannot be read of that is left out."""
    try:
        return int(opened.getexif().get(ORIENTATION, 1))
    except Exception:
        return 1


def _anew(opened: Image.Image) -> Picture:
    turn = TURNS.get(_orientation(opened))
    drawn = opened.convert("RGBA") if opened.mode in ("1", "P", "PA") else opened  # their dots cannot be mixed
    drawn.thumbnail((LARGEST_SIDE, LARGEST_SIDE), reducing_gap=2.0)
    shown = drawn.convert("RGBA")
    flat = Image.new("RGB", shown.size, "white")
    flat.paste(shown, mask=shown.getchannel("A"))
    if turn is not None:
        flat = flat.transpose(turn)
    file = io.BytesIO()
    flat.save(file, "JPEG", quality=QUALITY, optimize=True)
    return Picture(file.getvalue(), flat.width, flat.height)
