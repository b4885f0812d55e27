"""What a ring that is resized has beside its way: parts for its top, the surfaces of its faces."""

from __future__ import annotations

from ringcraft.errors import UnreadableError
from ringcraft.parts.adding import Beside
from ringcraft.parts.base import Host
from ringcraft.planning.surfaces import check as check_surfaces
from ringcraft.resize.asking import ResizeRequest
from ringcraft.resize.case import Case


def surfaces_fit(case: Case) -> None:
    """Refuse a surface that this ring does not take; raises UnreadableError at its field."""
    surfaces = case.order.surfaces
    if surfaces is None:
        return
    check_surfaces(surfaces, case.metal, ("outside",) if case.has("pattern-all-round") else (), case.has("inlay"))
    for face in (*surfaces.faces_that("tumble"), *surfaces.faces_that("patina")):
        if case.is_set or case.has("inlay"):
            said = "What is set in it bears no steel shot and no hot bath."
            raise UnreadableError(f"surfaces.{face}", said, "Mirror, satin or matte.")


def host_of(case: Case) -> Host:
    """The ring that parts are made for: as it will be, closed."""
    section = case.section
    return Host(case.inside[1], section.thickness_mm, section.width_mm, 0.0, case.metal)


def parts_say(order: ResizeRequest, parts: Beside) -> tuple[str, ...]:
    """What is said of its parts, or that they wait."""
    if order.parts and not parts.made:
        return ("Its parts are planned once it is known how the ring is worked.",)
    return parts.says
