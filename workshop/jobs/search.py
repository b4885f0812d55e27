"""Finding a job by its customer, its name, its number or its ticket, among a hundred thousand."""

from __future__ import annotations

import re

from django.db.models import Q

from workshop.core.pages import Page, page_of
from workshop.jobs.models import Job, folded

MOST_WORDS = 6
LARGEST_NUMBER = 2**31 - 1


def find_jobs(workshop_id: int, words: str, limit: int = 20, offset: int = 0) -> Page[Job]:
    """The jobs of a workshop that have every one of the words, newest first.

    A word is any part of the customer's name, the job's name or the ticket, whatever its capitals and accents;
    figures, with or without ``#`` or ``no``, are the job's number too.
    """
    found = Job.objects.filter(workshop_id=workshop_id)
    for word in _words(words):
        found = found.filter(_has(word))
    return page_of(found.defer("plan", "order", "note", "left"), ("-number",), limit, offset)


def _words(text: str) -> list[str]:
    tidy = re.sub(r"(?i)\b(?:no|nr|job|ticket)\.?\s*(?=[#\d])", "", text[:200])
    return folded(tidy).split()[:MOST_WORDS]


def _has(word: str) -> Q:
    has = Q(words__contains=word)
    figures = word.removeprefix("#")
    if figures.isascii() and figures.isdecimal() and len(figures) < 11 and int(figures) <= LARGEST_NUMBER:
        has |= Q(number=int(figures))
    return has
