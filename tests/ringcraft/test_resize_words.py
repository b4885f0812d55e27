"""What is said of a ring that came in is true of that very ring: odd cases, as a master would read them."""

from __future__ import annotations

from typing import Any

import pytest

from ringcraft.errors import BadRequest
from ringcraft.resize.advice import RULES
from ringcraft.resize.plan import ResizePlan
from tests.resizes import plan

BEZEL = {"stones": [{"kind": "opal", "setting": "bezel"}], "to": "US 7 1/2"}
COATED = {"stones": [{"kind": "ruby"}], "to": "US 7 1/2"}
CLAWS = {"stones": [{"kind": "opal"}], "to": "US 7 1/2"}


def texts(made: ResizePlan) -> str:
    steps = [text for step in made.route for text in (step.title, *step.do, *step.check)]
    why = [text for one in made.methods for text in one.why]
    return " ".join([*steps, *why, *made.risks, *made.warnings, *made.says, *(one.why for one in made.stone_advice)])


#: Changes, words that are there, words that are not.
WORDS: list[tuple[dict[str, Any], tuple[str, ...], tuple[str, ...]]] = [
    (BEZEL, ("Check every setting",), ("every claw", "an old claw")),
    (CLAWS, ("Check every claw",), ("every setting",)),
    ({**BEZEL, "to": "US 6 1/8", "method": "stretch"}, ("look at every setting after",), ("claw after",)),
    ({"to": "US 10", "metal": "platinum-950", "repair_solder": "hard"}, ("Protect the first seam",), ("pickle", "Protect it again")),
    ({**COATED, "metal": "platinum-950"}, ("Where the glaze flaked off", "No pickle is used for platinum 950"), ("The pickle took",)),
    ({**COATED, "to": "US 8 1/2"}, ("The pickle took the glaze off: coat the stones again.",), ("Coat the first seam",)),
    ({"to": "US 5"}, ("Dress the joint, the inside first", "it is not round"), ("stands in its D",)),
    ({"to": "US 5"}, (), ("plated", "claw", "setting", "stone")),
    ({"to": "US 6", "features": ["cracked"]}, ("its crack would run on",), ("with what is on it",)),
    ({"to": "US 6", "features": ["two-tone"]}, ("with what is on it",), ("crack would",)),
    ({"to": "US 6", "metal": "gold-14k-white-nickel", "join": {"saw_passes": 4}}, ("more than it bears as it is",), ("with what is on it",)),
    ({**BEZEL, "stones": [{"kind": "opal", "setting": "channel", "from_joint_mm": 9}]}, ("cannot be taken out unharmed",), ("out first", "Take out the opal")),
    ({"from_": "US 9", "to": "US 6", "head": {"span_mm": 13.0}, "method": "take-out"}, ("settings open by that much",), ("curve: look at",)),
    ({"metal": "titanium", "head": {"span_mm": 9.0}}, (), ("spans", "every claw")),
    ({"to": "US 5 3/4", "features": ["engraved-inside"]}, ("Letters inside move with the metal",), ("Letters inside can be lost",)),
    ({"to": "US 5", "features": ["engraved-inside"]}, ("Letters inside can be lost",), ("Letters inside move",)),
    ({"metal": "unknown", "to": "US 7 1/2", "method": "add-stock", "stones": [{"kind": "garnet", "from_joint_mm": 20}]},
     ("comes to 850 °C at most", "nothing hotter than 650 °C", "metal of the same alloy"), ("this metal bears that", "unknown metal of the same")),
]  # fmt: skip


@pytest.mark.parametrize(("changes", "there", "not_there"), WORDS)
def test_words_of_odd_cases(changes: dict[str, Any], there: tuple[str, ...], not_there: tuple[str, ...]) -> None:
    said = texts(plan(**{"override_reason": "a trial", **changes}))
    risk = "such as a worn setting or a thin place"  # of any ring that comes in, and compared under the loupe
    told = said.replace(risk, "").replace("Claws, cracks, worn places, old seams;", "")
    for words in there:
        assert words in said
    for words in not_there:
        assert words not in told


@pytest.mark.parametrize("to", ["US 5", "US 6", "US 7 1/2"])
def test_a_ring_that_came_in_stands_in_no_d(to: str) -> None:
    made = plan(to=to)
    stands = [step.comes for step in made.route]
    assert not any("in its D" in words for words in stands)
    assert any("not round yet" in words for words in stands)


def test_what_is_set_again_is_checked_with_the_rest() -> None:
    keys = [step.key for step in plan(**CLAWS).route]
    assert keys.index("set-again") < keys.index("claws")


def test_the_reason_for_a_never_is_one_that_forbids_it() -> None:
    """The first reason is of the advice itself; what else has to be known comes after it."""
    caps = {rule["key"]: rule["at_most"] for rule in RULES}
    for features in (
        ["engraved-inside"],
        ["old-seam", "plated"],
        ["pattern-all-round"],
        ["hollow", "engraved-inside"],
    ):
        for to in ("US 5", "US 7 1/2"):
            for one in plan(features=features, to=to).methods:
                if one.advice == "never":
                    assert caps[one.rules[0]] == "never", (features, to, one.key)
    with pytest.raises(BadRequest) as refused:
        plan(features=["engraved-inside"], to="US 7 1/2", method="stretch")
    assert "% is more than" in refused.value.errors[0].message
