"""The same people at work over one server, one node of a group, and three: what writing to three costs, as ratios."""

from __future__ import annotations

import os
import shutil
import statistics
import tempfile
from pathlib import Path

from tools import demo
from tools.cluster.nodes import PROVIDER, Group, Node
from tools.cluster.serving import Application, until_ready
from tools.load.people import A_MINUTE, MAKE, Measured, Person, all_at_work
from tools.mariadb import free_port, start

PEOPLE, WORD, FASTER, SECONDS, ROUNDS = 6, "only for the bench", 4.0, 15.0, 3


class Side:
    """The application over some database, with people of its own at work."""

    def __init__(self, title: str, said: dict[str, str], folder: Path) -> None:
        self.title, self.measured, self.people = title, Measured(), list[Person]()
        environment = {
            **os.environ,
            "PLAIN_SHANK_SECRET_KEY": "x" * 50,
            "PLAIN_SHANK_STATIC_ROOT": str(folder / "static"),
            "PLAIN_SHANK_DEMO": f"wren:{WORD}",
            "DJANGO_SETTINGS_MODULE": "workshop.settings",
            **said,
        }
        demo.prepare(environment, small=True)
        demo.run(environment, "-c", MAKE.format(people=PEOPLE, word=WORD))
        self.application = Application(title, "127.0.0.1", free_port(), environment)
        self.application.start()
        until_ready([self.application])
        for nth in range(PEOPLE):
            self.people.append(Person(f"http://{self.application.address}", f"load{nth}", WORD, nth))
            self.people[-1].begin()

    def works(self) -> None:
        """A round."""
        all_at_work(self.people, SECONDS, FASTER, self.measured)

    def median_ms(self, kind: str) -> float:
        """How long half of a kind took at most."""
        return 1000 * statistics.median(self.measured.took[kind])


def group_in(folder: Path, nodes: int) -> Group:
    """A group of so many nodes on loopback."""
    made = [
        Node(f"node-{nth}", folder / f"{nodes}-{nth}", "127.0.0.1", free_port(), free_port())
        for nth in range(1, nodes + 1)
    ]
    return Group(f"bench-{nodes}", made)


def measure() -> None:
    """Measure and print; where Galera is not installed, say so."""
    if not PROVIDER.exists():
        print("one node and three: Galera is not installed (tools/system.sh cluster)")
        return
    folder = Path(tempfile.mkdtemp(prefix="ps-bench-nodes-"))
    folder.chmod(0o711)
    groups, sides = [group_in(folder, 1), group_in(folder, 3)], list[Side]()
    database = start(folder / "db")
    try:
        for group in groups:
            group.start()
        sides.append(Side("a server", database.environment(), folder))
        for group, title in zip(groups, ("one node", "three nodes"), strict=True):
            addresses = {"PLAIN_SHANK_DB_HOST": group.addresses, "PLAIN_SHANK_DB_PASSWORD": group.password}
            sides.append(Side(title, addresses, folder))
        for nth in range(ROUNDS):
            for side in sides if nth % 2 else reversed(sides):
                side.works()
        for kind in A_MINUTE:
            bare, *others = (side.median_ms(kind) for side in sides)
            times = [f"{other / bare:4.2f} over {side.title}" for other, side in zip(others, sides[1:], strict=True)]
            said = ", ".join(times)
            print(f"{kind:<12}{bare:7.1f} ms median over a server; times that: {said}", flush=True)
        for side in sides:
            for words in side.measured.wrong[:3]:
                print(f"{side.title}: not answered: {words}")
    finally:
        for side in sides:
            side.application.stop()
        for group in groups:
            group.stop()
        database.stop()
        shutil.rmtree(folder, ignore_errors=True)


if __name__ == "__main__":
    measure()
