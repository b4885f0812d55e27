"""A shop's own solders: read as typed, the maker's figures before ours, in every step and on the bench."""

from __future__ import annotations

from typing import Any

import pytest

from ringcraft.errors import BadRequest
from ringcraft.metals import FORMS, SOLDERS
from ringcraft.planning.joints import solder_book
from ringcraft.planning.solders import OwnSolder
from ringcraft.schema import to_json
from ringcraft.styles.base import RingPlan
from ringcraft.vbench.deeds import SolderJoint
from ringcraft.work.kept import compact, with_states
from ringcraft.works import MAKE
from tests.orders import plan, style_order
from tests.resizes import plan as resize_plan

READ: list[tuple[str, dict[str, Any]]] = [
    ("silver hard", {"grade": "silver-hard"}),
    ("Silver-Hard 741 784", {"grade": "silver-hard", "melts_c": 741.0, "flows_c": 784.0}),
    ("14k yellow easy (the blue reel) 700 722 wire",
     {"grade": "gold-14k-yellow-easy", "title": "the blue reel", "melts_c": 700.0, "flows_c": 722.0, "form": "wire"}),
    ("silver medium 733 paste", {"grade": "silver-medium", "flows_c": 733.0, "form": "paste"}),
    ("platinum 1500 1490 1505", {"grade": "platinum-1500", "melts_c": 1490.0, "flows_c": 1505.0}),
    ("silver hard sheet", {"grade": "silver-hard", "form": "sheet"}),
]  # fmt: skip


@pytest.mark.parametrize(("text", "wanted"), READ, ids=[text for text, _ in READ])
def test_a_solder_as_it_is_typed(text: str, wanted: dict[str, Any]) -> None:
    usual = {"title": "", "melts_c": None, "flows_c": None, "form": "chips"}
    order = MAKE.read({**style_order("plain-band"), "solders": f"{text}; "})
    assert [to_json(one) for one in order.solders] == [{**usual, **wanted}]
    assert MAKE.read(to_json(order)) == order


@pytest.mark.parametrize(("text", "field"), [
    ("tin 200 230", "solders.0.grade"), ("silver hard; silver 9", "solders.1.grade"), ("unknown solder", "solders.0.grade"),
    ("silver hard 20 785", "solders.0.grade"), ("silver hard 785 745", "solders.0.flows_c"), ("silver hard 745 2500", "solders.0.flows_c"),
    ("; ".join(["silver hard"] * 61), "solders"),
])  # fmt: skip
def test_what_is_no_solder_is_refused_at_its_place(text: str, field: str) -> None:
    with pytest.raises(BadRequest) as refused:
        MAKE.read({**style_order("plain-band"), "solders": text})
    assert refused.value.errors[0].field == field


def text_of(made: RingPlan) -> str:
    return " ".join(line for step in made.route for line in (step.title, *step.do))


def test_the_makers_figures_go_before_ours_at_the_joint_and_at_the_step() -> None:
    ours, theirs = plan(), plan(solders="silver hard (reel 3) 733 768")
    assert (ours.joints[0].melts_c, ours.joints[0].flows_c) == (745, 790)
    assert (theirs.joints[0].melts_c, theirs.joints[0].flows_c) == (733, 768)
    step = next(one for one in theirs.route if one.key == "solder")
    assert "(reel 3)" in step.title
    assert step.figure == "768"
    assert "768" in text_of(theirs)
    assert "790" not in text_of(theirs)


def test_gold_solder_gets_figures_that_only_its_maker_knows() -> None:
    made = resize_plan(to="US 7 1/4", solders="14k yellow hard 760 795; 14k yellow medium 720 745")
    first, second = (deed for step in made.route for deed in step.does if isinstance(deed, SolderJoint))
    assert first.margin_c is None
    assert second.margin_c == 760 - 745
    unknown = resize_plan(to="US 7 1/4")
    assert [deed.margin_c for step in unknown.route for deed in step.does if isinstance(deed, SolderJoint)] == [
        None,
        None,
    ]


def test_a_solder_that_would_melt_the_metal_is_refused() -> None:
    with pytest.raises(BadRequest) as refused:
        plan(metal="tarnish-resistant-silver", solders="silver medium 720 771")
    assert refused.value.errors[0].field == "solders"
    assert "771" in refused.value.errors[0].message
    assert plan(metal="tarnish-resistant-silver", solders="silver medium 720 769").joints[0].flows_c == 769


@pytest.mark.parametrize(("form", "said"), [
    ("chips", "lay 2 chips of about"), ("sheet", "cut from sheet"), ("wire", "touch the wire"), ("paste", "line of paste"),
])  # fmt: skip
def test_its_form_says_how_it_is_put_to_the_joint(form: str, said: str) -> None:
    assert form in FORMS
    text = text_of(plan(solders=f"silver hard {form}"))
    assert said in text
    for style in ("stack", "channel-inlay", "hollow-signet", "folded", "shank"):
        made = MAKE.plan(MAKE.read({**style_order(style), "solders": f"silver hard {form}"}))
        assert isinstance(made, RingPlan)
        assert ("chip" in text_of(made)) or form in ("wire", "paste")
        assert "{" not in text_of(made)


def test_the_first_of_a_grade_holds_and_others_stay_ours() -> None:
    book = solder_book([OwnSolder(grade="silver-hard", flows_c=770.0), OwnSolder(grade="silver-hard", flows_c=780.0)])
    assert book["silver-hard"].flows_c == 770
    assert book["silver-hard"].melts_c is None
    assert book["silver-easy"] == SOLDERS["silver-easy"]
    named = solder_book([OwnSolder(grade="silver-hard", title="reel")])["silver-hard"]
    assert (named.melts_c, named.flows_c) == (745, 790)


def test_a_kept_plan_is_worked_again_with_the_solders_it_was_planned_with() -> None:
    """Our medium flows at 765: by the maker's sheet of then it flowed higher than this metal's solidus would bear."""
    made = plan(metal="tarnish-resistant-silver", solders="silver medium 700 768")
    kept = MAKE.kept(compact(made))
    assert with_states(kept).route[-1].after == made.route[-1].after
