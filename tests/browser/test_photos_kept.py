"""Photographs that were taken while the record book was away: kept on the device, sent in order, none twice."""

from __future__ import annotations

import io
from pathlib import Path

import pytest
from PIL import Image
from playwright.sync_api import Page, expect

from tests.browser.conftest import SIZE, Server, in_database, sign_in
from tests.browser.test_away import AWAY

MANY = 20  # of each of two jobs, in two tabs
LARGE = 3_000_000


def large_photograph(folder: Path, n: int) -> str:
    """A photograph of 3 MB or more; each is a little higher than the one before, so that their order is seen."""
    noise = Image.effect_noise((1500, 900 + 10 * n), 90).resize((3000, 1800 + 20 * n))
    file = io.BytesIO()
    noise.convert("RGB").save(file, "JPEG", quality=97, subsampling=0)
    path = folder / f"{n:02}.jpg"
    path.write_bytes(file.getvalue())
    assert path.stat().st_size >= LARGE
    return str(path)


def waiting(page: Page) -> int:
    """How many lines wait on the device, by the browser's own database."""
    return int(
        page.evaluate(
            """() => new Promise((settle, fail) => {
                const open = indexedDB.open('plain-shank')
                open.onerror = () => fail(open.error)
                open.onsuccess = () => {
                    const names = open.result.transaction('outbox').objectStore('outbox').getAllKeys()
                    names.onsuccess = () => {
                        open.result.close()
                        settle(names.result.filter((name) => name.startsWith('line|')).length)
                    }
                }
            })"""
        )
    )


KEPT = (
    "from workshop.jobs.models import JobPhoto\n"
    "for job in ({0}, {1}): print(*[p.photo.height for p in JobPhoto.objects.filter(job_id=job).order_by('id')])"
)


@pytest.fixture(scope="module")
def photographs(tmp_path_factory: pytest.TempPathFactory) -> list[str]:
    folder = tmp_path_factory.mktemp("photographs")
    return [large_photograph(folder, n) for n in range(MANY)]


def two_jobs(server: Server) -> tuple[int, int]:
    said = in_database(
        server,
        "from workshop.jobs.models import Job, JobPhoto\n"
        "jobs = list(Job.objects.filter(closed_at=None, work='resize').order_by('pk').values_list('pk', flat=True)[:2])\n"
        "JobPhoto.objects.filter(job_id__in=jobs).delete(); print(*jobs)",
    )
    one, other = said.split()
    return int(one), int(other)


def test_forty_photographs_outlive_an_outage_and_a_reload_in_two_tabs(
    server: Server, bench: Page, expected_errors: list[str], photographs: list[str], tmp_path: Path
) -> None:
    expected_errors += [*AWAY, "422"]
    one, other = two_jobs(server)
    tiny = tmp_path / "tiny.png"
    Image.new("RGB", (9, 9)).save(tiny)
    second = bench.context.new_page()
    for page, job in ((bench, one), (second, other)):
        page.goto(f"{server.url}/job/{job}")
        expect(page.get_by_label("Photograph, before")).to_be_attached()
    server.database.kill()
    try:
        bench.get_by_label("Photograph, before").set_input_files(photographs)
        second.get_by_label("Photograph, before").set_input_files([*photographs[:-1], str(tiny)])
        for page in (bench, second):
            expect(page.get_by_label("Photograph, before")).to_be_enabled(timeout=60_000)
            expect(page.get_by_test_id("outbox")).to_contain_text("Kept on this device", timeout=30_000)
            expect(page.get_by_test_id("only-here")).to_have_count(0, timeout=30_000)
        assert waiting(bench) == 2 * MANY
        bench.reload()
        expect(bench.get_by_test_id("kept")).to_be_visible()
    finally:
        server.database.revive()
    for page in (bench, second):
        expect(page.get_by_test_id("outbox")).not_to_contain_text("On its way", timeout=120_000)
    said = "Nothing can be seen on so small a picture"
    told = sum(page.get_by_text(said, exact=False).count() for page in (bench, second))
    assert told >= 1, "what was refused is said"
    rows = [
        [int(high) for high in line.split()] for line in in_database(server, KEPT.format(one, other)).splitlines()
    ]
    assert [len(row) for row in rows] == [MANY, MANY - 1]
    assert all(row == sorted(set(row)) for row in rows), "in order, none twice"


def test_what_the_device_has_no_room_for_is_said_and_sent_all_the_same(
    server: Server, page: Page, photographs: list[str]
) -> None:
    """On a device of its own, with so little room from the beginning: a browser looks at its room only now and then."""
    job, _ = two_jobs(server)
    browser = page.context.browser
    assert browser is not None
    device = browser.new_context(viewport=SIZE, timezone_id="UTC", locale="en-GB", service_workers="block")
    bench = device.new_page()
    line = device.new_cdp_session(bench)
    line.send("Storage.overrideQuotaForOrigin", {"origin": server.url, "quotaSize": 400_000})
    sign_in(server, bench)
    bench.goto(f"{server.url}/job/{job}")
    expect(bench.get_by_label("Photograph, after")).to_be_attached()
    server.database.kill()
    try:
        bench.get_by_label("Photograph, after").set_input_files(photographs[:3])
        expect(bench.get_by_test_id("only-here")).to_contain_text("in this tab alone", timeout=30_000)
    finally:
        server.database.revive()
    expect(bench.get_by_test_id("only-here")).to_have_count(0, timeout=60_000)
    expect(bench.get_by_test_id("outbox")).not_to_contain_text("On its way", timeout=60_000)
    count = f"from workshop.jobs.models import JobPhoto; print(JobPhoto.objects.filter(job_id={job}, side='after').count())"
    assert in_database(server, count) == "3"
    device.close()
