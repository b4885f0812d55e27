"""Settings from the environment, read once and checked: a bad one ends in one plain line, not in a traceback."""

from __future__ import annotations

import contextlib
import ipaddress
import os
import re
from collections.abc import Iterable, Sequence

Network = ipaddress.IPv4Network | ipaddress.IPv6Network
PREFIX = "PLAIN_SHANK_"
Address = tuple[str, int]
ADDRESS = re.compile(r"(?:\[([0-9A-Fa-f:.]+)\]|([A-Za-z0-9_.-]+))(?::([0-9]{1,5}))?")


def text(name: str, default: str = "") -> str:
    """A setting as written."""
    return os.environ.get(PREFIX + name, default)


def items(name: str, default: str = "") -> list[str]:
    """A comma separated setting."""
    return [part.strip() for part in text(name, default).split(",") if part.strip()]


def whole(name: str, default: int, least: int, most: int) -> int:
    """A whole number between two bounds; ends the program with one line for anything else."""
    said = text(name, str(default)).strip()
    if not said.isascii() or not said.isdecimal() or len(said) > 9 or not least <= int(said) <= most:
        raise SystemExit(f"{PREFIX}{name} is “{said[:40]}”: it must be a whole number from {least} to {most}.")
    return int(said)


def switch(name: str) -> bool:
    """A setting that is 1 or nothing; ends the program with one line for anything else."""
    said = text(name).strip()
    if said not in ("", "0", "1"):
        raise SystemExit(f"{PREFIX}{name} is “{said[:40]}”: it must be 1 or left out.")
    return said == "1"


def origins(name: str) -> list[str]:
    """Origins with their scheme; ends the program with one line for anything else."""
    said = items(name)
    for origin in said:
        if not origin.startswith(("http://", "https://")):
            raise SystemExit(f"{PREFIX}{name} has “{origin[:60]}”: an origin begins with https:// or http://.")
    return said


def networks(name: str) -> list[Network]:
    """Addresses or networks, comma separated; ends the program with one line for anything else."""
    out: list[Network] = []
    for said in items(name):
        try:
            out.append(ipaddress.ip_network(said, strict=False))
        except ValueError:
            raise SystemExit(f"{PREFIX}{name} has “{said[:60]}”: such as 127.0.0.1, ::1, 10.0.0.0/24.") from None
    return out


def addresses(name: str, port: int, beside: str) -> list[Address]:
    """Hosts with their ports (``port`` where none is said), comma separated, the preferred first; IPv6 in brackets.

    Ends the program with one line for anything else, and for more than a bare host where ``beside`` is set too.
    """
    said = items(name) if text(name).strip() else ["127.0.0.1"]
    try:
        out = hosts_and_ports(said, port)
    except ValueError as problem:
        raise SystemExit(f"{PREFIX}{name} {problem}") from None
    if text(beside) and (len(said) > 1 or out != [(said[0], port)]):
        raise SystemExit(f"{PREFIX}{name} and {PREFIX}{beside} are both set: a socket, or addresses.")
    return out


def hosts_and_ports(said: Sequence[str], port: int) -> list[Address]:
    """Addresses as written, each once; raises ValueError with what would be one."""
    out = []
    for one in said:
        if len(said) == 1 and one.count(":") > 1 and not one.startswith("["):
            return [(one, port)]  # an IPv6 address by itself
        found = ADDRESS.fullmatch(one)
        if found is None or not 1 <= int(found[3] or port) <= 65_535 or not _is_ipv6(found[1] or "::"):
            raise ValueError(f"has “{one[:60]}”: an address is host:port, such as db1:3306 or [fd00::1]:3306.")
        out.append((found[1] or found[2], int(found[3] or port)))
    if not out or len(set(out)) < len(out):
        raise ValueError("must name each address once, such as db1:3306,db2:3306.")
    return out


def _is_ipv6(said: str) -> bool:
    with contextlib.suppress(ValueError):
        return ipaddress.ip_address(said).version == 6
    return False


def address(name: str) -> str:
    """An address with its scheme, or nothing; ends the program with one line for anything else."""
    said = text(name).strip()
    if said and not said.startswith(("http://", "https://")):
        raise SystemExit(f"{PREFIX}{name} is “{said[:60]}”: an address begins with https:// or http://.")
    return said


def wanted(names: Iterable[str]) -> None:
    """End the program with one line where a setting that serving needs is missing."""
    missing = [PREFIX + name for name in names if not text(name)]
    if missing:
        raise SystemExit(f"{', '.join(missing)} must be set in the environment; docs/operations.md says how.")
