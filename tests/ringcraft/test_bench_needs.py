"""What the virtual bench refuses: each op has its needs, and a route that misses one is never passed over."""

from __future__ import annotations

from typing import Any

import pytest

from ringcraft.sections import Stock, section_of
from ringcraft.vbench.deeds import OPS, Fit, OnPiece, SolderJoint
from ringcraft.vbench.ops import UnmetNeedError, act, seam_margin_c, work
from ringcraft.vbench.pieces import Faces, Piece, stock_piece

SECTION = section_of(Stock(profile="rectangle", width_mm=4.0, thickness_mm=1.5))


def piece(metal: str = "sterling", **changes: Any) -> Piece:
    return stock_piece(metal, SECTION, 60.0).with_(**changes)


def do(one: Piece, op: str, **fields: Any) -> Piece:
    if "with" in fields:
        fields["with_"] = fields.pop("with")
    return act({"band": one}, OPS[op](op=op, piece="band", **fields))["band"]


def solder(one: Piece, solder_key: str = "silver-hard", joint: str = "joint") -> Piece:
    deed = SolderJoint(op="solder", pieces=("band",), into="band", joint=joint, solder=solder_key, chips=1,
                       side="inside", margin_c=None)  # fmt: skip
    return act({"band": one}, deed)["band"]


READY = {"shape": "closed", "fluxed": True}
ROUND = {"shape": "round", "joined": {"joint": "silver-hard"}}
RUN = {"op": "work", "by": "roll", "grows_mm": 1.0, "thickness_mm": 1.4, "width_mm": 4.0, "neutral_mm": 0.7}

REFUSED: list[tuple[dict[str, Any], str, dict[str, Any], str]] = [
    ({"shape": "closed"}, "read-size", {"key": "x"}, "read on what is round"),
    ({**ROUND, "hump": True}, "read-size", {"key": "x"}, "hump"),
    ({"shape": "open"}, "square", {"ends": 1}, "only a strip"),
    (ROUND, "cut", {"to_mm": 50.0}, "finished band is not sawn into"),
    ({}, "cut", {"to_mm": 61.0}, "as long as"),
    ({}, "cut", {"to_mm": -513.0}, "leaves something"),
    ({}, "cut", {"to_mm": 4.5, "along": "width"}, "as wide as"),
    ({"shape": "closed"}, "trim", {"takes_mm": 1.0, "passes": 1, "term": "trim"}, "off a strip"),
    ({"shape": "open"}, "saw-joint", {"takes_mm": 0.2, "passes": 1, "term": "saw"}, "faces are closed"),
    ({**READY, "fitted": "inner"}, "saw-joint", {"takes_mm": 0.2, "passes": 1, "term": "saw"}, "under the blade"),
    (READY, "saw-joint", {"takes_mm": 0.0, "passes": 0, "term": "saw"}, "take something"),
    ({}, "dress", {"by": "saw", "takes_mm3": 400.0}, "leaves the piece"),
    ({}, "open", {"takes_mm": 0.2, "term": "kerf"}, "goes round"),
    ({**ROUND, "hot": True}, "open", {"takes_mm": 0.2, "term": "kerf"}, "cold"),
    (ROUND, "open", {"takes_mm": 61.0, "term": "kerf"}, "leaves the ring"),
    (ROUND, "remove", {"mm": 3.0, "part": "offcut"}, "comes out of it"),
    ({"shape": "open"}, "remove", {"mm": 60.0, "part": "offcut"}, "leaves the ring"),
    ({"shape": "open"}, "remove", {"mm": 0.0, "part": "offcut"}, "leaves the ring"),
    ({"shape": "closed", "clean": False}, "plate", {}, "finished and clean"),
    ({"bound": "steel binding wire"}, "anneal", {}, "nothing bound"),
    ({"shape": "closed"}, "close", {}, "was open"),
    ({"clean": False}, "flux", {}, "clean metal"),
    ({"bound": "steel binding wire"}, "pickle", {}, "no steel"),
    ({"hot": True}, "pickle", {}, "nothing hot"),
    ({"clean": False}, "rinse", {}, "was pickled"),
    ({}, "file-solder", {}, "on a joint"),
    ({"strain": 0.9}, "form", {"shape": "open", "strain": 0.2}, "anneal first"),
    ({"hot": True}, "form", {"shape": "open", "strain": 0.1}, "hot metal"),
    (ROUND, "form", {"shape": "open", "strain": 0.1}, "strip yet"),
    ({"shape": "closed"}, "bend", {"shape": "vee", "grows_mm": 0.0, "strain": 0.1}, "what is round"),
    ({}, "unbind", {"with": "wire"}, "was bound"),
    ({}, "quench", {"how": "either"}, "is hot"),
    ({"shape": "closed"}, "round", {}, "was soldered"),
    ({**ROUND, "hump": True}, "round", {}, "filed before"),
    ({"shape": "closed"}, "size", {"to_mm": 18.0, "by": "stretch"}, "is round"),
    (ROUND, "size", {"to_mm": 10.0, "by": "stretch"}, "gets larger"),
    (ROUND, "size", {"to_mm": 30.0, "by": "compress"}, "gets smaller"),
    (ROUND, "size", {"to_mm": 30.0, "by": "left"}, "as it closed"),
    ({"hump": True}, "fit", {"over": "inner"}, "smooth and cold"),
    ({"faces": Faces(outside="textured")}, "finish", {"face": "outside", "with": "320 paper"}, "no paper"),
    ({"faces": Faces(inside="600 paper")}, "finish", {"face": "inside", "with": "320 paper"}, "coarser one"),
    ({"faces": Faces(inside="tripoli")}, "finish", {"face": "inside", "with": "600 paper"}, "coarser one"),
    ({"hot": True}, "wash", {}, "cold by now"),
    ({"clean": False}, "hand-over", {}, "handed over finished"),
]


