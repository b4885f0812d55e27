"""Machines of our own on one machine: a network namespace each, on a bridge, whose cable can be pulled. Root's."""

from __future__ import annotations

import contextlib
import os
import subprocess

HERE = "10.77.0.1"


def _ip(*arguments: str) -> None:
    done = subprocess.run(["ip", *arguments], capture_output=True, text=True, check=False)
    if done.returncode:
        raise SystemExit(f"ip {' '.join(arguments)}: {done.stderr.strip()}")


class Network:
    """Some machines: ``within(n)`` runs a command in the nth of them, ``host(n)`` is its address."""

    def __init__(self, machines: int) -> None:
        self.tag, self.machines = f"ps{os.getpid() % 100_000}", range(1, machines + 1)

    def __enter__(self) -> Network:
        _ip("link", "add", f"{self.tag}b", "type", "bridge")
        _ip("addr", "add", f"{HERE}/24", "dev", f"{self.tag}b")
        _ip("link", "set", f"{self.tag}b", "up")
        for nth in self.machines:
            name, out = self._name(nth), f"{self.tag}v{nth}"
            _ip("netns", "add", name)
            _ip("link", "add", out, "type", "veth", "peer", "name", "eth0", "netns", name)
            _ip("link", "set", out, "master", f"{self.tag}b")
            _ip("link", "set", out, "up")
            for command in (
                ("addr", "add", f"{self.host(nth)}/24", "dev", "eth0"),
                ("link", "set", "eth0", "up"),
                ("link", "set", "lo", "up"),
            ):
                _ip("-n", name, *command)
        return self

    def __exit__(self, *_: object) -> None:
        for nth in self.machines:
            with contextlib.suppress(SystemExit):
                _ip("netns", "delete", self._name(nth))
        with contextlib.suppress(SystemExit):
            _ip("link", "delete", f"{self.tag}b")

    def _name(self, nth: int) -> str:
        return f"{self.tag}-{nth}"

    def host(self, nth: int) -> str:
        """The address of the nth machine."""
        return f"10.77.0.{10 + nth}"

    def within(self, nth: int) -> tuple[str, ...]:
        """What runs a command on the nth machine."""
        return ("ip", "netns", "exec", self._name(nth))

    def pull(self, nth: int) -> None:
        """Pull the cable of a machine, at both its ends."""
        _ip("link", "set", f"{self.tag}v{nth}", "down")
        _ip("-n", self._name(nth), "link", "set", "eth0", "down")

    def plug_in(self, nth: int) -> None:
        """Put it back."""
        _ip("-n", self._name(nth), "link", "set", "eth0", "up")
        _ip("link", "set", f"{self.tag}v{nth}", "up")
