"""What lies beside a shop's records: which backups stay, the file of settings, what systemd takes."""

from __future__ import annotations

import os
import random
import shutil
import subprocess
from datetime import timedelta
from pathlib import Path

import pytest

from tests.tools.test_shop import NOW
from tools.shop import archive, install
from tools.shop.places import PREFIX, Places, ShopError, read_settings
from tools.shop.units import TIMERS, units


def test_which_backups_stay_by_counting_them_another_way() -> None:
    """Over random years: the newest 48, and by the calendar the newest of 7 days, 4 ISO weeks, 12 months."""
    dice = random.Random(26)
    for _ in range(60):
        times = [NOW - timedelta(minutes=dice.randrange(60 * 24 * dice.choice((3, 40, 700)))) for _ in range(300)]
        stays = archive.kept(times)
        newest_first = sorted(set(times), reverse=True)
        for nth, at in enumerate(newest_first):
            later = newest_first[:nth]
            days = {one.date() for one in later}
            weeks = {one.isocalendar()[:2] for one in later}
            months = {(one.year, one.month) for one in later}
            wanted = (
                nth < 48
                or (at.date() not in days and len(days) < 7)
                or (at.isocalendar()[:2] not in weeks and len(weeks) < 4)
                or ((at.year, at.month) not in months and len(months) < 12)
            )
            assert (at in stays) == wanted


def test_what_is_not_ours_is_never_deleted(tmp_path: Path) -> None:
    for hour in range(70):
        (tmp_path / archive.name_of(NOW + timedelta(hours=hour))).touch()
    for name in ("plain-shank-notes.tar", "plain-shank-20270301T090000Z.txt", "holiday.tar"):
        (tmp_path / name).touch()
    archive.prune(tmp_path)
    assert len(archive.backups_in(tmp_path)) == 49  # 48 hours, and the newest of the first day
    assert (tmp_path / "holiday.tar").exists()
    assert (tmp_path / "plain-shank-notes.tar").exists()


@pytest.mark.parametrize(
    ("text", "mode", "said"),
    [
        (None, 0o600, "is missing"),
        (f"{PREFIX}SECRET_KEY={'k' * 60}\n", 0o640, "can be read by others"),
        (f"{PREFIX}SECRET_KEY={'k' * 49}\n", 0o600, "at least 50 letters: it has 49"),
        (f"{PREFIX}SECRET_KEY={'k' * 60}\nnonsense\n", 0o600, "line 2, is no setting"),
        ("# nothing\n", 0o600, "it has 0"),
    ],
)
def test_the_file_of_settings_is_looked_at_first(tmp_path: Path, text: str | None, mode: int, said: str) -> None:
    path = tmp_path / "environment"
    if text is not None:
        path.write_text(text)
        path.chmod(mode)
    with pytest.raises(ShopError, match=said):
        read_settings(path)


def test_settings_go_out_and_in_again_and_a_second_install_keeps_them(
    tmp_path: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    places = Places(tmp_path)
    monkeypatch.setenv(PREFIX + "SECRET_KEY", "too short")
    with pytest.raises(ShopError, match="at least 50 letters"):
        install.put_settings(places, os.getuid(), os.getgid())
    assert not places.settings.exists()
    monkeypatch.delenv(PREFIX + "SECRET_KEY")
    made = install.put_settings(places, os.getuid(), os.getgid())
    assert len(made[PREFIX + "SECRET_KEY"]) >= 50
    assert places.settings.stat().st_mode & 0o777 == 0o600
    assert install.put_settings(places, os.getuid(), os.getgid()) == made
    own = install.first_settings(places, {PREFIX + "DB_HOST": "db.example", PREFIX + "DB_PASSWORD": "theirs"})
    assert (own[PREFIX + "PRIVATE_DATABASE"], own[PREFIX + "DB_PASSWORD"]) == ("0", "theirs")


@pytest.mark.skipif(shutil.which("systemd-analyze") is None, reason="systemd is not installed here")
@pytest.mark.parametrize("private", [True, False])
def test_systemd_takes_the_units(private: bool, tmp_path: Path) -> None:
    made = units(private, ("/var/lib/plain-shank",))
    for name, text in made.items():
        (tmp_path / name).write_text(
            text.replace("/usr/local/bin/plain-shank", "/bin/true").replace("User=", "#User=")
        )
    services = [str(tmp_path / name) for name in made]
    done = subprocess.run(["systemd-analyze", "verify", *services], capture_output=True, text=True, check=False)
    said = [line for line in done.stderr.splitlines() if "plain-shank" in line]
    assert (done.returncode, said) == (0, [])
    for timer in TIMERS:
        calendar = subprocess.run(["systemd-analyze", "calendar", timer.calendar], capture_output=True, check=False)
        assert calendar.returncode == 0
    assert ("plain-shank-database.service" in made) == private
