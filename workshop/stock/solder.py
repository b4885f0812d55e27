"""Solder that was flowed leaves the drawer when its step is done: as the shop's way says, or as somebody said."""

from __future__ import annotations

from dataclasses import dataclass

from django.db import transaction
from django.db.models import Q, Sum

from ringcraft.metals import SOLDERS
from ringcraft.reading import tidy
from ringcraft.work.kept import KeptPlanError
from ringcraft.work.solder_used import SolderUsed, solder_steps, solder_used
from workshop.core.history import Actor, record
from workshop.jobs.locking import locked
from workshop.jobs.measures import values_of
from workshop.jobs.models import Job, StepDone
from workshop.jobs.plans import followed, kept_plan, looks_of
from workshop.stock.booking import Booking, hold_drawer
from workshop.stock.models import Movement, StockItem, called_of

KIND = "solder"
ALWAYS, ASK, NEVER = "always", "ask", "never"


@dataclass(frozen=True)
class SolderTaken:
    """Solder that was taken from the drawer for a job: from which piece, how much in all [g]."""

    item_id: int
    called: str
    mass_g: float


def solder_taken(job_id: int) -> list[SolderTaken]:
    """What a job has taken of each solder; what was given back is not in it."""
    rows = Movement.objects.filter(job_id=job_id, kind=KIND).order_by("item_id")
    sums = rows.values_list("item_id", "item__name", "item__kind", "item__number").annotate(Sum("mass_g"))
    return [
        SolderTaken(item_id, called_of(name, kind, number), -float(mass))
        for item_id, name, kind, number, mass in sums
        if mass < 0
    ]


def piece_of(workshop_id: int, job_id: int, solder: str) -> StockItem | None:
    """The piece in the drawer that a solder is taken from: the job's own before the shop's, the most of it first."""
    title = tidy(SOLDERS[solder].title)
    found = StockItem.objects.filter(
        Q(job=None) | Q(job_id=job_id), workshop_id=workshop_id, kind=KIND, mass_g__gt=0
    ).order_by("-job_id", "-mass_g", "number")
    return next((one for one in found if title in tidy(f"{one.solder} {one.name}") or solder in one.solder), None)


def _way(job: Job, way: str) -> str:
    """What holds for a job: its own answer, else the shop's way."""
    return {"yes": ALWAYS, "no": NEVER}.get(job.takes_solder, way)


def after_tick(actor: Actor, job: Job, step_key: str, way: str) -> str:
    """Book what a ticked step has flowed, or give it back where it was not done after all; what is to be asked.

    Inside the caller's transaction, the job held.
    """
    try:
        if step_key not in solder_steps(kept_plan(job)):
            return ""
        used = solder_used(followed(job, values_of(job)).now, step_key, looks_of(job))
    except KeptPlanError:
        return ""
    if not used:
        return ""
    holds = _way(job, way)
    if holds == ALWAYS:
        _settle(actor, job, step_key, used)
    elif holds == ASK:
        return ask_about(job, way)
    return ""


def ask_about(job: Job, way: str) -> str:
    """The question about a job whose solder nobody has decided on yet; empty where there is none."""
    if _way(job, way) != ASK:
        return ""
    used = [one for _, listed in _flowed(job) for one in listed]
    told = []
    for solder in dict.fromkeys(one.solder for one in used):
        piece = piece_of(job.workshop_id, job.pk, solder)
        mass = sum(one.mass_g for one in used if one.solder == solder)
        if piece is not None:
            told.append(f"{mass:.3f} g of {SOLDERS[solder].title} from “{piece.called}”")
    return f"Take {' and '.join(told)} in the drawer, and so for each joint of this job?" if told else ""


def _flowed(job: Job) -> list[tuple[str, tuple[SolderUsed, ...]]]:
    """The steps of a job that are done and have flowed solder, and what that was."""
    try:
        now, looks = followed(job, values_of(job)).now, looks_of(job)
    except KeptPlanError:
        return []
    done = _times(job)
    return [(key, solder_used(now, key, looks)) for key in solder_steps(now) if done.get(key)]


def _times(job: Job) -> dict[str, int]:
    """How often each step of the job's own route was done; what was taken back does not count."""
    out: dict[str, int] = {}
    rows = StepDone.objects.filter(job=job, route_key=job.route_key, taken_back_at=None).values_list("key", flat=True)
    for key in rows:
        out[key] = out.get(key, 0) + 1
    return out


@transaction.atomic
def decide(actor: Actor, job_id: int, take: bool) -> Job:
    """Keep whether a job's solder is taken from the drawer; what was flowed so far is booked. Answers the job."""
    job = locked(actor, job_id)
    job.takes_solder = "yes" if take else "no"
    job.save(update_fields=["takes_solder"])
    record(actor, job, "solder-decided", after={"takes_solder": job.takes_solder})
    for key, used in _flowed(job) if take else ():
        _settle(actor, job, key, used)
    return job


def _settle(actor: Actor, job: Job, step_key: str, used: tuple[SolderUsed, ...]) -> None:
    """Make what is booked of a step what its times flowed; no more than is there, and never less than nothing."""
    hold_drawer(actor, [job.pk])
    times = _times(job).get(step_key, 0)
    booking = Booking(actor)
    for one in used:
        mark = f"{step_key}:{one.solder}"[:60]
        rows = Movement.objects.filter(job=job, kind=KIND, blank=mark)
        booked = -float(rows.aggregate(all=Sum("mass_g"))["all"] or 0)
        wanted = one.mass_g * times
        if abs(wanted - booked) < 0.0001:
            continue
        if wanted > booked:
            piece = piece_of(actor.workshop_id, job.pk, one.solder)
            if piece is None:
                continue
            item = StockItem.objects.get(pk=piece.pk)
            mass = min(wanted - booked, float(item.mass_g))
            note = f"{one.chips} chips" if one.chips != 1 else "1 chip"
        else:
            last = rows.filter(mass_g__lt=0).select_related("item").order_by("-at", "-id").first()
            if last is None:
                continue
            item = StockItem.objects.get(pk=last.item_id)
            mass, note = wanted - booked, "not flowed after all"
        booking.move(item, KIND, -mass, None, job=job, blank=mark, note=note)
        record(actor, item, "moved", after={"move": KIND, "mass_g": round(-mass, 4)})
