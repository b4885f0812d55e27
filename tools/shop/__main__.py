"""``plain-shank``: what a shop's own machine is asked to do.

install              as root: user, settings, release, database, what systemd starts; prints the first link
check                are the settings, the database, the backups as they should be?
run                  all of it in the foreground, without systemd; Ctrl-C stops it
database, serve      the private database; the application (what systemd starts)
backup [--hourly]    make a backup and check it
backups              the backups there are
upgrade              as root, in a newer clone: bring it in on a copy of the records, after a backup
restore FILE         put a backup in the place of the records; --key FILE opens an encrypted one
new-key              a pair of keys for encrypted backups; the private one belongs elsewhere
first-link           the link by which a workshop and its owner come in
workshop-out NAME FILE   the workshop of who signs in as NAME, as one archive of open formats
workshop-in FILE     a workshop from its archive; asks for names that are taken here
prices, tidy         read metal prices; drop what is over
manage ...           any command of manage.py
"""

from __future__ import annotations

import argparse
import contextlib
import os
import pwd
import signal
import subprocess
import sys
import time
from datetime import UTC, datetime
from pathlib import Path

import pyrage

from tools.demo import is_taken
from tools.shop import install as installing
from tools.shop.archive import backups_in
from tools.shop.assets import keep_assets
from tools.shop.backup import ROOT, back_up, manage, same_device, target_of
from tools.shop.in_use import in_use, release_in_use, served_by, settings_in_use, switch
from tools.shop.places import PREFIX, Places, ShopError, environment_of
from tools.shop.restore import restore
from tools.shop.rolling import is_group, roll
from tools.shop.server import Server, data_folder, grant, private_command, wait_for
from tools.shop.units import USER
from tools.shop.upgrade import upgrade


def places() -> Places:
    """Where this installation lies; another root only for tests."""
    return Places(Path(os.environ.get("PLAIN_SHANK_ROOT", "/")))


def as_own_user() -> None:
    """As root, go on as the shop's own user: nothing of the records is touched as root."""
    if os.getuid() != 0 or places().root != Path("/"):
        return
    found = pwd.getpwnam(USER)
    os.initgroups(USER, found.pw_gid)
    os.setgid(found.pw_gid)
    os.setuid(found.pw_uid)
    os.environ |= {"HOME": found.pw_dir, "USER": USER, "LOGNAME": USER}
    os.umask(0o077)


def gunicorn(settings: dict[str, str]) -> list[str]:
    """The command that serves the application, on loopback unless the settings say otherwise."""
    return [
        sys.executable, "-m", "gunicorn", "workshop.wsgi:application", "--config", str(ROOT / "gunicorn.conf.py"),
        "--bind", f"{settings.get(PREFIX + 'BIND', '127.0.0.1')}:{settings.get(PREFIX + 'PORT', '8420')}",
        "--workers", settings.get(PREFIX + "WORKERS", "2"), "--threads", "8", "--preload", "--no-control-socket",
        "--worker-tmp-dir", str(places().data), "--graceful-timeout", "20",
    ]  # fmt: skip


def serve(settings: dict[str, str]) -> None:
    """Wait for the database, bring it up to this version, serve. Does not return."""
    wait_for(Server(settings))
    manage(settings, "migrate", "--no-input")
    os.chdir(ROOT)
    command = gunicorn(settings)
    os.execve(command[0], command, environment_of(served_by(ROOT, settings)))  # noqa: S606 (our own command)


def run_all(settings: dict[str, str]) -> None:
    """The private database and the application, until Ctrl-C."""
    here, children = places(), list[subprocess.Popen[bytes]]()
    signal.signal(signal.SIGTERM, lambda *_: sys.exit(0))
    try:
        if Server(settings).is_private:
            children.append(subprocess.Popen(private_command(here, settings), start_new_session=True))
            grant(settings)
        wait_for(Server(settings))
        manage(settings, "migrate", "--no-input")
        environment = environment_of(served_by(ROOT, settings))
        children.append(subprocess.Popen(gunicorn(settings), cwd=ROOT, env=environment, start_new_session=True))
        print(f"Plain Shank is at http://127.0.0.1:{settings.get(PREFIX + 'PORT', '8420')}", flush=True)
        while all(child.poll() is None for child in children):
            time.sleep(0.5)
        raise ShopError("A part of it has ended by itself; its log says why.")
    except KeyboardInterrupt:
        print("Stopped.")
    finally:
        for child in reversed(children):
            child.terminate()
            with contextlib.suppress(subprocess.TimeoutExpired):
                child.wait(timeout=60)


