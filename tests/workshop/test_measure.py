import io
from typing import Any

import pdfplumber
import pytest

from tests.workshop.conftest import Shop
from tests.workshop.test_who import CHART, GAUGE
from workshop.gauges.models import Calibration, Gauge


def gauge(shop: Shop, name: str = "peg", calibrated: bool = True) -> dict[str, Any]:
    made = shop.send("post", "/gauges", {"name": name, "kind": "mandrel", "scale": "us"}).json()
    if calibrated:
        body = {"readings": GAUGE["readings"]}
        made = shop.send("post", f"/gauges/{made['id']}/calibrations", body).json()
    kept: dict[str, Any] = made
    return kept


def test_recalibrations_are_kept_and_the_newest_holds(ours: Shop) -> None:
    first = gauge(ours)
    shifted = [{**one, "diameter_mm": one["diameter_mm"] + 0.2} for one in GAUGE["readings"]]
    body = {"readings": shifted, "zero_mm": "0.05"}
    second = ours.send("post", f"/gauges/{first['id']}/calibrations", body).json()
    assert len(second["calibrations"]) == 2
    newest, older = (one["fit"]["offset_mm"] for one in second["calibrations"])
    assert newest - older == pytest.approx(0.15)
    assert second["request"]["readings"][0]["diameter_mm"] == pytest.approx(14.93 + 0.15)
    assert Calibration.objects.count() == 2


def test_a_size_measured_on_a_gauge_means_what_its_calibration_says(ours: Shop) -> None:
    peg = gauge(ours)
    job = ours.job()
    body = {"text": "7", "gauge_id": peg["id"]}
    made = ours.send("put", f"/jobs/{job.pk}/measures/size-rounded", body).json()["measures"][0]
    assert made["value"] == pytest.approx(17.38, abs=1e-3)
    assert made["gauge_name"] == "peg"
    zeroed = {"text": "1.85", "zero_mm": "0.02"}
    length = ours.send("put", f"/jobs/{job.pk}/measures/stock-thickness", zeroed).json()["measures"][-1]
    assert length["value"] == pytest.approx(1.83)
    refused = ours.send("put", f"/jobs/{job.pk}/measures/stock-thickness", {"text": "1.8", "zero_mm": "4"})
    assert refused.json()["errors"][0]["field"] == "zero_mm"


def test_another_shops_gauge_and_customer_cannot_be_used(ours: Shop, theirs: Shop) -> None:
    from tests.orders import order

    peg, job = gauge(theirs), ours.job()
    somebody = theirs.send("post", "/customers", {"name": "Somebody"}).json()
    body = {"text": "7", "gauge_id": peg["id"]}
    assert ours.send("put", f"/jobs/{job.pk}/measures/size-rounded", body).status_code == 404
    assert ours.send("post", "/conversion", body).status_code == 404
    new = {"title": "band", "order": order(), "customer_id": somebody["id"]}
    assert ours.send("post", "/jobs", new).status_code == 404
    mine = ours.send("post", "/customers", {"name": "Mine"}).json()
    finger = {"which": "left", "text": "7", "gauge_id": peg["id"]}
    assert ours.send("post", f"/customers/{mine['id']}/fingers", finger).status_code == 404


@pytest.mark.parametrize(
    ("path", "body", "field"),
    [
        ("/gauges", {"name": "", "kind": "mandrel", "scale": "us"}, "name"),
        ("/gauges", {"name": "peg", "kind": "mandrel", "scale": "us"}, "name"),
        ("/gauges", {"name": "b", "kind": "spoon", "scale": "us"}, "kind"),
        ("/gauges", {"name": "b", "kind": "mandrel", "scale": "moon"}, "scale"),
        ("/gauges/ID/calibrations", {"readings": []}, "readings"),
        ("/gauges/ID/calibrations", {"readings": [{"mark": "7", "diameter_mm": "?"}]}, "readings.0.diameter_mm"),
        ("/charts", {"name": "c", "chart": {"rows": CHART[:2]}}, "rows"),
        ("/charts", {"name": "", "chart": {"rows": CHART}}, "name"),
        ("/charts/read", {"text": "US 8;💍"}, "row 1"),
        ("/customers", {"name": " "}, "name"),
        ("/customers", {"name": "x" * 200}, "name"),
    ],
)
def test_ugly_gauges_charts_and_customers_are_refused(ours: Shop, path: str, body: Any, field: str) -> None:
    peg = gauge(ours, calibrated=False)
    answer = ours.send("post", path.replace("ID", str(peg["id"])), body)
    assert answer.status_code == 422
    assert answer.json()["errors"][0]["field"] == field
    assert Gauge.objects.count() == 1
    assert not Calibration.objects.exists()


