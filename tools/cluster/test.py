"""``make cluster-test``, as root: nodes and processes die, freeze and are cut off while people work; nothing is lost.

Three machines of our own (a network namespace each): a database node on each, a process of the application on two of
them, which prefer two different nodes. A balancer sends four people who work on to either. Whatever happens to a
machine, the next answer comes within 5 s where something died and within 10 s where it froze or was cut off; at the
end each thing that was acknowledged is there once, on every node.
"""

from __future__ import annotations

import argparse
import os
import random
import shutil
import signal
import tempfile
import threading
import time
import urllib.error
from collections import Counter
from collections.abc import Callable
from dataclasses import dataclass
from pathlib import Path
from typing import Any

from tools import demo
from tools.cluster import booking, shown, versions
from tools.cluster.networks import HERE, Network
from tools.cluster.nodes import Group, Node
from tools.cluster.serving import Application, Balancer, until_ready
from tools.cluster.work import Worker, longest_wait
from tools.load.people import MAKE, Measured

PEOPLE, WORD, FASTER = 4, "a word for the trial alone", 3.0
DIED_S, SILENT_S, HEALED_S, CALM_S = 5.0, 10.0, 90.0, 4.0
ROUNDS, CONTROL = 200, 12


@dataclass
class Machines:
    """Everything that runs: where it lies, its nodes, processes, people."""

    folder: Path
    network: Network
    group: Group
    applications: list[Application]
    balancer: Balancer | None = None
    workers: list[Worker] | None = None

    def environment(self, *order: int, timeout: int = 3) -> dict[str, str]:
        """What a process of the application has to know that prefers the nodes in this order."""
        hosts = ",".join([HERE, "127.0.0.1", *(self.network.host(nth) for nth in self.network.machines)])
        return {
            **os.environ,
            "PLAIN_SHANK_SECRET_KEY": "only for the trial " * 3,
            "PLAIN_SHANK_DEMO": f"wren:{WORD}",
            "PLAIN_SHANK_STATIC_ROOT": str(self.folder / "static"),
            "PLAIN_SHANK_DB_HOST": ",".join(self.group.nodes[nth].address for nth in order),
            "PLAIN_SHANK_DB_PASSWORD": self.group.password,
            "PLAIN_SHANK_DB_TIMEOUT": str(timeout),
            "PLAIN_SHANK_HOSTS": hosts,
            "PLAIN_SHANK_PROXY_ADDRESSES": HERE,
            "DJANGO_SETTINGS_MODULE": "workshop.settings",
        }

    def whole(self) -> None:
        """Wait until every node has caught up and every process is ready; raises SystemExit."""
        self.group.whole(HEALED_S)
        until_ready(self.applications, HEALED_S)


def built(folder: Path, network: Network) -> Machines:
    """Three nodes, each on a machine of its own; nothing runs yet."""
    nodes = [
        Node(f"node-{nth}", folder / f"node-{nth}", network.host(nth), 3306, 4567, network.within(nth), durable=False)
        for nth in network.machines
    ]
    return Machines(folder, network, Group("trial", nodes), [])


def start(machines: Machines) -> None:
    """The demo on the nodes, two processes before them, a balancer before those."""
    folder, network = machines.folder, machines.network
    machines.group.start()
    demo.prepare(machines.environment(0), small=True)
    demo.run(machines.environment(0), "-c", MAKE.format(people=PEOPLE, word=WORD))
    for nth, order in ((1, (0, 1, 2)), (2, (1, 0, 2))):
        one = Application(
            f"application-{nth}", network.host(nth), 8000, machines.environment(*order), network.within(nth)
        )
        machines.applications.append(one)
        one.log = folder / f"application-{nth}.log"
        one.start()
    until_ready(machines.applications)
    machines.balancer = Balancer(folder, f"{HERE}:8420", machines.applications)
    machines.balancer.start()


# What happens. Each answers what mends it, once people have worked on for a while.


def node_dies(machines: Machines, nth: int) -> Callable[[], None]:
    """A node is killed; it comes back by itself and is given what it missed by another than the one that serves."""
    node = machines.group.nodes[nth]
    node.kill()
    return lambda: machines.group.launch(node)


def node_freezes(machines: Machines, nth: int) -> Callable[[], None]:
    """A node stands still, with every line to it open."""
    node = machines.group.nodes[nth]
    node.signal(signal.SIGSTOP)
    return lambda: node.signal(signal.SIGCONT)


def machine_is_cut_off(machines: Machines, nth: int) -> Callable[[], None]:
    """A machine loses its cable; whoever asks it there is told why it cannot answer."""
    machines.network.pull(nth + 1)
    if nth < len(machines.applications):
        shown.minority_says_why(machines, nth, SILENT_S)
    return lambda: machines.network.plug_in(nth + 1)


def application_dies(machines: Machines, nth: int) -> Callable[[], None]:
    """A process of the application dies with its workers."""
    one = machines.applications[nth % 2]
    one.kill()
    return one.start


EVENTS: list[tuple[str, Callable[[Machines, int], Callable[[], None]], float]] = [
    ("a node dies", node_dies, DIED_S),
    ("a node freezes", node_freezes, SILENT_S),
    ("a machine is cut off", machine_is_cut_off, SILENT_S),
    ("a process dies", application_dies, DIED_S),
]


