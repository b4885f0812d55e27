"""Styles over the API and a real MariaDB: what can be chosen, planned, kept, worked and compared."""

from typing import Any

import pytest
from django.utils import timezone

from ringcraft.styles import STYLES
from ringcraft.styles.words import EVERY_RING
from tests.orders import order, style_order, style_plan
from tests.workshop.conftest import Shop
from workshop.core.models import Event
from workshop.jobs.models import Job

styles = pytest.mark.parametrize("style", STYLES)


def keep(shop: Shop, style: str, **changes: Any) -> dict[str, Any]:
    answer = shop.send("post", "/jobs", {"title": f"a {style}", "order": style_order(style, **changes)})
    assert answer.status_code == 201, answer.json()
    made: dict[str, Any] = answer.json()
    return made


def test_the_catalogue_says_all_that_a_sentence_needs(ours: Shop) -> None:
    said = {one["key"]: one for one in ours.send("get", "/catalogue").json()["styles"]}
    assert set(said) == set(STYLES)
    for key, style in STYLES.items():
        assert said[key]["title"] == style.title
        both = (*style.words, *EVERY_RING)
        assert [word["field"] for word in said[key]["words"]] == [word.field for word in both]
        assert said[key]["begins"]["stock.profile"] in (style.profiles or [style.first.profile])
        for word in said[key]["words"]:
            kinds = {
                "length",
                "number",
                "count",
                "text",
                "lines",
                "choice",
                "stock",
                "one-of",
                "list",
                "signed",
                "metal",
                "yes",
                "chosen",
            }
            assert word["kind"] in kinds
            if word["kind"] == "choice":
                assert word["begins"][word["field"]] in {choice["key"] for choice in word["choices"]}


@styles
def test_the_api_plans_what_ringcraft_plans(ours: Shop, style: str) -> None:
    answer = ours.send("post", "/plan/ring", style_order(style))
    assert answer.status_code == 200
    made, plan = answer.json(), style_plan(style)
    assert [blank["cut_text"] for blank in made["blanks"]] == [blank.cut_text for blank in plan.blanks]
    assert made["what_if"][0]["title"] == plan.what_if[0].title
    own = set(STYLES[style].answer.__dataclass_fields__)
    assert own == set(made)


@pytest.mark.sweep
@styles
def test_a_job_of_any_style_is_kept_read_and_stands_on_the_bench(ours: Shop, style: str) -> None:
    made = keep(ours, style)
    again = ours.send("get", f"/jobs/{made['id']}").json()
    assert again["plan"] == made["plan"]
    assert again["now"] is None
    ring = ours.send("get", "/bench").json()["rings"][0]
    assert ring["standing"]["station"] == made["plan"]["route"][0]["station"]
    assert ring["standing"]["shape"] == "strip"
    assert ring["cut_mm"] == pytest.approx(made["plan"]["blanks"][0]["cut_length_mm"], abs=1e-4)


@pytest.mark.sweep
@styles
def test_every_step_can_be_ticked_to_the_end(ours: Shop, style: str) -> None:
    made = keep(ours, style)
    for step in made["plan"]["route"]:
        answer = ours.send("put", f"/jobs/{made['id']}/steps/{step['key']}", {"done": True})
        assert answer.status_code == 200
    assert answer.json()["standing"]["next_key"] == ""
    shape = answer.json()["standing"]["shape"]
    assert shape == ("closed" if STYLES[style].closes else "open")
    assert Event.objects.filter(kind="job", thing_id=made["id"], what="ticked").count() == len(made["plan"]["route"])


def test_another_style_is_another_plan_of_the_same_job(ours: Shop) -> None:
    made = keep(ours, "plain-band")
    body = {"title": "now a wishbone", "order": style_order("wishbone"), "version": made["version"]}
    answer = ours.send("put", f"/jobs/{made['id']}", body)
    assert answer.status_code == 200
    assert answer.json()["plan"]["style"] == "wishbone"
    assert answer.json()["version"] == made["version"] + 1
    stale = ours.send("put", f"/jobs/{made['id']}", {**body, "title": "mine"})
    assert stale.status_code == 409
    assert Job.objects.get(pk=made["id"]).title == "now a wishbone"


def test_a_plan_kept_by_an_older_engine_keeps_its_figures(ours: Shop) -> None:
    made = keep(ours, "stamped")
    job = Job.objects.get(pk=made["id"])
    late = ("ring", "what_if", "plan_version", "work")
    job.plan = {key: value for key, value in job.plan.items() if key not in late}
    job.plan["blanks"][0]["cut_text"] = "59.9"
    job.save()
    again = ours.send("get", f"/jobs/{made['id']}")
    assert again.status_code == 200
    assert again.json()["plan"]["blanks"][0]["cut_text"] == "59.9"
    assert again.json()["now"] is None
    for paper in ("blank.pdf", "blank.svg", "blank.dxf", "ticket.pdf"):
        assert ours.send("get", f"/jobs/{made['id']}/{paper}").status_code == 200


