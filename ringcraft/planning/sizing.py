"""From where a ring closes to the size it is handed over at: stretched, compressed, or left as it closed."""

from __future__ import annotations

import math
from dataclasses import dataclass
from typing import Literal

from ringcraft.planning.context import RingContext
from ringcraft.planning.finished_size import FinishedSize
from ringcraft.planning.rules import RULES
from ringcraft.units import capital
from ringcraft.vbench.thing import PLAIN_STRAIN, size_strain_limit

HAIR_MM = 0.16  # of circumference, a sixteenth of a US size: finer than a mandrel reads
CAREFUL_STRAIN = 0.025  # about half a size; common practice, no published source
Can = Literal["plain", "stretch", "left", "let-out"]
By = Literal["stretch", "compress", "true", "left", "let-out"]


@dataclass(frozen=True)
class Sizing:
    """How a ring comes to its size: to which inside diameter [mm], by what, how much circumference [mm] that is."""

    to_mm: float
    by: By
    round_mm: float
    text: str
    says: str


def sizing_of(context: RingContext, closing: FinishedSize, can: Can, as_closed: str = "") -> Sizing:
    """How this ring is brought to its size.

    ``can``: a plain band is stretched or compressed, another is stretched a little at most, one soldered to something
    is left. ``as_closed`` is why it is to stay as it closes, where it is.
    """
    wanted, at = context.target.inside_mm, closing.inside_diameter_mm
    change = math.pi * (wanted - at)
    most = size_strain_limit(context.metal.key)
    limit = most if can == "plain" else CAREFUL_STRAIN * most / PLAIN_STRAIN
    strain = change / (math.pi * (at + 2 * context.section.neutral_mm))
    reads, much = f"it should read {closing.text}", f"{context.length(abs(change)):.2f mm}"
    target, place = context.target.text, "at the back" if can == "left" else "at the joint"

    def left(says: str) -> Sizing:
        return Sizing(at, "left", 0.0, closing.text, says)

    if can == "let-out":
        return Sizing(wanted, "let-out", change, target, f"Push it down the taper until it reads {target}.")
    if as_closed:
        return left(as_closed)
    if context.used.leave == "large" and change < 0:
        why = _purpose(context, "large")
        return left(capital(f"{why}{reads}. Leave it so until it is sold; then take out {place}."))
    if abs(change) <= HAIR_MM:
        by: By = "stretch" if change >= 0 else "compress" if can == "plain" else "true"
        nearly = "it should read it already" if closing.text == target else f"{reads}, within a hair of it"
        return Sizing(wanted, by, change, target, f"{capital(nearly)}: true it lightly, no more.")
    if can == "left":
        off = "too small: it is not stretched" if change > 0 else "too large"
        return left(f"{capital(reads)}, {much} round {off}. {_cure(change, place)}")
    if change > 0:
        if strain > limit:
            return left(_too_far(context, closing, strain, limit))
        small = _purpose(context, "small") if context.used.leave == "small" else ""
        return Sizing(
            wanted, "stretch", change, target,
            capital(f"{small}{reads}. Drive it down the taper in small steps, turning it, {much} more round."),
        )  # fmt: skip
    if can == "plain" and -strain <= limit:
        return Sizing(
            wanted,
            "compress",
            change,
            target,
            f"{capital(reads)}, {much} round too large: a reducing die, step by step.",
        )
    return left(f"{capital(reads)}, {much} round too large, and it cannot be pressed smaller. {_cure(change, place)}")


def _purpose(context: RingContext, side: str) -> str:
    """Why it closes beside its size: on purpose, and by another rule than where rings close, if it was cut by one."""
    rule = RULES.get(context.used.rule)
    if rule is None or rule.key == "centroid":
        return f"Left {side} on purpose: "
    return f"Cut by the {rule.title} and left {side}: "


def _too_far(context: RingContext, closing: FinishedSize, strain: float, limit: float) -> str:
    rule = RULES.get(context.used.rule)
    cut = f" It was cut by the {rule.title}." if rule and rule.key != "centroid" else ""
    return (
        f"It should read {closing.text}: {100 * strain:.1f} % to {context.target.text} is more than the "
        f"{100 * limit:.3g} % it may be stretched.{cut} {_cure(1.0)}"
    )


def _cure(change: float, place: str = "") -> str:
    return "Cut it anew, or set a piece in." if change > 0 else f"Take it out {place}."
