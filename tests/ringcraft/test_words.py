"""The words of plans: for odd cases, what must and what must not be said, read as a master would read them."""

from __future__ import annotations

import re
from typing import Any

import pytest

from ringcraft.metals import METALS
from ringcraft.styles import STYLES
from ringcraft.styles.base import RingPlan
from tests.orders import sheet_order, sheet_plan

NO_PASS = {"saw_passes": 0, "file_passes": 0}
HALF_ROUND = {"profile": "half-round", "width_mm": "5", "thickness_mm": "2.1"}
FLANKS = [
    {"stock": {"profile": "rectangle", "width_mm": "7", "thickness_mm": "1.3"}},
    {"stock": {"profile": "half-round", "width_mm": "3.2", "thickness_mm": "1.5"}},
]


def words(plan: RingPlan, *keys: str) -> str:
    """All that is said at some steps of a plan; of the whole plan without a key."""
    at = [step for step in plan.route if not keys or step.key in keys]
    assert not keys or {step.key for step in at} == set(keys)
    said = [line for step in at for line in (step.title, *step.do, *step.check, *step.caution)]
    if not keys:
        said += [*plan.says, *plan.warnings, plan.title, *(term.why for b in plan.blanks for term in b.terms)]
    return "\n".join(said)


#: style, what is ordered, at which steps, what must be said, what must not
CASES: list[tuple[str, dict[str, Any], tuple[str, ...], tuple[str, ...], tuple[str, ...]]] = [
    # policy under each rule
    ("plain-band", {"rule": "mean-diameter", "stock": HALF_ROUND}, (),
     ("by the neutral line nearly every one closes too large", "By the mean diameter this stock is cut"),
     ("so that one in ten",)),
    ("plain-band", {"rule": "bare-chart", "leave": "large"}, ("to-size",), ("more than the",), ("on purpose",)),
    ("plain-band", {"rule": "bare-chart", "leave": "large"}, (), ("nearly every one closes too small",), ("hardly any",)),
    ("plain-band", {"leave": "large", "costly_share": 0.25}, (), ("one in four at most below",), ("hardly any",)),
    ("plain-band", {"leave": "large"}, ("to-size", "hand-over"), ("Left large on purpose", "for its buyer"), ("Try it on",)),
    ("plain-band", {"leave": "large", "rule": "mean-diameter"}, ("to-size",),
     ("Cut by the mean diameter and left large",), ("on purpose",)),
    ("wishbone", {"rule": "three-thickness", "leave": "small", "stock": {"profile": "rectangle", "width_mm": "3", "thickness_mm": "1.5"}},
     ("to-size",), ("Cut by the three thicknesses and left small",), ("on purpose",)),
    ("shank", {"leave": "exact", "rule": "mean-diameter"}, ("to-size",), ("round too large. Take it out at the back",), ("stretched",)),
    ("plain-band", {"leave": "small"}, ("to-size",), ("Left small on purpose", "more round"), ("reducing die",)),
    ("plain-band", {"rule": "own", "own_correction_mm": 0.5}, ("round",), ("0.50 shorter round here",), ()),
    ("plain-band", {"costly_share": 0.5}, (), ("Half close above",), ("0 in a hundred",)),
    # the joint with no pass, and with many
    ("plain-band", {"join": NO_PASS}, (), ("Neither saw nor file was planned",), ("joint, never", "Saw through the joint")),
    ("shank", {"gap_mm": "0", "join": NO_PASS}, (), ("Neither saw nor file",), ("Saw through the joint", "joint, never")),
    ("plain-band", {"join": {"saw_passes": 3}}, ("saw-joint",), ("three times",), ()),
    # when a size is asked
    ("plain-band", {}, ("file-solder",), ("No size is read yet",), ("read the size from",)),
    ("plain-band", {}, ("round",), ("No daylight left?",), ()),
    # solder and heat
    ("plain-band", {}, ("solder",), ("inside: away from the flame", "Heat from outside"), ("under it", "watch it")),
    ("plain-band", {"metal": "gold-22k-yellow"}, ("solder",), ("heated locally",), ("must come up together",)),
    ("plain-band", {"metal": "sterling"}, ("solder",), ("must come up together",), ("watch",)),
    ("plain-band", {"metal": "gold-14k-rose"}, ("solder", "anneal"), ("quench promptly, from a black heat",), ()),
    ("plain-band", {"metal": "tarnish-resistant-silver"}, ("solder",), ("brittle then",), ("at once",)),
    ("plain-band", {"metal": "gold-14k-white-nickel"}, ("anneal", "solder"), ("Do not quench it",), ("Quench not",)),
    ("plain-band", {"metal": "platinum-950"}, (), ("No flux",), ("pickle", "steel binding", "Flux ")),
    ("plain-band", {"metal": "palladium-950"}, (), ("No flux", "from the full heat"), ("pickle", "Flux ")),
    ("stack", {"metal": "platinum-950"}, (), ("platinum wire",), ("steel binding", "pickle", "Flux ")),
    ("hollow-signet", {"metal": "palladium-950"}, (), ("cool and look before each",), ("pickle", "flux anew")),
    ("folded", {"layers": "3"}, ("solder-layers",), ("Held flat with steel binding wire", "Untie it."), ()),
    # tapered
    ("tapered", {"gap_mm": "5"}, (), ("they do not meet",), ("Bend to a D", "face to face", "Close the joint")),
    ("tapered", {}, ("scribe-middle",), ("The joint will take 0.22 of these ends",), ()),
    ("tapered", {"middle__thickness_mm": "1"}, ("thin", "thin-2"), ("stop here and anneal", "Anneal it again first"), ()),
    # stack, sandwich, inlay
    ("stack", {}, ("saw-joint-outer-1", "round-over-outer-1"), ("off the ring under it",), ("over what is under it",)),
    ("stack", {}, ("solder-together",), ("Flux between them",), ()),
    ("stack", {}, ("to-size",), ("Bring it to",), ()),
    ("stack", {"arrangement": "sandwich", "finished_metal": "gold-18k-yellow", "outer": FLANKS[:1]}, (),
     ("1 band beside",), ("1 bands",)),
    ("stack", {"arrangement": "sandwich", "finished_metal": "gold-18k-yellow", "outer": FLANKS, "wide": True},
     ("round-flank-2", "to-size-flank-2"), ("Bring it to US 6 3/4", "daylight"), ()),
    ("channel-inlay", {"outer_count": "3"}, ("solder-walls",), ("A wall between has no outer side",), ()),
    ("channel-inlay", {"outer_count": "2"}, ("solder-walls",), ("edge walls",), ("A wall between",)),
    ("channel-inlay", {}, ("weigh-metal", "last-measure"), ("stone and glue are not planned",), ("weigh it: this",)),
    # faces
    ("textured", {}, ("finish-320-paper",), ("sees no paper",), ("then the outside",)),
    ("patterned", {}, ("finish-320-paper", "finish-rouge"), ("sees no paper", "hollows stay"), ("then the outside",)),
    ("stamped", {}, ("finish-320-paper",), ("sees no paper",), ("then the outside",)),
    ("plain-band", {}, ("finish-320-paper",), ("then the outside",), ("no paper",)),
    # trim, folds, V
    ("stamped", {"join": {"trim_mm": "1"}}, ("file-back",), ("57.4",), ("58.4",)),
    ("folded", {}, ("anneal-first",), ("to about double",), ("the bend strains it",)),
    ("wishbone", {}, ("anneal-vee",), ("The tip strains about 50 %",), ("the bend strains it",)),
    ("folded", {"stock__thickness_mm": "0.6", "layers": "4"}, ("cut",), ("Shear",), ("Wax the",)),
    # shank, adjustable, signet, pattern
    ("shank", {"ends": "split"}, ("split-ends",), ("spread after the shank is bent",), ("Spread them",)),
    ("shank", {"ends": "split", "stock": {"profile": "rectangle", "width_mm": "6", "thickness_mm": "1.3"}},
     ("scribe-thirds",), ("three prongs of 1.85 stay", "At 1.96 and 4.04"), ()),
    ("adjustable", {"overlap_mm": "1"}, (), ("1 of it lies over",), ("3 still lie", "then 3")),
    ("hollow-signet", {}, ("scribe-plate", "cut-plate", "level-top"), ("9.00 wide", "9.00, its corners", "planned 14.90"), ()),
    ("patterned", {}, ("scribe-left", "scribe"), ("0.11 before its place", "0.22 for the joint"), ("at the same place of its",)),
    ("patterned", {"join": NO_PASS}, ("scribe",), ("at the same place of its repeat",), ("for the joint",)),
]  # fmt: skip