@pytest.mark.parametrize(("stands", "op", "fields", "said"), REFUSED, ids=lambda one: str(one)[:28])
def test_what_a_piece_is_not_ready_for_is_refused(
    stands: dict[str, Any], op: str, fields: dict[str, Any], said: str
) -> None:
    with pytest.raises(UnmetNeedError, match=said):
        do(piece(**stands), op, **fields)


@pytest.mark.parametrize(
    ("stands", "said"),
    [
        ({**READY, "shape": "open"}, "closed or fitted"),
        ({**READY, "clean": False}, "clean metal"),
        ({**READY, "fluxed": False}, "under flux"),
        ({**READY, "hot": True}, "begins cold"),
        ({**READY, "joined": {"old": "silver-hard"}}, "the old would run"),
    ],
)
def test_a_joint_is_soldered_closed_clean_fluxed_and_with_the_earlier_ones_above_it(
    stands: dict[str, Any], said: str
) -> None:
    assert solder(piece(**READY)).joined == {"joint": "silver-hard"}
    with pytest.raises(UnmetNeedError, match=said):
        solder(piece(**stands))


def test_a_lower_grade_or_a_coat_keeps_the_earlier_seam() -> None:
    old = {**READY, "joined": {"old": "silver-medium"}}
    assert solder(piece(**old), "silver-easy").heats == 1
    assert solder(piece(**old, guarded=True), "silver-medium").heats == 1
    with pytest.raises(UnmetNeedError):
        solder(piece(**old), "silver-hard")
    assert seam_margin_c([piece(**old)], "silver-easy") == 0  # 720 melts, 720 flows
    assert seam_margin_c([piece(**old)], "silver-hard") == -70
    assert seam_margin_c([piece(joined={"old": "gold-14k-yellow-hard"})], "silver-easy") is None


def test_the_metal_itself_melts_above_the_solder() -> None:
    with pytest.raises(UnmetNeedError, match="metal melts above"):
        solder(piece("gold-18k-yellow", **READY), "platinum-1500")


def test_platinum_takes_no_flux_and_stays_clean() -> None:
    made = solder(piece("platinum-950", shape="closed"), "platinum-1500")
    assert (made.clean, made.hot, made.hump, made.heats) == (True, True, True, 1)
    assert not solder(piece(**READY)).clean


