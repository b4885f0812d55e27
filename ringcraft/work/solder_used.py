"""What a soldering takes of its solder: the joint's own chips, as large as they are cut."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass

from ringcraft.metals import SOLDERS
from ringcraft.planning.joints import CHIP_MM3
from ringcraft.vbench.deeds import SolderJoint
from ringcraft.work.joining import JointLook
from ringcraft.work.plan import WorkPlan


@dataclass(frozen=True)
class SolderUsed:
    """A solder that a step flows: its key and title, how many chips, what they weigh [g]."""

    solder: str
    title: str
    chips: int
    mass_g: float


def solder_steps(plan: WorkPlan) -> tuple[str, ...]:
    """The steps of a plan at which solder is flowed."""
    return tuple(step.key for step in plan.route if any(isinstance(deed, SolderJoint) for deed in step.does))


def solder_used(plan: WorkPlan, step_key: str, looks: Mapping[str, JointLook]) -> tuple[SolderUsed, ...]:
    """What a step of a plan takes, by the chips as they are cut where that was kept; empty for one that flows none,
    or a solder of which nobody knows what it weighs.
    """
    out: dict[str, SolderUsed] = {}
    step = next((one for one in plan.route if one.key == step_key), None)
    for deed in step.does if step else ():
        if not isinstance(deed, SolderJoint):
            continue
        solder = SOLDERS.get(deed.solder)
        if solder is None or solder.density_g_cm3 is None:
            continue
        chips = deed.chips * deed.alike
        before = out.get(deed.solder)
        count = chips + (before.chips if before else 0)
        mass = count * _chip_mm3(looks.get(step_key)) * solder.density_g_cm3 / 1000
        out[deed.solder] = SolderUsed(deed.solder, solder.title, count, mass)
    return tuple(out.values())


def _chip_mm3(look: JointLook | None) -> float:
    if look is None or not look.chip:
        return CHIP_MM3
    size = [float(look.chip.get(name) or 0.0) for name in ("length_mm", "width_mm", "thickness_mm")]
    volume = size[0] * size[1] * size[2]
    return volume if volume > 0 else CHIP_MM3
