"""What a backup is as a file: one tar of a manifest, a dump, perhaps photographs and the settings; perhaps encrypted.

Encrypted it is an age file (an open format): to a public recipient, whose private key is not on this machine.
"""

from __future__ import annotations

import contextlib
import gzip
import hashlib
import json
import os
import shutil
import tarfile
from collections.abc import Iterator
from datetime import UTC, datetime
from pathlib import Path
from typing import Any

import pyrage

from tools.shop.places import PREFIX, RECIPIENT, ShopError

FORMAT = 1
NAME, STAMP = "plain-shank-", "%Y%m%dT%H%M%SZ"
ENDINGS = (".tar.age", ".tar")
DUMP, MANIFEST, FILES, SETTINGS = "dump.sql.gz", "manifest.json", "files", "environment"
ERASURES = "erasures.jsonl"
KEEP = {"hour": 48, "day": 7, "week": 4, "month": 12}


def sha_of(path: Path) -> str:
    """The SHA-256 of a file."""
    with path.open("rb") as file:
        return hashlib.file_digest(file, "sha256").hexdigest()


def name_of(now: datetime) -> str:
    """How a backup of a moment is called."""
    return f"{NAME}{now.astimezone(UTC):{STAMP}}.tar"


def pack(part: Path, path: Path, recipient: str) -> Path:
    """One file of it all, encrypted where there is somebody to encrypt it to; named once it is on the disk."""
    whole = part / "whole.tar"
    with tarfile.open(whole, "w") as tar:
        for name in (MANIFEST, DUMP, SETTINGS, ERASURES, FILES):
            if (part / name).exists():
                tar.add(part / name, name)
    if recipient:
        path, made = path.with_name(path.name + ".age"), part / "whole.tar.age"
        with whole.open("rb") as plain, made.open("wb") as secret:
            pyrage.encrypt_io(plain, secret, [recipient_of(recipient)])
        whole = made
    with whole.open("rb+") as file:
        os.fsync(file.fileno())
    whole.chmod(0o600)
    if path.exists():
        raise ShopError(f"{path.name} is there already: one a second.")
    whole.rename(path)
    folder = os.open(path.parent, os.O_RDONLY)
    os.fsync(folder)
    os.close(folder)
    return path


def recipient_of(text: str) -> pyrage.x25519.Recipient:
    """To whom it is encrypted; raises ShopError."""
    try:
        return pyrage.x25519.Recipient.from_str(text)
    except pyrage.RecipientError:
        raise ShopError(f"{PREFIX}{RECIPIENT} is no recipient: it begins with age1.") from None


def unpack(path: Path, folder: Path, key: str = "") -> dict[str, Any]:
    """Unpack a backup into a folder and make sure that it is what was written; its manifest. Raises ShopError."""
    whole = path
    if path.name.endswith(".age"):
        if not key:
            raise ShopError("This backup is encrypted: its private key is needed (--key FILE).")
        whole = folder / "whole.tar"
        secrets = [line for line in key.splitlines() if line.startswith("AGE-SECRET-KEY-")]
        try:
            identities = [pyrage.x25519.Identity.from_str(line.strip()) for line in secrets]
            with path.open("rb") as secret, whole.open("wb") as plain:
                pyrage.decrypt_io(secret, plain, identities)
        except (pyrage.IdentityError, pyrage.DecryptError) as problem:
            raise ShopError(f"This key does not open it: {problem}") from None
    try:
        with tarfile.open(whole, "r") as tar:
            _extract(tar, folder)
        manifest: dict[str, Any] = json.loads((folder / MANIFEST).read_text(encoding="utf8"))
        sums = dict(manifest["sha256"])
    except (tarfile.TarError, OSError, ValueError, KeyError, TypeError) as problem:
        raise ShopError(f"{path.name} is no backup, or it is broken: {problem}") from None
    if manifest.get("format") != FORMAT:
        raise ShopError(f"{path.name} is of a format that this version does not know.")
    for name, was in sums.items():
        if not (folder / name).is_file() or sha_of(folder / name) != was:
            raise ShopError(f"{path.name} is broken: {name} is not what was written.")
    if whole != path:
        whole.unlink()
    return manifest


def _extract(tar: tarfile.TarFile, folder: Path) -> None:
    """The files that a backup has, under the names that it gives them, and nothing else; raises ValueError.

    Not by the archive's own word: Debian's Python 3.11.2 has no filter for it.
    """
    for member in tar:
        first, _, rest = member.name.partition("/")
        plain = (first == FILES and "/" not in rest and rest not in ("", ".", "..")) or (
            not rest and first in (MANIFEST, DUMP, SETTINGS, ERASURES)
        )
        if member.isdir() and member.name == FILES:
            (folder / FILES).mkdir(exist_ok=True)
            continue
        source = tar.extractfile(member) if plain and member.isreg() else None
        if source is None:
            raise ValueError(f"it has a file that no backup has: {member.name[:80]!r}")
        with source, (folder / member.name).open("wb") as file:
            shutil.copyfileobj(source, file)


def read_dump(dump: Path) -> Iterator[bytes]:
    """A dump, piece by piece; raises ShopError where it is broken."""
    try:
        with gzip.open(dump, "rb") as file:
            while piece := file.read(1 << 20):
                yield piece
    except (OSError, EOFError) as problem:
        raise ShopError(f"The dump cannot be read: {problem}") from None


def backups_in(target: Path) -> list[tuple[datetime, Path]]:
    """The backups of a folder by when they were made, the newest first; other files are none of ours."""
    out = []
    for path in target.iterdir():
        ending = next((one for one in ENDINGS if path.name.endswith(one)), "")
        if path.name.startswith(NAME) and ending and path.is_file():
            with contextlib.suppress(ValueError):
                stamp = path.name.removeprefix(NAME).removesuffix(ending)
                out.append((datetime.strptime(stamp, STAMP).replace(tzinfo=UTC), path))
    return sorted(out, reverse=True)


def kept(times: list[datetime]) -> set[datetime]:
    """Which backups stay: the newest 48, and the newest of each of 7 days, 4 ISO weeks, 12 months (UTC)."""
    newest = sorted(set(times), reverse=True)
    stays = set(newest[: KEEP["hour"]])
    for span, form in (("day", "%Y-%m-%d"), ("week", "%G-%V"), ("month", "%Y-%m")):
        first: dict[str, datetime] = {}
        for at in newest:
            first.setdefault(at.astimezone(UTC).strftime(form), at)
        stays |= set(sorted(first.values(), reverse=True)[: KEEP[span]])
    return stays


def prune(target: Path) -> list[Path]:
    """Delete what is not kept any longer; the newest is never among it."""
    found = backups_in(target)
    stays = kept([at for at, _ in found])
    gone = [path for at, path in found if at not in stays]
    for path in gone:
        path.unlink()
    return gone
