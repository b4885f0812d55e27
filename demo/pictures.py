"""Photographs of a ring before and after, drawn here: a band on a cloth, as a shop would lay it under the lamp."""

from __future__ import annotations

import io
import math
import random

from PIL import Image, ImageDraw, ImageFilter

SIZE = (900, 680)
CLOTH = (58, 66, 78)


def photograph(inside_px: float, gold: tuple[int, int, int], *, worn: bool) -> bytes:
    """A JPEG of a band seen from above, its inside this large [px]; ``worn`` with scratches on it."""
    seed = random.Random(f"{inside_px} {worn}")  # noqa: S311 (a picture's grain)
    image = Image.new("RGB", SIZE, CLOTH)
    draw = ImageDraw.Draw(image)
    for _ in range(9000):
        x, y = seed.randrange(SIZE[0]), seed.randrange(SIZE[1])
        shade = seed.randrange(-9, 10)
        draw.point((x, y), tuple(max(0, min(255, c + shade)) for c in CLOTH))
    middle, outside = (SIZE[0] / 2, SIZE[1] / 2), inside_px * 1.19
    _disc(draw, (middle[0] + 14, middle[1] + 20), outside, (38, 43, 52))
    for turn in range(720):
        angle = math.radians(turn / 2)
        light = 0.72 + 0.38 * math.cos(angle + 0.9) ** 2 + (seed.uniform(-0.05, 0.05) if worn else 0)
        tone = tuple(min(255, int(c * light)) for c in gold)
        a, b = (math.cos(angle), math.sin(angle)), (math.cos(angle + 0.012), math.sin(angle + 0.012))
        ring = [
            (middle[0] + d[0] * r, middle[1] + d[1] * r)
            for d, r in ((a, outside), (b, outside), (b, inside_px), (a, inside_px))
        ]
        draw.polygon(ring, fill=tone)
    for _ in range(70 if worn else 0):
        angle, radius = seed.uniform(0, 2 * math.pi), seed.uniform(inside_px + 6, outside - 4)
        far, down = middle[0] + math.cos(angle) * radius, middle[1] + math.sin(angle) * radius
        draw.line((far, down, far + seed.uniform(-16, 16), down + seed.uniform(-7, 7)), fill=(120, 96, 44), width=1)
    out = io.BytesIO()
    image.filter(ImageFilter.GaussianBlur(0.8)).save(out, "JPEG", quality=86)
    return out.getvalue()


def _disc(draw: ImageDraw.ImageDraw, at: tuple[float, float], radius: float, tone: tuple[int, int, int]) -> None:
    draw.ellipse((at[0] - radius, at[1] - radius, at[0] + radius, at[1] + radius), fill=tone)
    inner = radius / 1.19
    draw.ellipse((at[0] - inner, at[1] - inner, at[0] + inner, at[1] + inner), fill=CLOTH)