def install() -> None:
    """Everything, once; run again it brings a new release in and changes no setting."""
    here = places()
    if os.getuid() != 0:
        raise ShopError("Run it as root: sudo make install.")
    owner, group = installing.system_user() if here.root == Path("/") else (os.getuid(), os.getgid())
    settings = installing.put_settings(here, owner, group)
    installing.folders(here, settings, owner, group)
    release = installing.put_release(here, installing.release_name())
    if in_use(here) is not None:
        raise ShopError(f"It is installed already: sudo make upgrade brings {release.name} in, after a backup.")
    switch(here, release, settings.get(PREFIX + "DB_NAME") or "plain_shank", datetime.now(UTC))
    if here.root == Path("/"):
        subprocess.run(["chown", "-Rh", f"{owner}:{group}", str(here.data)], check=True)
    command = installing.put_wrapper(here)
    names = installing.put_units(here, settings)
    if installing.is_systemd() and here.root == Path("/"):
        installing.start_units(names)
        subprocess.run([str(command), "first-link"], check=True)
    else:
        print(f"systemd does not run here: `{command} run` starts it, then `{command} first-link`.")


def bring_in(rest: list[str]) -> None:
    """As root: put the release of this folder in its place, then upgrade as the shop's own user, then start it."""
    here = places()
    if os.getuid() != 0:
        raise ShopError("Run it as root: sudo make upgrade.")
    release = installing.put_release(here, installing.release_name())
    if release_in_use(here) == release:
        raise ShopError(f"{release.name} is in use already.")
    keep_assets(release_in_use(here), release / "static")
    # by the release's own Python, from its own folder: the shop's user need not be able to read this one
    own = pwd.getpwnam(USER) if here.root == Path("/") else pwd.getpwuid(os.getuid())
    done = subprocess.run(
        [str(release / ".venv/bin/python"), "-m", "tools.shop", "bring-in", str(release), *rest],
        cwd=release, user=own.pw_uid, group=own.pw_gid, extra_groups=[], check=False,
    )  # fmt: skip
    if done.returncode:
        raise ShopError("Nothing was changed: the version before goes on.")
    if installing.is_systemd() and here.root == Path("/"):
        subprocess.run(["systemctl", "restart", "plain-shank.service"], check=True)
    else:
        print("Start it again: what runs is the version before, and writes nothing from now on.")


def switched(settings: dict[str, str], rest: list[str]) -> None:
    """Bring a release that is in its place into use, as the shop's own user."""
    release = Path(rest[0])
    stopped = "--stopped" in rest[1:]
    if is_group(settings):
        done = roll(places(), settings, release, datetime.now(UTC), stopped=stopped)
    else:
        done = upgrade(places(), settings, release, datetime.now(UTC))
    print(f"{release.name} is in use, with the database {done.database}; before it {done.before}.")
    print(f"To go back: plain-shank restore {done.backup}; it says what is lost.")


def check(settings: dict[str, str]) -> int:
    """Say what is as it should be and what is not; 1 where something is not."""
    here, wrong = places(), 0
    target = target_of(here, settings)

    def say(good: bool, words: str) -> None:
        nonlocal wrong
        wrong += not good
        print(f"{'good ' if good else 'WRONG'}  {words}")

    say(True, f"settings: {here.settings}, for its owner alone")
    try:
        Server(settings).ask("SELECT 1", Server(settings).name)
        say(True, f"database: {Server(settings).name} answers")
    except ShopError as problem:
        say(False, f"database: {problem}")
    data = data_folder(here) if Server(settings).is_private else here.data
    found = backups_in(target) if target.is_dir() else []
    say(bool(found), f"backups: {len(found)} in {target}" + (f", the newest {found[0][1].name}" if found else ""))
    if target.is_dir() and data.exists():
        say(not same_device(target, data), "backups lie on another disk than the records")
    recipient = settings.get(PREFIX + "BACKUP_RECIPIENT", "")
    say(bool(recipient), "backups are encrypted" if recipient else "backups are not encrypted: plain-shank new-key")
    return 1 if wrong else 0


