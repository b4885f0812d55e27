"""The solder of a repair: its grade against the seams that are there already and the school of the shop."""

from __future__ import annotations

from dataclasses import replace

from ringcraft.metals import SOLDERS
from ringcraft.planning.joints import FIRST_SEAM, SECOND_SEAM, Joint, Seam, joints_of, ladder
from ringcraft.planning.made import SeamSolder
from ringcraft.resize.case import Case
from ringcraft.resize.methods.base import Method
from ringcraft.units import capital

BY_TEST = "the solder that the test calls for"
ONLY = "joint"


def joints_for(case: Case, method: Method) -> tuple[Joint, ...]:
    """The joints of a way to resize a ring, each with its solder.

    Sizing is soldered with the metal's hard solder: the ring may be worked on again, and its other seams are coated.
    A joint whose history nobody knows, joined again, is one grade lower by the ladder; two seams are the two highest
    grades by it, or both hard where the shop says so, the first one coated.
    """
    if not method.torch:
        return ()
    joints = _joints(case, method)
    if case.is_known:
        return joints
    return tuple(
        replace(one, solder_title=BY_TEST, says=f"{capital(BY_TEST)}. {_until_known(case)}") for one in joints
    )


def _until_known(case: Case) -> str:
    lowest = f"{case.metal.solidus_c:.0f} °C"
    return f"Until it is known what it is made of nothing hotter than {lowest} is safe: there the first metals melt."


def _joints(case: Case, method: Method) -> tuple[Joint, ...]:
    width, area = case.section.width_mm, case.section.area_mm2
    hard, chosen = case.order.repair_solder == "hard", case.order.seam_solders
    if method.key in ("add-stock", "reshank"):
        seams = [
            Seam(FIRST_SEAM, "the first seam", width, 1, area),
            Seam(SECOND_SEAM, "the second seam", width, 2, area),
        ]
        if hard:  # by the school both are the highest; what was chosen at the bench goes over it
            highest = ladder(case.metal, len(seams), case.context.book)[0].key
            chosen = (SeamSolder(joint=SECOND_SEAM, solder=highest), *chosen)
        return joints_of(case.metal, seams, case.context.book, chosen)
    if method.key == "rejoin" and not hard and _ladders(case):
        lower = joints_of(case.metal, [Seam(ONLY, "the joint", width, 2, area)], case.context.book, chosen)[0]
        if chosen:
            return (replace(lower, round=1),)
        says = f"{lower.says} A grade below hard: what the old joint was made with is not known."
        return (replace(lower, round=1, says=says),)
    return joints_of(case.metal, [Seam(ONLY, "the joint", width, 1, area)], case.context.book, chosen)


def _ladders(case: Case) -> bool:
    own = SOLDERS[case.metal.solder]
    return any(one.series == own.series and one.rank == own.rank + 1 for one in SOLDERS.values())
