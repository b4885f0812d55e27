"""Who may do what: a new endpoint costs a row here, and one that is missing fails."""

import base64
import json
from datetime import date
from typing import Any

import pytest
from django.test import Client
from django.utils.timezone import now

from ringcraft.money.prices import Prices
from ringcraft.resize.plan import read_resize
from ringcraft.styles import read_ring  # noqa: F401  (the app's types must load before the schema is read)
from ringcraft.works import RESIZE as RESIZE_WORK
from tests.joints import in_flame, seen
from tests.orders import order
from tests.resizes import came_in, picture
from tests.stock import HALF_ROUND, WIRE, put_in, scrap
from tests.workshop.conftest import PASSWORD, Shop
from workshop.api import api
from workshop.customers.actions import FingerDetails, create_customer, measure_finger
from workshop.gauges.actions import GaugeDetails, calibrate, create_gauge
from workshop.jobs.actions import create_job, tick_step
from workshop.jobs.details import JobDetails
from workshop.jobs.estimates import keep_estimate
from workshop.jobs.files import take_out
from workshop.jobs.photos import add_photo
from workshop.people.models import OpenSession, User
from workshop.stock.actions import ByHand, ItemWords, move_by_hand
from workshop.stock.cuts import Selection, propose
from workshop.worth.models import SeenPrice

