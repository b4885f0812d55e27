"""What can be chosen: styles, profiles, metals, blades, rules, scales, straight from ringcraft's tables."""

from __future__ import annotations

from django.http import HttpRequest
from ninja import Router, Schema

from ringcraft import __version__
from ringcraft.metals import BLADES, METALS
from ringcraft.planning.request import LEAVE
from ringcraft.planning.rules import RULES
from ringcraft.routes import STATIONS
from ringcraft.sections import PROFILES
from ringcraft.sizes import SCALES
from ringcraft.styles import STYLES
from ringcraft.styles.base import Word
from workshop.gauges.models import KINDS
from workshop.jobs.models import PLACES

router = Router()


class Choice(Schema):
    """Something that can be chosen: its key and its words."""

    key: str
    title: str


class ProfileChoice(Choice):
    """A profile and the fields of the stock it needs beside the thickness."""

    needs: list[str]


class MetalChoice(Choice):
    """A metal and the family that gives it its tone."""

    family: str


class LeaveChoice(Choice):
    """A policy and what it means."""

    why: str


class StyleChoice(Choice):
    """A style, the stock it begins with, the words its sentence needs, and what it can be made from."""

    first: dict[str, str]
    words: list[Word]
    stock_says: str
    profiles: list[str]
    leave: str
    joined: bool


class PlaceChoice(Choice):
    """Where a job can be instead of on the bench, and its short name on the bench's line."""

    short: str


class Catalogue(Schema):
    """Everything a sentence can choose from."""

    engine: str
    styles: list[StyleChoice]
    profiles: list[ProfileChoice]
    metals: list[MetalChoice]
    blades: list[Choice]
    rules: list[Choice]
    leave: list[LeaveChoice]
    scales: list[Choice]
    stations: list[Choice]
    gauge_kinds: list[Choice]
    places: list[PlaceChoice]


@router.get("", response=Catalogue, operation_id="catalogue")
def catalogue(request: HttpRequest) -> Catalogue:
    """What can be chosen."""
    return Catalogue(
        engine=__version__,
        styles=[
            StyleChoice(
                key=s.key,
                title=s.title,
                first=dict(s.first),
                words=list(s.words),
                stock_says=s.stock_says,
                profiles=list(s.profiles),
                leave=s.leave,
                joined=s.joined,
            )
            for s in STYLES.values()
        ],
        profiles=[ProfileChoice(key=p.key, title=p.title, needs=list(p.needs)) for p in PROFILES.values()],
        metals=[MetalChoice(key=m.key, title=m.title, family=m.family) for m in METALS.values()],
        blades=[Choice(key=key, title=key) for key in BLADES],
        rules=[Choice(key=r.key, title=r.title) for r in RULES.values()],
        leave=[LeaveChoice(key=key, title=key, why=why) for key, why in LEAVE.items()],
        scales=[Choice(key=s.key, title=s.title) for s in SCALES.values()],
        places=[PlaceChoice(key=key, title=p.title, short=p.short) for key, p in PLACES.items()],
        gauge_kinds=[Choice(key=key, title=title) for key, title in KINDS.items()],
        stations=[Choice(key=key, title=key.replace("-", " ")) for key in STATIONS],
    )
