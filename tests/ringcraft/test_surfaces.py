"""Which surface each face gets: the grid of faces and grits, what follows the wash, what is refused."""

from __future__ import annotations

import itertools
from typing import Any

import pytest

from ringcraft.errors import BadRequest
from ringcraft.metals import FAMILIES, METALS
from ringcraft.planning.surfaces import BY_HAND, FACES, SURFACES, Surfaces, grit_of, schedules
from ringcraft.resize.plan import resize
from ringcraft.schema import to_json
from ringcraft.styles import STYLES, ring
from tests.orders import order, style_order
from tests.ringcraft.benchwork import replay
from tests.ringcraft.test_virtual_bench import ONE_OF_EACH, near

SIZING = {"from": "US 7", "to": "US 6", "metal": "sterling",
          "shank": {"profile": "half-round", "width_mm": 3.4, "thickness_mm": 1.6}}  # fmt: skip


def refused(data: dict[str, Any], plan: Any = ring) -> tuple[str, str]:
    with pytest.raises(BadRequest) as problem:
        plan(data)
    first = problem.value.errors[0]
    return first.field, f"{first.message} {first.hint}"


def worked(plan: Any) -> dict[str, list[str]]:
    """With what each face is worked on the bench, in order."""
    out: dict[str, list[str]] = {face: [] for face in FACES}
    for step in plan.route:
        for deed in step.does:
            if deed.op == "finish":
                out[deed.face].append(deed.with_)
    return out


@pytest.mark.parametrize("metal", ONE_OF_EACH)
def test_every_combination_is_worked_or_refused_at_a_face(metal: str) -> None:
    taken = 0
    for faces in itertools.product(SURFACES, repeat=3):
        said = dict(zip(FACES, faces, strict=True))
        data = order(metal=metal, surfaces=said)
        impossible = (
            "hammered" in faces
            or any(SURFACES[one].families and METALS[metal].family not in SURFACES[one].families for one in faces)
            or {"dark", "rhodium"} <= set(faces)
            or ("tumbled" in faces and {"satin", "matte"} & set(faces))
        )
        if impossible:
            assert refused(data)[0].startswith("surfaces.")
            continue
        made, taken = ring(data), taken + 1
        papers = FAMILIES[METALS[metal].family].papers
        for face, key in said.items():
            steps = worked(made)[face]
            assert [grit_of(one) for one in steps] == sorted({grit_of(one) for one in steps})
            assert all(one in (*papers, "satin brush", "steel wool") for one in steps)
            if key == "satin":
                assert steps[-1] == "satin brush"
                assert all(grit_of(one) <= 600 for one in steps[:-1])
            elif key == "matte":
                assert steps == [papers[0], "steel wool"]
            elif key in ("mirror", "rhodium"):
                assert steps == list(papers)
            else:
                assert steps == [one for one in papers if "paper" in one]
        ops = {deed.op for step in made.route for deed in step.does}
        assert ("tumble" in ops) is ("tumbled" in faces)
        assert ("patina" in ops) is ("dark" in faces)
        assert ("plate" in ops) is ("rhodium" in faces)
        assert made.is_plated() is ("rhodium" in faces or METALS[metal].of_family.plated)
    assert taken > 20


def test_no_surface_is_the_full_finish_on_every_face_as_it_always_was() -> None:
    plain, said = ring(order()), ring(order(surfaces={}))
    assert worked(plain) == worked(said)
    assert [step.key for step in plain.route] == [step.key for step in said.route]


def test_the_next_grit_waits_for_all_faces_or_is_overruled() -> None:
    by_grit = ring(order(surfaces={"outside": "satin"}))
    seen = [deed.with_ for step in by_grit.route for deed in step.does if deed.op == "finish"]
    assert [grit_of(one) for one in seen] == sorted(grit_of(one) for one in seen)
    by_face = ring(order(surfaces={"outside": "satin", "by": "face"}))
    faces = [deed.face for step in by_face.route for deed in step.does if deed.op == "finish"]
    assert [face for face, _ in itertools.groupby(faces)] == list(FACES)
    assert worked(by_face) == worked(by_grit)
    keys = [step.key for step in by_face.route]
    assert len(keys) == len(set(keys))


@pytest.mark.parametrize("style", ["textured", "stamped", "patterned"])
@pytest.mark.parametrize("surface", SURFACES)
def test_no_route_papers_what_is_struck(style: str, surface: str) -> None:
    face = "outside"
    try:
        made = ring(style_order(style, metal="sterling", surfaces={face: surface}))
    except BadRequest as problem:
        assert problem.errors[0].field == "surfaces.outside"  # noqa: PT017
        assert surface == "never"
        return
    assert not any("paper" in one or one == "steel wool" for one in worked(made)[face])
    assert made.route[-1].after[made.blanks[0].name].faces.outside == "textured"


@pytest.mark.parametrize("style", STYLES)
def test_three_surfaces_go_through_the_bench_on_every_style(style: str) -> None:
    data = style_order(style, surfaces={"inside": "mirror", "edges": "matte", "outside": "satin"}, finish_with="hand")
    made = ring(data)
    plan = to_json(made)
    state = plan["start"]
    for step in plan["route"]:
        state = replay(state, step["does"])
        assert near(state, step["after"]) == [], step["key"]
        state = step["after"]
    assert worked(made)["inside"] == list(BY_HAND)
    assert "spinning" not in " ".join(text for step in made.route for text in step.caution).lower()


