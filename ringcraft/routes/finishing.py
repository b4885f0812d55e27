"""The steps of a finish: each paper and compound in its order, on every face or by what each face is to be."""

from __future__ import annotations

import re
from collections.abc import Iterator

from ringcraft.metals import Metal
from ringcraft.planning.surfaces import ONE_WAY, grid, grit_words
from ringcraft.routes.facts import Facts, PaperFacts
from ringcraft.units import capital


def finish_schedule(metal: Metal, wide: bool) -> tuple[str, ...]:
    """The papers and compounds for a metal, in order; a wide band gets one more paper."""
    return metal.of_family.wide_papers if wide else metal.of_family.papers


def paper_rows(facts: Facts) -> Iterator[tuple[str, PaperFacts]]:
    """The steps of a finish: each paper or compound with its key and what is said of it."""
    if facts.schedules:
        yield from _by_faces(facts)
        return
    before = ""
    for paper in facts.papers:
        aside, is_paper = "outside" in facts.textured, "paper" in paper
        given = PaperFacts(
            paper=capital(paper),
            paper_key=paper,
            paper_before=before,
            later_paper=bool(before),
            first_plain=not before and not aside,
            paper_aside=aside and is_paper,
            outside_too=not aside or not is_paper,
            touched=aside and not is_paper,
            is_paper=is_paper,
            is_compound=not is_paper,
            by_faces=False,
            first_by_faces=False,
            faces_words="",
            in_inside=True,
            in_edges=True,
        )
        yield _finish_key(paper), given
        before = paper


def _finish_key(paper: str) -> str:
    return "finish-" + re.sub(r"[^a-z0-9]+", "-", paper.lower()).strip("-")


def _by_faces(facts: Facts) -> Iterator[tuple[str, PaperFacts]]:
    """The finish where each face has its own surface: a step for each row of the grid of faces and grits."""
    before: dict[str, str] = {}
    for one in grid(facts.schedules, facts.textured, facts.finish_by):
        last = {before.get(face, "") for face in one.faces if face not in one.touched}
        is_paper, was = "paper" in one.with_, next(iter(last)) if len(last) == 1 else ""
        given = PaperFacts(
            paper=capital(one.with_),
            paper_key=one.with_,
            paper_before=was,
            later_paper=bool(was) and one.with_ not in ONE_WAY,
            first_plain=False,
            paper_aside=False,
            outside_too="outside" in one.faces,
            touched=False,
            is_paper=is_paper,
            is_compound=not is_paper and one.with_ not in ONE_WAY,
            by_faces=True,
            first_by_faces=not before,
            faces_words=grit_words(one),
            in_inside="inside" in one.faces,
            in_edges="edges" in one.faces,
        )
        before |= dict.fromkeys(one.faces, one.with_)
        key = _finish_key(one.with_) + (f"-{one.faces[0]}" if facts.finish_by == "face" else "")
        yield key, given
