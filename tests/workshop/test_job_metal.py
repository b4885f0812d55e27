"""What a job is told of its metal: what was cut for it, of which solder."""

import pytest

from tests.stock import key_of, put_in
from tests.workshop.conftest import Shop
from workshop.stock.models import StockItem

pytestmark = pytest.mark.django_db


def test_a_blank_that_was_cut_taken_back_and_cut_again_is_told_once(ours: Shop) -> None:
    job = ours.job()
    coil = put_in(ours.actor, length_mm=190, poured=True)
    for turn in range(2):
        coil.refresh_from_db()
        group = StockItem.objects.filter(length_mm__gt=0).latest("length_mm")
        key = ours.send("post", "/stock/plan", {"group": key_of(group)}).json()["key"]
        assert ours.send("post", "/stock/cuts", {"group": key_of(group), "key": key}).status_code == 201
        cut = ours.send("get", f"/jobs/{job.pk}/metal").json()["cut"]
        assert [one["called"] for one in cut] == ["wire 1"]
        assert ours.send("get", f"/jobs/{job.pk}").json()["poured"]
        if turn == 0:
            assert ours.send("post", f"/stock/back/{cut[0]['batch']}", {}).status_code == 200
            assert ours.send("get", f"/jobs/{job.pk}/metal").json()["cut"] == []
            assert not ours.send("get", f"/jobs/{job.pk}").json()["poured"]