def test_hand_and_wheel_are_two_schedules_and_the_shop_s_own_goes_before_ours() -> None:
    assert worked(ring(order(finish_with="hand")))["outside"] == list(BY_HAND)
    own = {"papers": [{"family": "silver", "papers": ["400 paper", "rouge"]}]}
    assert worked(ring(order(own=own)))["outside"] == ["400 paper", "rouge"]
    assert worked(ring(order(own=own, finish_with="hand")))["outside"] == list(BY_HAND)


def test_what_follows_the_wash_stands_after_it_and_says_its_faces() -> None:
    made = ring(order(surfaces={"inside": "mirror", "edges": "dark", "outside": "dark"}))
    keys = [step.key for step in made.route]
    assert keys.index("wash") < keys.index("degrease") < keys.index("patina") < keys.index("rub-back")
    steps = {step.key: step for step in made.route}
    assert any("the edges and the outside" in line for line in steps["patina"].do)
    assert any("the inside" in line for line in steps["rub-back"].do)
    assert "gas" in " ".join(steps["patina"].caution)
    assert "Alcohol" in " ".join(steps["degrease"].caution)
    all_dark = ring(order(surfaces=dict.fromkeys(FACES, "dark")))
    assert "rub-back" not in [step.key for step in all_dark.route]
    shot = ring(order(surfaces={"outside": "tumbled", "tumble_hours": "6 h"}))
    tumbled = next(step for step in shot.route if step.key == "tumble")
    assert tumbled.wait_min == 360
    plated = ring(order(surfaces={"outside": "rhodium"}))
    stop = next(step for step in plated.route if step.key == "plate")
    assert any("the inside and the edges" in line for line in stop.do)


@pytest.mark.parametrize(
    ("change", "field"),
    [
        ({"surfaces": {"outside": "glitter"}}, "surfaces.outside"),
        ({"surfaces": {"outside": "hammered"}}, "surfaces.outside"),
        ({"surfaces": {"inside": "dark"}, "metal": "platinum-950"}, "surfaces.inside"),
        ({"surfaces": {"edges": "rhodium"}, "metal": "copper"}, "surfaces.edges"),
        ({"surfaces": {"tumble_hours": "900"}}, "surfaces.tumble_hours"),
        ({"surfaces": {"tumble_hours": "soon"}}, "surfaces.tumble_hours"),
        ({"surfaces": {"by": "luck"}}, "surfaces.by"),
        ({"finish_with": "feet"}, "finish_with"),
    ],
)
def test_a_surface_that_cannot_be_is_refused_at_its_face(change: dict[str, Any], field: str) -> None:
    assert refused(order(**change))[0] == field
    assert refused({**SIZING, **change}, resize)[0] == field


def test_what_is_glued_in_goes_into_no_bath() -> None:
    for surface in ("tumbled", "dark", "rhodium"):
        field, said = refused(style_order("channel-inlay", surfaces={"inside": surface}))
        assert (field, "glued" in said) == ("surfaces.inside", True)


def test_a_ring_that_is_resized_keeps_its_surface_in_its_zone() -> None:
    made = resize({**SIZING, "surfaces": {"outside": "satin"}})
    assert worked(made)["outside"][-1] == "satin brush"
    assert worked(made)["inside"][-1] == "rouge"
    first = next(step for step in made.route if step.key.startswith("finish"))
    assert any("bottom third" in line for line in first.do)
    dark = resize({**SIZING, "surfaces": {"outside": "dark"}})
    assert any(deed.op == "patina" for step in dark.route for deed in step.does)
    white = resize({**SIZING, "surfaces": {"outside": "rhodium"}})
    assert any(deed.op == "plate" for step in white.route for deed in step.does)
    for surface in ("tumbled", "dark"):
        stones = {**SIZING, "stones": [{"kind": "diamond"}], "surfaces": {"outside": surface}}
        assert refused(stones, resize)[0] == "surfaces.outside"


def test_the_grid_holds_each_face_to_its_own_papers() -> None:
    papers = ("320 paper", "600 paper", "tripoli", "rouge")
    faces = schedules(Surfaces(inside="matte", edges="satin", outside="mirror"), papers, ("outside",))
    assert faces == {
        "inside": ("320 paper", "steel wool"),
        "edges": ("320 paper", "600 paper", "satin brush"),
        "outside": ("tripoli", "rouge"),
    }


def test_what_is_stopped_off_is_bared_again_and_kept_out_of_the_grid() -> None:
    plan = ring(order(metal="gold-14k-white-nickel", surfaces={"outside": "rhodium"}))
    step = next(step for step in plan.route if step.key == "plate")
    (deed,) = step.does
    assert deed.spares == ("inside", "edges")
    assert "Stop the inside and the edges off" in " ".join(step.do)
    assert "lacquer off" in step.do[-1]
    assert any("solvent" in said.lower() or "thinner" in said.lower() for said in step.caution)
    everywhere = ring(order(metal="gold-14k-white-nickel", surfaces=dict.fromkeys(FACES, "rhodium")))
    whole = next(step for step in everywhere.route if step.key == "plate")
    assert whole.does[0].spares == ()
    assert "lacquer" not in " ".join(whole.do)
