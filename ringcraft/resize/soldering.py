"""The solder of a repair: its grade against the seams that are there already and the school of the shop."""

from __future__ import annotations

from dataclasses import replace

from ringcraft.errors import OutOfRangeError
from ringcraft.metals import SOLDERS, Solder
from ringcraft.planning.joints import FIRST_SEAM, SECOND_SEAM, Joint, Seam, joints_of, ladder
from ringcraft.planning.made import SeamSolder
from ringcraft.resize.case import Case
from ringcraft.resize.methods.base import Method
from ringcraft.resize.places import Cut
from ringcraft.units import capital

BY_TEST = "the solder that the test calls for"
ONLY = "joint"
BOTH_UP = 0.25  # of the ring: two seams further apart do not both stand above in one flame; our own judgement


def joints_for(case: Case, method: Method, cut: Cut) -> tuple[Joint, ...]:
    """The joints of a way to resize a ring, each with its solder.

    Sizing is soldered with the metal's hard solder: the ring may be worked on again, and its other seams are coated.
    A joint whose history nobody knows, joined again, is one grade lower by the ladder; two seams are the two highest
    grades by it, or both hard where the shop says so, the first one coated.
    """
    if not method.torch:
        return ()
    joints = tuple(replace(one, at_mm=at) for one, at in zip(_joints(case, method), cut.seams, strict=True))
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
        both = case.order.join.heats == "together"
        seams = [
            Seam(FIRST_SEAM, "the first seam", width, 1, area),
            Seam(SECOND_SEAM, "the second seam", width, 1 if both else 2, area),
        ]
        if both:  # one heat, one solder: the first's
            first = [one for one in chosen if one.joint == FIRST_SEAM]
            chosen = (*first, *(SeamSolder(joint=SECOND_SEAM, solder=one.solder) for one in first))
        elif hard:  # by the school both are the highest; what was chosen at the bench goes over it
            highest = ladder(case.metal, len(seams), case.context.book)[0].key
            chosen = (SeamSolder(joint=SECOND_SEAM, solder=highest), *chosen)
        return joints_of(case.metal, seams, case.context.book, chosen)
    one = [Seam(ONLY, "the joint", width, 1, area)]
    lower = _lower(case)
    if method.key != "rejoin" or hard or lower is None or chosen:
        return joints_of(case.metal, one, case.context.book, chosen)
    grade = (SeamSolder(joint=ONLY, solder=lower.key),)
    joint = joints_of(case.metal, one, case.context.book, grade)[0]
    own = case.context.book[case.metal.solder].title
    return (replace(joint, says=f"{joint.says} A grade below {own}: what the old joint was made with is not known."),)


def _lower(case: Case) -> Solder | None:
    """The grade below the metal's own; None where there is none."""
    own = SOLDERS[case.metal.solder]
    return next((one for one in SOLDERS.values() if one.series == own.series and one.rank == own.rank + 1), None)


def check_heats(case: Case, insert_mm: float) -> None:
    """Refuse two seams in one heat where they cannot both come up; raises OutOfRangeError at join.heats."""
    if case.order.join.heats != "together":
        return
    if not case.metal.conducts:
        said = f"{case.metal.title} is heated at one seam: two do not come up together."
        raise OutOfRangeError("join.heats", said, "One after the other.")
    if insert_mm > case.neutral[1] * BOTH_UP:
        raise OutOfRangeError(
            "join.heats", "So far apart the two seams do not both stand up.", "One after the other."
        )
