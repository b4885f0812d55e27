"""What an engine before this one worked out of jobs is worked out anew, beside the requests."""

from __future__ import annotations

import logging
from collections.abc import Callable
from functools import partial

from django.db import transaction
from django.db.models import QuerySet

from workshop.core.holding import hold_one
from workshop.core.tries import run_again
from workshop.jobs.models import Job

log = logging.getLogger(__name__)
AT_ONCE = 50


def catch_up(waiting: Callable[[QuerySet[Job]], QuerySet[Job]], reckon: Callable[[Job], None], what: str) -> int:
    """Work out anew what some jobs wait for, the newest first; how many that were.

    One job at a time, each in a transaction of its own, so that nobody waits for it. ``waiting`` are those of some
    jobs that do; ``what`` is told of one that cannot be worked out.
    """
    done, seen = 0, 2**62
    while True:
        keys = list(waiting(Job.objects.filter(pk__lt=seen)).order_by("-pk").values_list("pk", flat=True)[:AT_ONCE])
        if not keys:
            return done
        for pk in keys:
            seen = pk
            try:
                run_again(partial(_one, reckon, pk))
                done += 1
            except Exception:
                log.exception("%s of job %s cannot be worked out", what, pk)


@transaction.atomic
def _one(reckon: Callable[[Job], None], pk: int) -> None:
    reckon(hold_one(Job.objects.filter(pk=pk)))
