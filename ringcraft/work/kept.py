"""Plans as they were kept: each released shape is brought up to today's, and no figure of it ever changes.

A way up adds what its shape did not have yet: words and drawings that follow from the kept figures, and plainly
nothing where nothing is known ("not known for this older plan"). It never plans anew.
"""

from __future__ import annotations

import math
from collections.abc import Callable
from dataclasses import replace
from typing import Any

from pydantic import TypeAdapter, ValidationError

from ringcraft.drawing.blanks import strip
from ringcraft.drawing.rings import band, joint
from ringcraft.drawing.shapes import drawing
from ringcraft.errors import CraftError
from ringcraft.metals import SOLDERS, SolderBook, solder_key
from ringcraft.planning.joints import CHIP_SPACING_MM
from ringcraft.planning.tolerance import scatter_of
from ringcraft.schema import craft_errors, to_json
from ringcraft.units import format_length, nearest_fraction
from ringcraft.vbench.needs import all_the_same
from ringcraft.vbench.ops import work
from ringcraft.work.plan import PLAN_VERSION, WorkPlan

NOT_KNOWN = "not known for this older plan"


class KeptPlanError(CraftError):
    """A kept plan that this version cannot read; ``field`` is what is wrong in it."""


def version_of(plan: dict[str, Any]) -> int:
    """The shape of a kept plan. The first three did not say theirs: they are told by what they had.

    0: a plain band from finger to card; 1: with gauges and wide bands; 2: every style, with drawings.
    """
    said = plan.get("plan_version")
    if isinstance(said, int) and not isinstance(said, bool):
        return said
    if "ring" in plan or "warnings" in plan:
        return 2
    return 1 if "wide" in plan or "gauge" in plan else 0


def upgrade(plan: dict[str, Any]) -> dict[str, Any]:
    """A kept plan in today's shape; raises KeptPlanError for a shape that is not known here."""
    version = version_of(plan)
    if not 0 <= version <= PLAN_VERSION:
        raise KeptPlanError("plan_version", "This plan was kept by a newer version.", "Use that version to read it.")
    data = dict(plan)
    try:
        for step in range(version, PLAN_VERSION):
            data = _WAYS_UP[step](data)
    except (KeyError, TypeError, ValueError, AttributeError, IndexError) as problem:
        raise KeptPlanError("", f"This kept plan lacks a part: {str(problem)[:80]}.", "") from None
    return data


def read_kept(kind: TypeAdapter[Any], plan: object) -> WorkPlan:
    """A kept plan of a kind of work, upgraded; its ``plan_version`` stays the one it was kept in.

    Raises KeptPlanError naming what is wrong in it.
    """
    if not isinstance(plan, dict):
        raise KeptPlanError("", "This kept plan is no plan at all.", "")
    data = upgrade(plan) | {"plan_version": version_of(plan)}
    try:
        read: WorkPlan = kind.validate_python(data)
    except ValidationError as problem:
        first = craft_errors(problem)[0]
        raise KeptPlanError(
            first.field, f"This kept plan cannot be read at {first.field or 'its start'}.", ""
        ) from None
    if not read.is_whole():
        raise KeptPlanError("blanks", "This kept plan has no piece or no step.", "")
    return read


def without_states(plan: WorkPlan) -> WorkPlan:
    """A plan without how its pieces stand after each step, which follows from what each step does."""
    return replace(plan, route=tuple(replace(step, after={}) for step in plan.route))


def compact(plan: WorkPlan) -> dict[str, Any]:
    """A plan as it is kept."""
    data: dict[str, Any] = to_json(without_states(plan))
    return data


def with_states(plan: WorkPlan) -> WorkPlan:
    """A kept plan with how its pieces stand after each step, worked again from what its own steps do.

    An older plan has no deeds, and one that this bench would not work any more keeps its words alone.
    """
    if not plan.start or any(step.after for step in plan.route):
        return plan
    try:
        with all_the_same():  # what is kept is worked as it was kept, whatever today's bench would need for it
            after = work(plan.start, [(step.key, step.does) for step in plan.route], _book_of(plan))
    except (CraftError, KeyError):
        return plan
    return replace(plan, route=tuple(replace(one, after=then) for one, then in zip(plan.route, after, strict=True)))


def _book_of(plan: WorkPlan) -> SolderBook:
    """The solders as the plan knew them: what its joints were to be made with goes before today's table."""
    book = dict(SOLDERS)
    for one in plan.joints:
        if one.solder in book:
            book[one.solder] = replace(book[one.solder], melts_c=one.melts_c, flows_c=one.flows_c)
    return book


def bare_figures(plan: object) -> tuple[tuple[str, str], ...]:
    """The cut lengths that can still be told from a plan that cannot be read: name and figure of each piece."""
    blanks = plan.get("blanks") if isinstance(plan, dict) else None
    out = []
    for blank in blanks if isinstance(blanks, list) else []:
        figure = blank.get("cut_text") or blank.get("cut_length_mm") if isinstance(blank, dict) else None
        if isinstance(figure, (str, int, float)):
            out.append((str(blank.get("title") or blank.get("name") or "piece")[:60], str(figure)[:20]))
    return tuple(out[:12])