GAUGE: dict[str, Any] = {
    "scale": "us",
    "readings": [
        {"mark": "4", "diameter_mm": 14.93},
        {"mark": "7", "diameter_mm": 17.38},
        {"mark": "10", "diameter_mm": 19.83},
    ],
}
CHART = [{"size": f"US {n}", "inside_diameter_mm": round(11.6332 + 0.8128 * n, 2)} for n in (5, 7, 9)]
RESIZE = {"work": "resize", "title": "to size", "order": came_in(), "version": 1}
PHOTO = {"side": "before", "image": picture()}
JOB = {"title": "band", "order": order(), "version": 1}
CUT = {"stock": [{"id": "a", "length_mm": 90}], "blanks": [{"id": "b", "length_mm": 50}]}
MILL = {"metal": "sterling", "start": {"thickness_mm": 5}, "target": {"thickness_mm": 3}}
THIN = {
    "bar": {"width_mm": 4, "thickness_mm": 3},
    "middle": {"width_mm": 4, "thickness_mm": 2},
    "final_length_mm": 60,
}
GROUP = "sterling:half-round:4.00x1.80:0.00:0"
BAR = {"kind": "bar", "metal": "sterling", "profile": "square", "thickness_mm": 5, "mass_g": 7}
# method, path, body, what the owner, the bench, the counter, the owner of another workshop and nobody get
TABLE: list[tuple[str, str, Any, int, int, int, int, int]] = [
    ("get", "/session", None, 200, 200, 200, 200, 200),
    ("get", "/catalogue", None, 200, 200, 200, 200, 401),
    ("post", "/plan/size", {"text": "7"}, 200, 200, 200, 200, 401),
    ("post", "/plan/ring", order(), 200, 200, 200, 200, 401),
    ("get", "/bench", None, 200, 200, 200, 200, 401),
    ("get", "/jobs", None, 200, 200, 200, 200, 401),
    ("post", "/jobs", JOB, 201, 201, 201, 201, 401),
    ("post", "/jobs/import", "FILE", 201, 201, 201, 201, 401),
    ("get", "/jobs/find?q=7", None, 200, 200, 200, 200, 401),
    ("get", "/jobs/{job_id}/anew", None, 200, 200, 200, 404, 401),
    ("put", "/jobs/{job_id}/anew", {"version": 1}, 200, 200, 200, 404, 401),
    ("put", "/jobs/{job_id}/place", {"place": "setter", "version": 1}, 200, 200, 200, 404, 401),
    ("get", "/jobs/{job_id}/history", None, 200, 200, 200, 404, 401),
    ("get", "/jobs/{job_id}", None, 200, 200, 200, 404, 401),
    ("put", "/jobs/{job_id}", JOB, 200, 200, 200, 404, 401),
    ("put", "/jobs/{job_id}/steps/{key}", {"done": True}, 200, 200, 200, 404, 401),
    ("put", "/jobs/{job_id}/measures/{key}", {"text": "1.8"}, 200, 200, 200, 404, 401),
    ("put", "/jobs/{job_id}/closed", {"closed": True}, 200, 200, 200, 404, 401),
    ("get", "/jobs/{job_id}/file", None, 200, 200, 200, 404, 401),
    ("get", "/jobs/{job_id}/blank.pdf", None, 200, 200, 200, 404, 401),
    ("get", "/jobs/{job_id}/blank.svg", None, 200, 200, 200, 404, 401),
    ("get", "/jobs/{job_id}/blank.dxf", None, 200, 200, 200, 404, 401),
    ("get", "/jobs/{job_id}/ticket.pdf", None, 200, 200, 200, 404, 401),
    ("post", "/plan/resize", came_in(), 200, 200, 200, 200, 401),
    ("post", "/jobs", RESIZE, 201, 201, 201, 201, 401),
    ("put", "/jobs/{numbers}", RESIZE, 200, 200, 200, 404, 401),
    ("get", "/jobs/by-number/{number}", None, 200, 200, 200, 404, 401),
    ("get", "/slips/{numbers}.pdf", None, 200, 200, 200, 404, 401),
    ("get", "/jobs/{job_id}/estimate", None, 200, 403, 200, 404, 401),
    ("post", "/jobs/{job_id}/estimate", {}, 201, 403, 201, 404, 401),
    ("get", "/jobs/{job_id}/estimate-{nth}.pdf", None, 200, 403, 200, 404, 401),
    ("get", "/batch", None, 200, 200, 200, 200, 401),
    ("post", "/jobs/{job_id}/photos", PHOTO, 201, 201, 201, 404, 401),
    ("get", "/jobs/{job_id}/photos/{photo_id}", None, 200, 200, 200, 404, 401),
    ("delete", "/jobs/{job_id}/photos/{photo_id}", None, 200, 200, 403, 404, 401),
    ("post", "/plan/compare", {"this": order(), "other": order("square")}, 200, 200, 200, 200, 401),
    ("post", "/plan/shorthand", {"text": "us 7, wishbone 75"}, 200, 200, 200, 200, 401),
    ("post", "/plan/gauge", GAUGE, 200, 200, 200, 200, 401),
    ("post", "/plan/chart", {"rows": CHART}, 200, 200, 200, 200, 401),
    ("post", "/plan/joint", seen(), 200, 200, 200, 200, 401),
    ("post", "/plan/heat", in_flame(), 200, 200, 200, 200, 401),
    ("get", "/jobs/{job_id}/joints/{key}", None, 200, 200, 200, 404, 401),
    ("put", "/jobs/{job_id}/joints/{key}", {"seen": {"gap_mm": 0.04}}, 200, 200, 200, 404, 401),
    ("post", "/plan/cut", CUT, 200, 200, 200, 200, 401),
    ("post", "/plan/mill", MILL, 200, 200, 200, 200, 401),
    ("post", "/plan/thin", THIN, 200, 200, 200, 200, 401),
    ("post", "/plan/melt", {"metal": "sterling", "blanks": [{"volume_mm3": 300}]}, 200, 200, 200, 200, 401),
    (
        "post",
        "/plan/alloy",
        {"parts": [{"fineness": 750, "mass_g": 9}], "target_fineness": 585},
        200,
        200,
        200,
        200,
        401,
    ),
    ("get", "/stock", None, 200, 200, 200, 200, 401),
    ("post", "/stock", {"piece": WIRE}, 201, 201, 403, 201, 401),
    ("get", "/stock/items.csv", None, 200, 403, 403, 200, 401),
    ("post", "/stock/items.csv", {"text": "kind,metal,mass_g\nscrap,sterling,4"}, 201, 201, 403, 201, 401),
    ("get", "/stock/movements.csv", None, 200, 403, 403, 200, 401),
    ("get", "/stock/prices.csv", None, 200, 403, 403, 200, 401),
    ("post", "/stock/prices.csv", {"text": "metal,price\nsterling,1.2"}, 200, 403, 403, 200, 401),
    ("post", "/stock/melts", "MELT", 201, 201, 403, 422, 401),
    ("post", "/stock/back/{batch}", {}, 200, 200, 403, 422, 401),
    ("get", "/stock/{item_id}", None, 200, 200, 200, 404, 401),
    ("put", "/stock/{item_id}", {"name": "coil", "version": 1}, 200, 200, 403, 404, 401),
    ("post", "/stock/{item_id}/moves", {"kind": "used", "length_mm": 3}, 200, 200, 403, 404, 401),
    ("get", "/stock/groups", None, 200, 200, 200, 200, 401),
    ("post", "/stock/plan", {"group": GROUP}, 200, 200, 200, 422, 401),
    ("post", "/stock/cuts", "CUTS", 201, 201, 403, 422, 401),
    ("get", f"/stock/plan.pdf?group={GROUP}", None, 200, 200, 200, 422, 401),
    ("post", "/stock/inserts", {"metal": "sterling", **HALF_ROUND, "need_mm": 4}, 200, 200, 200, 200, 401),
    ("get", "/jobs/{job_id}/metal", None, 200, 200, 200, 404, 401),
    ("get", "/gauges", None, 200, 200, 200, 200, 401),
    ("post", "/gauges", {"name": "peg", "kind": "mandrel", "scale": "us"}, 201, 201, 403, 201, 401),
    ("post", "/conversion", {"text": "7"}, 200, 200, 200, 200, 401),
    ("get", "/conversion/page.pdf?text=7", None, 200, 200, 200, 200, 401),
    ("get", "/conversion/page.pdf?text=7&gauge_id={gauge_id}", None, 200, 200, 200, 404, 401),
    ("post", "/charts/read", {"text": "US 7;17.3"}, 200, 200, 200, 200, 401),
    ("post", "/charts", {"name": "tin chart", "chart": {"rows": CHART}}, 201, 201, 403, 201, 401),
    ("get", "/gauges/{gauge_id}", None, 200, 200, 200, 404, 401),
    (
        "put",
        "/gauges/{gauge_id}",
        {"name": "new", "kind": "ruler", "scale": "us", "version": 1},
        200,
        200,
        403,
        404,
        401,
    ),
    ("post", "/gauges/{gauge_id}/calibrations", {"readings": GAUGE["readings"]}, 201, 201, 403, 404, 401),
    ("get", "/customers", None, 200, 200, 200, 200, 401),
    ("post", "/customers", {"name": "Somebody"}, 201, 201, 201, 201, 401),
    ("get", "/customers/{customer_id}", None, 200, 200, 200, 404, 401),
    ("put", "/customers/{customer_id}", {"name": "Other", "version": 1}, 200, 200, 200, 404, 401),
    ("post", "/customers/{customer_id}/fingers", {"which": "left", "text": "7"}, 201, 201, 201, 404, 401),
    ("delete", "/customers/{customer_id}/fingers/{finger_id}", None, 200, 200, 403, 404, 401),
    ("get", "/ways", None, 200, 200, 200, 200, 401),
    ("put", "/ways/workshop", {"home_scale": "uk", "version": 1}, 200, 403, 403, 200, 401),
    ("put", "/ways/mine", {"units": "in", "version": 1}, 200, 200, 200, 200, 401),
    ("put", "/session/password", {"now": PASSWORD, "new": "another long enough word"}, 200, 200, 200, 200, 401),
    ("post", "/session/welcome", {"link": "1.none", "password": "a long enough word"}, 422, 422, 422, 422, 422),
    ("delete", "/session", None, 200, 200, 200, 200, 401),
    ("post", "/plan/ring?ways_of={job_id}", {**order(), "ways": "shop"}, 200, 200, 200, 404, 401),
    ("post", "/plan/judge", {"order": order(), "stage": "round", "reading_mm": 17.6}, 200, 200, 200, 200, 401),
    ("get", "/stock/missing", None, 200, 200, 200, 200, 401),
    ("get", "/stock/{item_id}/moves", None, 200, 200, 200, 404, 401),
    ("put", "/jobs/{job_id}/solder", {"take": True}, 200, 200, 200, 404, 401),
    ("get", "/jobs/{job_id}/solder", None, 200, 200, 200, 404, 401),
    ("get", "/jobs/{job_id}/readings", None, 200, 200, 200, 404, 401),
    ("put", "/jobs/{job_id}/readings", {"key": "ring-size", "state": "round", "text": "7"}, 200, 200, 200, 404, 401),
    ("get", "/logbook", None, 200, 200, 200, 200, 401),
    ("get", "/logbook/learnt", None, 200, 200, 200, 200, 401),
    ("put", "/logbook/learnt/{group}", {"mean_mm": 0.4, "version": 1}, 422, 403, 403, 422, 401),
    ("put", "/logbook/spread/{kind}", {"sd_mm": 0.15, "version": 1}, 200, 200, 200, 200, 401),
    ("get", "/logbook/rings.csv", None, 200, 403, 403, 200, 401),
    ("get", "/logbook/rings.json", None, 200, 403, 403, 200, 401),
    ("get", "/logbook/{job_id}", None, 200, 200, 200, 404, 401),
    ("post", "/logbook/diagnose", {"order": order(), "cut_mm": 58}, 200, 200, 200, 200, 401),
    ("get", "/logbook/{job_id}/why", None, 422, 422, 422, 404, 401),
    ("put", "/logbook/{job_id}/cause", {"keys": ["gap-filled"]}, 422, 422, 422, 404, 401),
    ("post", "/plan/part", {"part": "seat-ring", "inside_mm": 4, "wire_mm": 0.8}, 200, 200, 200, 200, 401),
    ("post", "/jobs/{job_id}/looked", {"found": ""}, 422, 422, 422, 404, 401),
    ("get", "/glossary", None, 200, 200, 200, 200, 401),
    ("get", "/worth", None, 200, 403, 403, 200, 401),
    ("post", "/worth/ring", {"order": order(), "metals": ["sterling"]}, 200, 403, 200, 200, 401),
    (
        "post",
        "/worth/ring?ways_of={job_id}",
        {"order": {**order(), "ways": "shop"}, "metals": ["copper"]},
        200,
        403,
        200,
        404,
        401,
    ),
    ("post", "/worth/prices/{price_id}", {"take": True}, 200, 403, 403, 404, 401),
    ("post", "/plan/route", {"style": "plain-band"}, 200, 200, 200, 200, 401),
    ("post", "/plan/practice", {"exercise": "joint"}, 200, 200, 200, 200, 401),
    ("get", "/jobs/{job_id}/practice", None, 422, 422, 422, 404, 401),  # a ring is no practice
    ("put", "/jobs/{job_id}/practice/hand", {"sd_mm": 0.1}, 422, 422, 422, 404, 401),
    ("post", "/plan/day", {"people": [], "jobs": []}, 200, 200, 200, 200, 401),
    ("get", "/day", None, 200, 200, 200, 200, 401),
    ("post", "/day/settle", {}, 200, 200, 200, 200, 401),
    ("get", "/day/pulse", None, 200, 200, 200, 200, 401),
    ("post", "/day/take", "STEP", 200, 200, 200, 404, 401),
    ("post", "/day/give", "STEP", 200, 200, 200, 404, 401),
    ("put", "/day/pins", "STEP", 200, 200, 200, 404, 401),
    ("post", "/day/waits/{timer_id}", {}, 200, 200, 200, 404, 401),
    ("post", "/day/ready", "JOB", 200, 200, 200, 404, 401),
    ("get", "/day/minutes", None, 200, 200, 200, 200, 401),
    ("get", "/day/calendar", None, 200, 200, 200, 200, 401),
    ("post", "/day/calendar", {}, 200, 200, 200, 200, 401),
    ("delete", "/day/calendar", None, 200, 200, 200, 200, 401),
    ("put", "/day/gone", "PERSON", 200, 200, 200, 422, 401),
    ("delete", "/customers/{customer_id}", None, 200, 403, 403, 404, 401),
    ("delete", "/people/{person_id}", None, 200, 403, 403, 404, 401),
    ("get", "/keeping", None, 200, 403, 403, 200, 401),
    ("get", "/keeping/workshop.zip", None, 200, 403, 403, 200, 401),
    ("get", "/first", None, 200, 200, 200, 200, 401),
    (
        "post",
        "/session/shop",
        {"link": "new.x", "shop": "a", "username": "b", "password": PASSWORD},
        422,
        422,
        422,
        422,
        422,
    ),
    ("post", "/session/code", {"code": "123456"}, 401, 401, 401, 401, 401),
    ("get", "/account", None, 200, 200, 200, 200, 401),
    ("delete", "/account/sessions", None, 200, 200, 200, 200, 401),
    ("delete", "/account/sessions/{session_id}", None, 200, 404, 404, 404, 401),
    ("post", "/account/factor", {"password": PASSWORD}, 200, 200, 200, 200, 401),
    ("put", "/account/factor", {"code": "000000"}, 422, 422, 422, 422, 401),
    ("post", "/account/factor/codes", {"password": PASSWORD}, 404, 404, 404, 404, 401),
    ("post", "/account/factor/off", {"password": PASSWORD}, 200, 200, 200, 200, 401),
    ("get", "/people", None, 200, 403, 403, 200, 401),
    ("post", "/people", "NEWCOMER", 201, 403, 403, 201, 401),
    ("put", "/people/{person_id}/role", {"role": "counter"}, 200, 403, 403, 404, 401),
    ("put", "/people/{person_id}/active", {"active": False}, 200, 403, 403, 404, 401),
    ("post", "/people/{person_id}/link", {}, 200, 403, 403, 404, 401),
    ("delete", "/people/{person_id}/sessions", None, 200, 403, 403, 404, 401),
]
KEYS = {"steps": "square-end", "measures": "stock-thickness", "joints": "inspect"}