@pytest.mark.parametrize(("style", "changes", "keys", "must", "never"), CASES, ids=lambda one: str(one)[:40])
def test_what_must_and_what_must_not_be_said(
    style: str, changes: dict[str, Any], keys: tuple[str, ...], must: tuple[str, ...], never: tuple[str, ...]
) -> None:
    said = words(sheet_plan(style, **changes), *keys)
    assert [one for one in must if one not in said] == []
    assert [one for one in never if one in said] == []


@pytest.mark.parametrize("style", STYLES)
@pytest.mark.parametrize("metal", ["sterling", "platinum-950", "palladium-950", "gold-14k-white-nickel"])
def test_the_words_follow_what_the_steps_do(style: str, metal: str) -> None:
    """A sentence is made from the same facts as the deed: where one is, the other is."""
    if style == "stack" and metal == "platinum-950":
        return  # nothing that is said there is its own
    for step in sheet_plan(style, metal=metal).route:
        ops = {deed.op for deed in step.does}
        said = "\n".join((step.title, *step.do))
        assert ("flux" in ops) == any(
            line.startswith(("Flux", "Flux ")) for line in step.do
        ) or step.key == "solder-layers"
        assert ("quench" in ops) <= ("uench" in said or "from that heat" in said), step.key
        if "cool" in ops:
            assert "Do not quench it" in said, step.key
        if "bind" in ops:
            assert METALS[metal].of_family.binding in said, step.key
        if "unbind" in ops:
            assert "ntie it" in said, step.key
        if "anneal" in ops:
            assert "nneal" in said, step.key
        if "pickle" in ops:
            assert step.station == "pickle", step.key
        if ops & {"saw-joint"}:
            assert "straight down" in said


