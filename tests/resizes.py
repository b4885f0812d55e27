"""Rings to be resized, for tests: small builders, so that a test says only what it is about."""

from __future__ import annotations

import base64
import io
from typing import Any

from PIL import Image

from ringcraft.resize.plan import ResizePlan, resize


def came_in(**changes: Any) -> dict[str, Any]:
    """A plain ring that came in, as JSON data: ``from_`` is its size; ``shank`` in the changes is laid over its own."""
    shank = {"profile": "rectangle", "width_mm": 2.0, "thickness_mm": 1.5, **changes.pop("shank", {})}
    if "from_" in changes:
        changes["from"] = changes.pop("from_")
    return {"from": "US 6", "to": "US 6 1/2", "metal": "gold-14k-yellow", "shank": shank, **changes}


def plan(**changes: Any) -> ResizePlan:
    """The plan of such a ring."""
    return resize(came_in(**changes))


def advice(made: ResizePlan) -> dict[str, str]:
    """The advice on each way."""
    return {one.key: one.advice for one in made.methods}


def figures(made: ResizePlan, key: str = "") -> dict[str, Any]:
    """The figures of a way, of the chosen one by default."""
    return dict(next(one for one in made.methods if one.key == (key or made.method)).figures)


def picture(width: int = 60, height: int = 40, kind: str = "PNG", **options: Any) -> str:
    """A small picture as base64."""
    file = io.BytesIO()
    Image.new("RGB", (width, height), "#b8a58a").save(file, kind, **options)
    return base64.b64encode(file.getvalue()).decode()