def things(shop: Shop) -> dict[str, Any]:
    """A calibrated gauge and a customer with a finger, of this shop."""
    gauge = create_gauge(shop.actor, GaugeDetails("secret band mandrel", "mandrel", "us"))
    calibrate(shop.actor, gauge, GAUGE["readings"])
    customer = create_customer(shop.actor, "secret band wearer")
    resize = create_job(shop.actor, JobDetails("secret band to size"), read_resize(came_in()), RESIZE_WORK)
    for key in ("look-over", "true-now", "to-size", "flatten", "finish-cold", "wash-sizing"):
        tick_step(shop.actor, resize, key, True)
    details = FingerDetails("left", "7", date(2026, 5, 4), gauge)
    finger = measure_finger(shop.actor, customer, details, "us")
    item, crumbs = put_in(shop.actor, ItemWords(name="secret band coil")), scrap(shop.actor, 30)
    move_by_hand(shop.actor, crumbs.pk, ByHand("used", mass_g=1))
    price = SeenPrice.objects.create(
        workshop=shop.workshop, metal="gold", per_gram=99, currency="EUR", at=now(), state="asked"
    )
    return {
        "item_id": item.pk,
        "scrap_id": crumbs.pk,
        "batch": crumbs.movements.get(kind="used").batch,
        "gauge_id": gauge.pk,
        "customer_id": customer.pk,
        "finger_id": finger.pk,
        "numbers": resize.pk,
        "number": resize.number,
        "group": "half-round/silver",
        "kind": "cutting",
        "price_id": price.pk,
        "person_id": User.objects.create_user(f"mate of {shop.user.username}", workshop=shop.workshop).pk,
        "session_id": OpenSession.objects.create(user=shop.user, session_key="elsewhere").pk,
        "timer_id": resize.steps_done.get(key="wash-sizing").pk,
    }


