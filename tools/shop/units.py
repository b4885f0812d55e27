"""What systemd starts: the private database, the application, and three timers. Each runs as the shop's own user."""

from __future__ import annotations

from dataclasses import dataclass

USER = "plain-shank"
COMMAND = "/usr/local/bin/plain-shank"
_SAFE = """\
NoNewPrivileges=yes
ProtectSystem=strict
ProtectHome=yes
PrivateTmp=yes
PrivateDevices=yes
ProtectKernelTunables=yes
ProtectControlGroups=yes
RestrictSUIDSGID=yes
"""


@dataclass(frozen=True)
class Timer:
    """When something is done by itself."""

    what: str
    says: str
    calendar: str


TIMERS = (
    Timer("backup", "an hourly backup, in opening hours", "*-*-* *:05:00"),
    Timer("prices", "metal prices, where a feed is set", "*-*-* *:35:00"),
    Timer("tidy", "drop what is over", "*-*-* 03:20:00"),
)


def units(private: bool, writable: tuple[str, ...]) -> dict[str, str]:
    """The units by their file names; ``private`` where the database is the installation's own."""
    paths = "".join(f"ReadWritePaths={path}\n" for path in writable)
    database = "plain-shank-database.service"
    needs = f"Wants={database}\nAfter={database}\n" if private else "After=mariadb.service network.target\n"
    out = {
        "plain-shank.service": (
            f"[Unit]\nDescription=Plain Shank\n{needs}\n[Service]\nUser={USER}\nExecStart={COMMAND} serve\n"
            f"Restart=on-failure\nRestartSec=2\nTimeoutStopSec=40\n{_SAFE}{paths}\n"
            "[Install]\nWantedBy=multi-user.target\n"
        )
    }
    if private:
        out[database] = (
            f"[Unit]\nDescription=The records of Plain Shank\n\n"
            f"[Service]\nUser={USER}\nExecStart={COMMAND} database\n"
            f"Restart=on-failure\nRestartSec=1\nTimeoutStopSec=120\nLimitNOFILE=16384\n{_SAFE}{paths}\n"
            "[Install]\nWantedBy=multi-user.target\n"
        )
    for timer in TIMERS:
        out[f"plain-shank-{timer.what}.service"] = (
            f"[Unit]\nDescription=Plain Shank: {timer.says}\n{needs}\n[Service]\nType=oneshot\nUser={USER}\n"
            f"ExecStart={COMMAND} {timer.what}{' --hourly' if timer.what == 'backup' else ''}\nNice=10\n"
            f"IOSchedulingClass=idle\n{_SAFE}{paths}"
        )
        out[f"plain-shank-{timer.what}.timer"] = (
            f"[Unit]\nDescription=Plain Shank: {timer.says}\n\n"
            f"[Timer]\nOnCalendar={timer.calendar}\nPersistent=true\n\n"
            "[Install]\nWantedBy=timers.target\n"
        )
    return out