def _from_0(plan: dict[str, Any]) -> dict[str, Any]:
    """Before gauges and inches: a size was read on an ideal scale, lengths were told in millimetres."""
    target = plan["target"]
    return {
        "gauge": None,
        "wide": None,
        "wanted_mm": target["inside_diameter_mm"],
        "wanted_text": target["text"],
        "wanted_fine_text": target["text"],
        **plan,
        "used": {"units": "mm", **plan["used"]},
        "rules": [{"text": f"{rule['formed_length_mm']:.1f}", **rule} for rule in plan["rules"]],
        "blanks": [
            {
                "unit": "mm",
                "fraction": "",
                "sum_text": format_length(blank["cut_length_mm"], "mm"),
                **blank,
                "terms": [{"text": _signed(i, term["mm"]), **term} for i, term in enumerate(blank["terms"])],
            }
            for blank in plan["blanks"]
        ],
    }


def _from_1(plan: dict[str, Any]) -> dict[str, Any]:
    """Before styles: one band, its drawings those of a plain strip and a round ring."""
    section, target = plan["section"], plan["target"]
    inner = target["inside_diameter_mm"] / 2
    outer = inner + section["thickness_mm"]
    spread = plan["closing"]["spread"]
    causes = [{"title": cause["key"].replace("_", " "), **cause} for cause in spread["causes"]]
    scatter = {**to_json(scatter_of(None, None)), "chance": spread["chance"]}
    return {
        "figures": [],
        "thumbs": [],
        "fit_table": None,
        "joints": [],
        "warnings": [],
        "what_if": [],
        "across": None,
        "ring": to_json(drawing([band(inner, outer)], [joint(inner, outer)])),
        **plan,
        "used": {"scatter": scatter, **plan["used"]},
        "closing": {**plan["closing"], "spread": {"method": NOT_KNOWN, **spread, "causes": causes}},
        "blanks": [_whole_blank(blank, plan) for blank in plan["blanks"]],
        "route": [{"blank": "", **step} for step in plan["route"]],
    }


def _whole_blank(blank: dict[str, Any], plan: dict[str, Any]) -> dict[str, Any]:
    section, title, metal = plan["section"], plan["title"], plan["metal"]["title"]
    inches = plan["used"].get("units") == "in"
    more = {
        "title": "band",
        "role": "band",
        "count": 1,
        "section": section,
        "stock": plan["summary"].removeprefix(metal).strip() or title,
        "outside_mm": 0.0,
        "width_mm": section["width_mm"],
        "waits": "",
        "fraction": nearest_fraction(blank["cut_length_mm"]) if inches else "",
        "drawing": to_json(strip(blank["cut_length_mm"], section["width_mm"])),
    }
    return {**more, **blank, "marks": [{"handle": None, **mark} for mark in blank["marks"]]}


def _from_2(plan: dict[str, Any]) -> dict[str, Any]:
    """Before the seam: every plan was one of a ring to make. Words that came late are filled from the figures."""
    target = plan["target"]
    more = {
        "work": "make",
        "wanted_mm": target["inside_diameter_mm"],
        "wanted_text": target["text"],
        "wanted_fine_text": plan.get("wanted_text", target["text"]),
        "says": [],
        "thumbs": [],
        "what_if": [],
        "warnings": [],
        "figures": [],
        "fit_table": None,
        "across": None,
        "ring": {"shapes": [], "lines": [], "labels": [], "box": [0.0, 0.0, 0.0, 0.0]},
        "gauge": None,
        "wide": None,
    }
    return {**more, **plan}


def _from_3(plan: dict[str, Any]) -> dict[str, Any]:
    """Before the virtual bench: steps were sentences. How its pieces stood is not known, and today's route, which may
    not be its own, is never put in their place.
    """
    steps = [{"does": [], "after": {}, "comes": NOT_KNOWN, **step} for step in plan["route"]]
    closing = {"too_large": None, **plan["closing"]}
    joints = [_keyed(joint) for joint in plan["joints"]]
    return {"start": {}, "finished": None, **plan, "closing": closing, "joints": joints, "route": steps}


def _from_4(plan: dict[str, Any]) -> dict[str, Any]:
    """Before the bench knew the thing: where seams and stones sit and what coats a piece is not known, and so not
    said; its steps are worked as they were kept.
    """
    return {"unmet": [], **plan}


def _keyed(joint: dict[str, Any]) -> dict[str, Any]:
    """A joint whose solder was named by its title: its key, and what it said of its flow."""
    more = {
        "solder_title": joint["solder"],
        "melts_c": joint.get("flow_low_c"),
        "flows_c": joint.get("flow_high_c"),
        "chips": max(1, math.ceil(joint["length_mm"] / CHIP_SPACING_MM)),
        "guarded": False,
    }
    return {**more, **joint, "solder": solder_key(joint["solder"])}


def _signed(place: int, mm: float) -> str:
    sign = "" if place == 0 else "− " if mm < 0 else "+ "
    return sign + format_length(abs(mm), "mm")


_WAYS_UP: dict[int, Callable[[dict[str, Any]], dict[str, Any]]] = {
    0: _from_0,
    1: _from_1,
    2: _from_2,
    3: _from_3,
    4: _from_4,
}
