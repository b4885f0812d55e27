"""When a finished ring is looked at again: on sterling a copper bloom and a dark solder line show only then."""

from __future__ import annotations

from collections.abc import Mapping
from datetime import datetime, timedelta

from ringcraft.metals import ALL_METALS, Metal
from ringcraft.vbench.deeds import Finish
from ringcraft.work.plan import WorkPlan

LOOK_AGAIN = timedelta(days=2)  # common practice, no published source
WHY = "A copper bloom or a dark solder line shows only after two days."


def blooms(metal: Metal) -> bool:
    """Whether copper comes out of it after days: silver that holds copper, and nothing that keeps it down."""
    of = metal.composition
    return of.get("Ag", 0.0) > 0.5 and of.get("Cu", 0.0) > 0.0 and not of.get("Ge")


def look_again(plan: WorkPlan, done: Mapping[str, datetime]) -> datetime | None:
    """When to look at it again: two days after its last finish, once all is done; None where nothing blooms."""
    metal = ALL_METALS.get(plan.metal.key)
    if metal is None or not blooms(metal):
        return None
    finishes = [step.key for step in plan.route if any(isinstance(deed, Finish) for deed in step.does)]
    if not finishes or any(key not in done for key in finishes):
        return None
    return max(done[key] for key in finishes) + LOOK_AGAIN
