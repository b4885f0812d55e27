"""The blanks of a ring as DXF in millimetres, for those who cut by machine: true arcs, marks on layers."""

from __future__ import annotations

import io

from ringcraft.drawing.paths import Path
from ringcraft.planning.blank import Blank
from ringcraft.work.plan import WorkPlan

GAP_MM = 10.0
MILLIMETRES = 4  # $INSUNITS of the format
#: layer and colour index of each kind of line; what is cut through is on CUT and nowhere else
LAYERS = {"CUT": 7, "SCRIBE": 5, "FOLD": 3, "SAW": 1, "TEXTURE": 8, "LETTERS": 5}
_KINDS = {"fold": "FOLD", "saw": "SAW", "texture": "TEXTURE"}


def blank_dxf(plan: WorkPlan) -> bytes:
    """The blanks of a plan, one over another, the square end left, each on the layers it needs."""
    # half a second of importing that nothing else should wait for
    from ezdxf.enums import TextEntityAlignment
    from ezdxf.filemanagement import new

    document = new("R2010", setup=False)
    document.header["$INSUNITS"] = MILLIMETRES
    for name, colour in LAYERS.items():
        document.layers.add(name, color=colour)
    space = document.modelspace()

    def draw(path: Path, layer: str, up: float, closed: bool) -> None:
        points = [(x, y + up, bulge) for x, y, bulge in path]
        space.add_lwpolyline(points, format="xyb", close=closed, dxfattribs={"layer": layer})

    def one(blank: Blank, up: float) -> None:
        for shape in blank.drawing.shapes:
            if shape.tone != "ghost":
                for path in shape.paths:
                    draw(path, "CUT", up, True)
        for line in blank.drawing.lines:
            draw(line.path, _KINDS.get(line.kind, "SCRIBE"), up, False)
        for label in blank.drawing.labels:
            text = space.add_text(label.text, height=label.height_mm, dxfattribs={"layer": "LETTERS"})
            text.set_placement((label.x_mm, label.y_mm + up), align=TextEntityAlignment.CENTER)

    up = 0.0
    for blank in plan.blanks:
        for i in range(blank.count):
            one(blank, up + i * (blank.width_mm + GAP_MM))
        up += blank.count * (blank.width_mm + GAP_MM)
    text = io.StringIO()
    document.write(text)
    return text.getvalue().encode("utf8")