def put_back(settings: dict[str, str], rest: list[str]) -> None:
    """Restore, and say what happened."""
    parser = argparse.ArgumentParser(prog="plain-shank restore")
    parser.add_argument("file", type=Path)
    parser.add_argument("--key", type=Path)
    given = parser.parse_args(rest)
    if is_taken(int(settings.get(PREFIX + "PORT", "8420"))):
        raise ShopError("The application runs: stop it first (systemctl stop plain-shank), then restore.")
    key = given.key.read_text() if given.key else ""
    put = restore(places(), settings, given.file, datetime.now(UTC), key)
    looked = f"{put.found['plans']} plans, {put.found['pieces']} pieces, {put.found['photographs']} photographs"
    print(f"The records are those of {put.made_at}: {put.rows} rows, in the database {put.database}.")
    if put.lost > 0:
        print(f"Lost are {put.lost} changes since then.")
    if put.lost < 0:
        print("What was changed since then is lost; how much that is cannot be said: nothing was there to ask.")
    print(f"Looked through: {looked}.", *put.found["wrong"], sep="\n  ")
    print("Everybody is signed out; tickets and pieces go on 1,000 higher; devices ask before they send what waited.")
    print(f"What was there before stays in the database {put.before} until you drop it. Start it again.")


def new_key() -> None:
    """A pair of keys: the public one for the settings, the private one for somewhere else."""
    identity = pyrage.x25519.Identity.generate()
    print(f"In the settings:  {PREFIX}BACKUP_RECIPIENT={identity.to_public()}")
    print("Not on this machine, and not lost: without it no backup can be opened.")
    print(str(identity))


def main() -> int:
    """Do what is asked."""
    parser = argparse.ArgumentParser(prog="plain-shank")
    parser.add_argument("what", nargs="?", default="help")
    parser.add_argument("rest", nargs=argparse.REMAINDER)
    said = parser.parse_args()
    if said.what == "install":
        install()
        return 0
    if said.what == "new-key":
        new_key()
        return 0
    if said.what == "help":
        print(__doc__)
        return 0
    if said.what == "upgrade":
        bring_in(said.rest)
        return 0
    as_own_user()
    settings = settings_in_use(places())
    return asked(said.what, said.rest, settings)


def asked(what: str, rest: list[str], settings: dict[str, str]) -> int:
    """Do one thing with the settings in force; raises ShopError for what is not known."""
    plain = {"run": run_all, "serve": serve, "database": database, "backups": list_backups, "prices": read_prices}
    if what in plain:
        plain[what](settings)
    elif what == "check":
        return check(settings)
    elif what == "backup":
        backup(settings, rest)
    elif what == "restore":
        put_back(settings, rest)
    elif what == "bring-in":
        switched(settings, rest)
    elif what in ("tidy", "first-link"):
        print(manage(settings, what.replace("-", "_")), end="")
    elif what in ("workshop-out", "workshop-in"):
        return at_terminal(settings, what.replace("-", "_"), *rest)
    elif what == "manage":
        print(manage(settings, *rest), end="")
    else:
        raise ShopError(f"“{what[:40]}” is nothing that can be asked here: plain-shank help.")
    return 0


def at_terminal(settings: dict[str, str], *arguments: str) -> int:
    """A management command that may ask; what it returns."""
    patient = {**environment_of(settings), PREFIX + "DB_TIMEOUT": "3600"}
    command = [sys.executable, str(ROOT / "manage.py"), *arguments]
    return subprocess.run(command, env=patient, check=False).returncode


def backup(settings: dict[str, str], rest: list[str]) -> None:
    """Make a backup; the hourly one only where it is wanted."""
    parser = argparse.ArgumentParser(prog="plain-shank backup")
    parser.add_argument("--hourly", action="store_true")
    hourly = parser.parse_args(rest).hourly
    if not hourly or manage(settings, "is_backup_wanted").strip() == "yes":
        made = back_up(places(), settings, datetime.now(UTC), "hour" if hourly else "asked")
        print("\n".join([f"{made.path}, checked.", *made.said]))


def list_backups(settings: dict[str, str]) -> None:
    """The backups there are."""
    for at, path in backups_in(target_of(places(), settings)):
        print(f"{at:%Y-%m-%d %H:%M} UTC  {path.stat().st_size / 1e6:9.1f} MB  {path}")


def read_prices(settings: dict[str, str]) -> None:
    """Read metal prices, where a feed is set."""
    if settings.get(PREFIX + "PRICE_FEED"):
        print(manage(settings, "read_prices"), end="")


def database(settings: dict[str, str]) -> None:
    """Become the private database; beside it the application's user is made as soon as it answers."""
    command = private_command(places(), settings)
    if os.fork() == 0:
        os.setsid()
        try:
            grant(settings)
        finally:
            os._exit(0)
    os.execv(command[0], command)  # noqa: S606 (our own command)


if __name__ == "__main__":
    sys.exit(main())