def test_one_layer_is_asked_and_all_of_them_are_known() -> None:
    from ringcraft.following.inspection import replan
    from ringcraft.styles import read_ring
    from tests.orders import followed

    order = read_ring(sheet_order("folded", layers="3"))
    then = replan(order, {})
    for value, said in ((1.8, "that is all 3 layers, and one is asked"), (1.1, "is that this stock?")):
        seen = followed(order, {"stock-thickness": value})
        assert [blank.cut_text for blank in seen.now.blanks] == [blank.cut_text for blank in then.blanks]
        verdict = seen.verdicts[0]
        assert verdict.tone == "act"
        assert said in verdict.says
    good = followed(order, {"stock-thickness": 0.6}).verdicts[0]
    assert (good.tone, good.says) == ("good", "as planned")


@pytest.mark.parametrize(
    ("typed", "lines"),
    [
        ("12/05/2026", ("12/05/2026",)),
        ("MARA / 12/05/2026", ("MARA", "12/05/2026")),
        ("A/B", ("A", "B")),
        ("1\n2/3", ("1", "2/3")),
    ],
)
def test_a_date_is_one_line_and_a_stroke_between_words_begins_another(typed: str, lines: tuple[str, ...]) -> None:
    order = sheet_order("stamped", lines=typed, letter_height_mm="1.2", pitch_mm="1")
    from ringcraft.styles import read_ring

    assert read_ring(order).lines == lines


def test_what_is_read_from_the_right_stands_from_the_right() -> None:
    made: Any = sheet_plan("stamped", lines="שלום 12")
    row = sorted(made.marks, key=lambda mark: mark.x_mm)
    assert [mark.char for mark in row] == ["1", "2", "ם", "ו", "ל", "ש"]  # the figures keep their own order
    assert "read from right to left" in words(made, "lay-out")
    assert "right to left" not in words(sheet_plan("stamped"), "lay-out")


def told_somewhere(figure: float, said: str) -> bool:
    """Whether a length stands in a sentence as people write it: to a whole, a tenth or a hundredth."""
    return any(re.search(rf"(?<![\\d.]){re.escape(f'{figure:.{places}f}')}(?![\\d])", said) for places in (0, 1, 2))


@pytest.mark.parametrize("style", STYLES)
def test_a_step_says_the_very_figures_that_it_does(style: str) -> None:
    """One story: what is cut, sawn, sized and overlapped by the deed is what the words say."""
    join = {"saw_passes": 2, "trim_mm": "0.8", "file_passes": 1}
    for changes in ({}, {"join": join}, {"leave": "exact", "join": join}):
        for step in sheet_plan(style, **changes).route:
            said = "\n".join((step.title, step.figure, *step.do, *step.check))
            for deed in step.does:
                if deed.op == "cut":
                    assert told_somewhere(deed.to_mm, said), (step.key, deed, said)
                elif deed.op == "trim":
                    assert told_somewhere(deed.takes_mm, said), (step.key, deed)
                elif deed.op == "saw-joint":
                    assert told_somewhere(deed.takes_mm / deed.passes, said), (step.key, deed)
                    assert {1: "once", 2: "twice"}[deed.passes] in said
                elif deed.op == "work" and deed.by == "roll":
                    assert told_somewhere(step.after["bar"].length_mm, said), (step.key, deed)
                elif deed.op == "solder":
                    chips = "one chip" if deed.chips == 1 else f"{deed.chips} chips"
                    assert chips in said, (step.key, deed)
                elif deed.op == "size" and deed.by in ("stretch", "compress") and "true it lightly" not in said:
                    before = next(p for p in step.after.values() if p.inside_diameter_mm)
                    assert before.inside_diameter_mm == pytest.approx(deed.to_mm)