@pytest.mark.parametrize(
    ("changes", "field"),
    [
        ({"style": "moebius"}, "style"),
        ({"style": "wishbone", "v_angle_deg": 5}, "v_angle_deg"),
        ({"style": "wishbone"}, "v_angle_deg"),
        ({"style": "stack", "outer": [{"stock": {"profile": "d"}}]}, "outer.0.stock.thickness_mm"),
        ({"style": "stamped", "lines": ["💍"], "letter_height_mm": 2}, "lines"),
        ({"style": "tapered", "middle": {"width_mm": 4}}, "middle.thickness_mm"),
        ({"style": "plain-band", "v_angle_deg": 75}, "v_angle_deg"),
        ({"spread": {"truing_mm": "wide"}}, "spread.truing_mm"),
        ({"costly_share": "150 %"}, "costly_share"),
    ],
)
def test_a_mistake_of_a_style_stands_at_its_field(ours: Shop, changes: dict[str, Any], field: str) -> None:
    answer = ours.send("post", "/plan/ring", {**order(), **changes})
    assert answer.status_code == 422
    assert field in [error["field"] for error in answer.json()["errors"]]
    assert all(error["message"] for error in answer.json()["errors"])


def test_two_orders_are_compared_and_a_mistake_says_whose(ours: Shop) -> None:
    answer = ours.send("post", "/plan/compare", {"this": order(), "other": order("square")})
    assert answer.status_code == 200
    assert answer.json()["says"][0].split()[1] == "mm"
    bad = ours.send("post", "/plan/compare", {"this": order(), "other": style_order("shank", gap_mm=90)})
    assert bad.status_code == 422
    assert bad.json()["errors"][0]["field"] == "other.gap_mm"


def test_a_line_is_read_with_its_mistakes_and_never_a_failure(ours: Shop) -> None:
    good = ours.send("post", "/plan/shorthand", {"text": "uk n, wishbone 75, d 3x2, gold 9k yellow"}).json()
    assert good["mistakes"] == []
    assert good["fields"]["v_angle_deg"] == "75"
    bad = ours.send("post", "/plan/shorthand", {"text": "uk n, wishbon"}).json()
    assert bad["mistakes"][0]["start"] == 6
    for ugly in ("", "🔥" * 500, "x" * 100_000):
        assert ours.send("post", "/plan/shorthand", {"text": ugly}).status_code == 200
    assert ours.send("post", "/plan/shorthand", {"text": 7}).status_code == 422


def test_the_bench_orders_styles_with_long_waits_by_what_is_left(ours: Shop) -> None:
    soon = timezone.now() + timezone.timedelta(hours=20)
    for style in ("plain-band", "channel-inlay"):
        ours.send("post", "/jobs", {"title": style, "due": soon.isoformat(), "order": style_order(style)})
    bench = ours.send("get", "/bench").json()
    slack = {
        ring["title"]: place
        for ring in bench["rings"]
        for place in bench["day"]["order"]
        if place["id"] == ring["id"]
    }
    # the inlay's glue cures twelve hours: it has less to spare and comes first
    assert slack["channel-inlay"]["slack_min"] < slack["plain-band"]["slack_min"] - 700
    assert bench["day"]["now_name"] == "channel-inlay"


def test_a_sentence_chooses_from_lists_that_the_catalogue_has(ours: Shop) -> None:
    """The words of a ring that came in, with units and placeholders as the shop types them."""
    catalogue = ours.send("get", "/catalogue").json()
    words = [word for part in catalogue["sentences"]["resize"] for word in part]
    listed = {one["listed"] for word in words for one in (word, *word["parts"])} - {"", "methods"}
    assert listed == {"ring_metals", "stones", "settings", "features", "blades", "parts", "part_metals"}
    assert all(catalogue[name] for name in listed)
    usual = {word["field"]: word["placeholder"] for word in words}
    assert usual["join.faces_mm"] == "0.05"
    ours.workshop.preferences = {"units": "in"}
    ours.workshop.save()
    catalogue = ours.send("get", "/catalogue").json()
    inches = {word["field"]: word["placeholder"] for part in catalogue["sentences"]["resize"] for word in part}
    assert inches["join.faces_mm"] == "0.002"