def happens(machines: Machines, title: str, event: Callable[..., Any], most_s: float, nth: int) -> None:
    """Let something happen, mend it, and look how long anybody waited for the next answer; raises SystemExit."""
    begun = time.monotonic()
    mend = event(machines, nth)
    time.sleep(most_s)  # so long nothing is mended: people work on without it
    longest = longest_wait(machines.workers or [], begun)
    mend()
    machines.whole()
    if title == "a node dies":
        shown.donor_is_not_serving(machines, nth)
    name = machines.group.nodes[nth].name
    print(f"  {title:22} {name}: the longest wait {longest:4.1f} s (at most {most_s:g})", flush=True)
    if longest > most_s:
        raise SystemExit(f"{title}: somebody waited {longest:.1f} s")
    time.sleep(CALM_S)


def trial(machines: Machines, seed: int) -> None:
    """People work; everything happens once, in an order and to machines of this seed; then all is counted."""
    chance = random.Random(seed)  # noqa: S311 (an order of events)
    workers = [Worker(f"http://{HERE}:8420", f"load{nth}", WORD, nth) for nth in range(PEOPLE)]
    machines.workers, measured, over = workers, Measured(), threading.Event()
    for worker in workers:
        worker.random = random.Random(seed * 100 + worker.nth)  # noqa: S311 (when somebody asks)
        worker.begin()
    lock = threading.Lock()

    def works(worker: Worker) -> None:
        while not over.is_set():
            worker.work(2.0, FASTER, measured, lock)

    threads = [threading.Thread(target=works, args=(worker,), daemon=True) for worker in workers]
    for thread in threads:
        thread.start()
    time.sleep(CALM_S)
    events = [(title, event, most, chance.randrange(3)) for title, event, most in EVENTS]
    events[0] = (*events[0][:3], seed % 2)  # a node that serves
    chance.shuffle(events)
    try:
        for title, event, most, nth in events:
            happens(machines, title, event, most, nth)
        versions.roll(machines, machines.folder / f"version-{seed}", seed)
    finally:
        over.set()
        for thread in threads:
            thread.join(timeout=90)
    asked = sum(len(worker.asked) for worker in workers)
    again = sum(one.times - 1 for worker in workers for one in worker.asked)
    if measured.wrong:
        raise SystemExit(f"not answered as it should be: {measured.wrong[:5]}")
    shown.all_is_there_once(machines, workers)
    print(
        f"  seed {seed}: {asked} things asked, {again} of them again; each is there once, on every node", flush=True
    )
    told = sum((worker.refusals for worker in workers), Counter[str]()).most_common(4)
    print(f"    told meanwhile: {dict(told)}", flush=True)


def two_at_once(machines: Machines) -> None:
    """One blank, booked from two bars on two nodes, committing together: once, or SystemExit is raised."""
    os.environ.update(machines.environment(2, timeout=30))
    import django

    django.setup()
    case = booking.made()
    both = [machines.environment(0, timeout=30), machines.environment(1, timeout=30)]
    locked, _ = booking.booked_together(both, case, CONTROL, lambda: booking.taken_back(case), lock=True)
    times, ends = booking.booked_together(both, case, ROUNDS, lambda: booking.taken_back(case))
    print(f"  one blank from two bars, {ROUNDS} times: booked {dict(times)}; {dict(ends)}", flush=True)
    print(f"    with locks that are not written it was booked {dict(locked)} of {CONTROL} times", flush=True)
    if times != {1: ROUNDS}:
        raise SystemExit("one blank was booked twice, or not at all")
    if not any(count > 1 for count in locked):
        raise SystemExit("the trial cannot fail: locks alone kept the two apart as well")


def main() -> int:
    """Build it, try it, take it away."""
    parser = argparse.ArgumentParser(description=__doc__)
    parser.add_argument("--seeds", type=int, nargs="*", default=[1, 2, 3])
    given = parser.parse_args()
    if os.getuid() != 0:
        raise SystemExit("Run as root: it makes networks, and takes them away again.")
    os.chdir(demo.ROOT)
    signal.signal(signal.SIGTERM, demo._stopping)
    begun, folder = time.monotonic(), Path(tempfile.mkdtemp(prefix="ps-trial-"))
    folder.chmod(0o711)
    machines: Machines | None = None
    with Network(3) as network:
        try:
            machines = built(folder, network)
            start(machines)
            print(f"Three nodes, two processes, one address after {time.monotonic() - begun:.0f} s.", flush=True)
            shown.another_process_knows(machines, WORD)
            shown.own_writing_is_seen(machines, WORD)
            two_at_once(machines)
            for seed in given.seeds:
                trial(machines, seed)
        except (urllib.error.HTTPError, SystemExit):
            for path in sorted(folder.glob("application-*.log")):
                lines = [line for line in path.read_text(errors="replace").splitlines() if line[:1] in "EW"]
                print(path.name, *lines[-12:], sep="\n  ")
            raise
        finally:
            if machines is not None:
                for one in machines.applications:
                    one.kill()
                if machines.balancer is not None:
                    machines.balancer.stop()
                for node in machines.group.nodes:
                    node.signal(signal.SIGCONT)
                    node.kill()
            shutil.rmtree(folder, ignore_errors=True)
    print(f"Nothing was lost, nothing is twice: {time.monotonic() - begun:.0f} s.")
    return 0


if __name__ == "__main__":
    raise SystemExit(main())