def sent_of(sent: Any, shop: Shop, job: Any, mine: dict[str, Any]) -> Any:
    """What is sent, where it depends on what this shop has."""
    if sent == "FILE":
        return take_out(job)
    if sent == "CUTS":
        return {"group": GROUP, "key": propose(shop.actor, Selection(GROUP)).key}
    if sent == "NEWCOMER":
        return {"username": "newcomer", "name": "New Comer", "role": "bench"}
    if sent == "STEP":
        return {"job_id": job.pk, "key": "measure-stock"}
    if sent == "PERSON":
        return {"person_id": shop.user.pk, "gone": True}
    if sent == "JOB":
        return {"job_id": job.pk}
    if sent == "MELT":
        return {"into": [{"item_id": mine["scrap_id"], "mass_g": 8}], "poured": [BAR]}
    return sent


def test_every_endpoint_has_its_row() -> None:
    known = {
        (method, path.split("?")[0].replace("{numbers}", "{job_id}") if "slips" not in path else path)
        for method, path, *_ in TABLE
    } | {("post", "/session")}
    schema = api.get_openapi_schema()
    found = {(method, path.removeprefix("/api")) for path, item in schema["paths"].items() for method in item}
    assert found == known


@pytest.mark.parametrize(
    ("method", "path", "sent", "owner", "bench", "counter", "stranger", "nobody"),
    TABLE,
    ids=["-".join(str(one)[:30] for one in (*row[:4], *row[6:])) for row in TABLE],
)
def test_who_gets_what(
    ours: Shop,
    theirs: Shop,
    method: str,
    path: str,
    sent: Any,
    owner: int,
    bench: int,
    counter: int,
    stranger: int,
    nobody: int,
) -> None:
    job = ours.job("secret band")
    part = path.split("/")[3] if path.count("/") > 2 else ""
    photo = add_photo(ours.actor, job, "before", base64.b64decode(picture())).photos.get()
    mine = things(ours) | {"nth": keep_estimate(ours.actor, job, Prices()).nth}
    address = path.format(job_id=job.pk, key=KEYS.get(part, ""), photo_id=photo.pk, **mine)
    body = sent_of(sent, ours, job, mine)
    before = take_out(job)
    outsider = Shop(theirs.workshop, theirs.user, theirs.client)
    answer = outsider.send(method, address, {"username": "stray"} if sent == "NEWCOMER" else body)
    assert answer.status_code == stranger
    assert "secret band" not in b"".join(answer).decode(errors="replace") or sent == "FILE"
    assert Shop(ours.workshop, ours.user, Client()).send(method, address, body).status_code == nobody
    job.refresh_from_db()
    assert take_out(job) == before
    assert ours.send(method, address, body).status_code == owner


@pytest.mark.parametrize(
    ("method", "path", "sent"), [row[:3] for row in TABLE if row[0] != "get"] + [("post", "/session", {})]
)
def test_nothing_is_changed_without_the_csrf_token(ours: Shop, method: str, path: str, sent: Any) -> None:
    strict = Client(enforce_csrf_checks=True)
    strict.force_login(ours.user, backend="django.contrib.auth.backends.ModelBackend")
    body = {"username": "ours", "password": PASSWORD} if path == "/session" else sent or {}
    address = path.format(job_id=ours.job().pk, key="square-end", photo_id=1, nth=1, **things(ours))
    answer = getattr(strict, method)(f"/api{address}", json.dumps(body), content_type="application/json")
    assert answer.status_code == 403
