"""Bringing a new version in where several machines serve the same records: one machine after the other.

Where its migrations only add, the records are brought up to it in place while the version before goes on on the other
machines. Where they do more, every machine has to stop first, and that is said before anything is changed.
"""

from __future__ import annotations

import json
from datetime import datetime
from pathlib import Path

from tools.shop.backup import back_up
from tools.shop.in_use import switch
from tools.shop.places import PREFIX, Places, ShopError
from tools.shop.server import Server
from tools.shop.upgrade import Upgraded, asked_ready, of_release

MOST_SAID = 5


def is_group(settings: dict[str, str]) -> bool:
    """Whether the records lie on several nodes, which other machines serve too."""
    return "," in settings.get(PREFIX + "DB_HOST", "")


def roll(
    places: Places, settings: dict[str, str], release: Path, now: datetime, *, stopped: bool = False
) -> Upgraded:
    """Bring a release into use on this machine; ``stopped``: no machine serves just now. Raises ShopError.

    The backup is of before; the records stay in the database that they are in. What went wrong after the records were
    brought up leaves the version before in use, which goes on beside what was added.
    """
    said = json.loads(of_release(release, settings, "may_roll"))
    if not said["rolls"] and not stopped:
        why = "; ".join(said["why"][:MOST_SAID])
        raise ShopError(
            f"This version must not come in while another machine serves: {why}. Stop plain-shank on every machine, "
            "then on the first: make upgrade STOPPED=1; on the others, make upgrade."
        )
    made = back_up(places, settings, now, "upgrade")
    of_release(release, settings, "migrate", "--no-input")
    asked_ready(release, settings)
    name = Server(settings).name
    switch(places, release, name, now)
    return Upgraded(release, name, name, made.path)