@pytest.mark.parametrize(("metal", "clean"), [("sterling", False), ("fine-gold", True), ("palladium-950", True)])
def test_annealing_softens_and_darkens_what_oxidises(metal: str, clean: bool) -> None:
    made = do(piece(metal, strain=0.8), "anneal")
    assert (made.strain, made.hot, made.annealed, made.clean) == (0.0, True, True, clean)


def test_rolling_and_stretching_keep_the_metal_and_thin_the_wall() -> None:
    rolled = do(piece(), **{**RUN, "strain": 0.1})
    assert rolled.volume_mm3 == piece().volume_mm3
    band = piece(**ROUND)
    wide = do(band, "size", to_mm=band.inside_mm + 0.4, by="stretch")
    assert wide.inside_mm == pytest.approx(band.inside_mm + 0.4)
    assert wide.length_mm * wide.thickness_mm == pytest.approx(band.length_mm * band.thickness_mm)
    assert wide.volume_mm3 == band.volume_mm3
    assert wide.width_mm == band.width_mm


def test_pieces_that_are_soldered_together_weigh_what_they_weighed() -> None:
    inner = piece(**ROUND, fluxed=True)
    gold = piece("gold-18k-yellow", shape="closed", guarded=True, count=2)
    deed = SolderJoint(op="solder", pieces=("inner", "gold"), into="ring", joint="together", solder="silver-medium",
                       chips=9, side="top", margin_c=None)  # fmt: skip
    made = act({"inner": inner, "gold": gold, "plate": piece()}, deed)
    assert list(made) == ["ring", "plate"]
    assert made["ring"].mass_g == pytest.approx(inner.mass_g + 2 * gold.mass_g)
    assert made["ring"].inside_diameter_mm == pytest.approx(inner.inside_mm)
    assert made["ring"].joined == {"joint": "silver-hard", "together": "silver-medium"}


def test_an_unmet_need_names_its_step() -> None:
    with pytest.raises(UnmetNeedError) as problem:
        work(
            {"band": piece()},
            [("fine", [Fit(op="fit", piece="band", over="x")]), ("late", [OnPiece(op="close", piece="band")])],
        )
    assert problem.value.field == "late"
    assert problem.value.message == "close: what is closed was open"


def test_a_bend_grows_strains_and_takes_its_share_of_the_round() -> None:
    band = piece(**ROUND, strain=0.1)
    bent = do(band, "bend", shape="vee", grows_mm=0.5, strain=0.4, times=1.1)
    assert (bent.length_mm, bent.strain, bent.times) == (pytest.approx(60.5), pytest.approx(0.5), pytest.approx(1.1))
    assert bent.inside_diameter_mm == pytest.approx(60.5 / 1.1 / 3.14159265 - 1.5)
    assert (
        do(bent, "bend" if bent.shape == "round" else "spread", shape="vee", grows_mm=0.0, strain=0.1).times
        == bent.times
    )


def test_what_is_sawn_off_a_shape_is_gone_and_nothing_is_gone_where_nothing_is_sawn() -> None:
    assert do(piece(), "dress", by="saw", takes_mm3=10.0).volume_mm3 == pytest.approx(350.0)
    assert do(piece(), "dress", by="saw", takes_mm3=0.0).volume_mm3 == pytest.approx(360.0)


def test_working_a_route_answers_how_the_pieces_stand_after_each_step() -> None:
    quiet, formed = work(
        {"band": piece()},
        [("look", []), ("form", [OPS["form"](op="form", piece="band", shape="open", strain=0.1)])],
    )
    assert quiet["band"] == piece()
    assert (formed["band"].shape, formed["band"].strain) == ("open", 0.1)


@pytest.mark.parametrize("face", ["inside", "edges", "outside"])
def test_a_face_is_textured_or_finished_alone(face: str) -> None:
    struck = do(piece(), "texture", face=face, where="all").faces
    sanded = do(piece(), "finish", face=face, **{"with": "320 paper"}).faces
    for one in ("inside", "edges", "outside"):
        assert getattr(struck, one) == ("textured" if one == face else "as bought")
        assert getattr(sanded, one) == ("320 paper" if one == face else "as bought")
