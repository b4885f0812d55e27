"""What a drawing is made of: areas with a tone, lines with a kind, words at a place; everything in mm."""

from __future__ import annotations

from dataclasses import dataclass

from ringcraft.drawing.paths import Path, flattened


@dataclass(frozen=True)
class Shape:
    """A closed area: its outer path and its holes. ``tone``: metal, second, stone, ghost, or change for
    what goes in or out."""

    key: str
    tone: str
    paths: tuple[Path, ...]


@dataclass(frozen=True)
class Line:
    """An open line. ``kind``: scribe, cut, centre, fold, saw, neutral, texture or joint."""

    key: str
    kind: str
    path: Path


@dataclass(frozen=True)
class Label:
    """Words at a place [mm]; ``height_mm`` is their true height, 0 where they are only said."""

    text: str
    x_mm: float
    y_mm: float
    height_mm: float = 0.0


@dataclass(frozen=True)
class Drawing:
    """Areas, lines and labels, and the box round the areas [mm]: left, bottom, right, top."""

    shapes: tuple[Shape, ...]
    lines: tuple[Line, ...] = ()
    labels: tuple[Label, ...] = ()
    box: tuple[float, ...] = (0.0, 0.0, 0.0, 0.0)

    @property
    def length_mm(self) -> float:
        """From the left end of the areas to their right end [mm]."""
        return self.box[2] - self.box[0]

    @property
    def height_mm(self) -> float:
        """From the lowest place of the areas to the highest [mm]."""
        return self.box[3] - self.box[1]


def drawing(shapes: list[Shape], lines: list[Line] | None = None, labels: list[Label] | None = None) -> Drawing:
    """A drawing with the box round its areas worked out from their own paths; ghosts are not in the box."""
    solid = [shape for shape in shapes if shape.tone != "ghost"]
    points = [point for shape in solid for path in shape.paths for point in flattened(path, closed=True)]
    xs, ys = [x for x, _ in points], [y for _, y in points]
    around = (min(xs), min(ys), max(xs), max(ys))
    return Drawing(tuple(shapes), tuple(lines or ()), tuple(labels or ()), around)