@pytest.mark.parametrize("rows", [1, 2, 3])
def test_a_pasted_chart_is_read_whatever_its_rows(ours: Shop, rows: int) -> None:
    """Two rows are no status and its body, as a pair would be."""
    text = "\n".join(f"US {5 + n};{15.7 + n}" for n in range(rows))
    answer = ours.send("post", "/charts/read", {"text": text})
    assert answer.status_code == 200
    assert [line["size"] for line in answer.json()["items"]] == [f"US {5 + n}" for n in range(rows)]


def test_customers_are_found_by_part_of_a_name_and_a_stale_save_is_refused(ours: Shop, theirs: Shop) -> None:
    for name in ("Rosalind Pym", "Amadou Sarr", "Pymander"):
        ours.send("post", "/customers", {"name": name})
    theirs.send("post", "/customers", {"name": "Pym elsewhere"})
    found = ours.send("get", "/customers?q=pym").json()["items"]
    assert [one["name"] for one in found] == ["Pymander", "Rosalind Pym"]
    path, body = f"/customers/{found[0]['id']}", {"name": "P", "version": 1}
    assert ours.send("put", path, body).status_code == 200
    assert ours.send("put", path, body).status_code == 409


def test_fingers_are_kept_on_their_gauge(ours: Shop) -> None:
    peg = gauge(ours)
    somebody = ours.send("post", "/customers", {"name": "Pym"}).json()
    body = {"which": "left ring", "text": "7", "gauge_id": peg["id"], "width_worn_mm": 6, "note": "knuckle"}
    made = ours.send("post", f"/customers/{somebody['id']}/fingers", body).json()["fingers"][0]
    assert made["inside_mm"] == pytest.approx(17.38, abs=1e-3)
    for ugly, field in (({"text": "💍"}, "text"), ({"which": ""}, "which"), ({"width_worn_mm": -1}, "width_worn_mm")):
        answer = ours.send("post", f"/customers/{somebody['id']}/fingers", {**body, **ugly})
        assert answer.json()["errors"][0]["field"] == field


def test_a_person_can_differ_from_the_workshop(ours: Shop) -> None:
    ours.send("put", "/ways/workshop", {"home_scale": "uk", "rule": "mean-diameter", "version": 1})
    now = ours.send("put", "/ways/mine", {"home_scale": "iso", "round_to_mm": "0,5", "version": 1}).json()["now"]
    assert (now["home_scale"], now["rule"], now["round_to_mm"], now["leave"]) == (
        "iso",
        "mean-diameter",
        0.5,
        "small",
    )
    assert ours.send("get", "/session").json()["ways"] == now
    for ugly, field in (
        ({"rule": "guess"}, "rule"),
        ({"round_to_mm": 9}, "round_to_mm"),
        ({"units": "ell"}, "units"),
    ):
        answer = ours.send("put", "/ways/mine", {**ugly, "version": 2})
        assert (answer.status_code, answer.json()["errors"][0]["field"]) == (422, field)


def test_the_conversion_strip_prints_on_one_page(ours: Shop) -> None:
    gauge(ours)
    answer = ours.send("get", "/conversion/page.pdf?text=7")
    pdf = pdfplumber.open(io.BytesIO(answer.content))
    assert len(pdf.pages) == 1
    said = pdf.pages[0].extract_text()
    assert "peg" in said
    assert "17.32 mm inside" in said
    assert ours.send("get", "/conversion/page.pdf?text=zz").status_code == 422
