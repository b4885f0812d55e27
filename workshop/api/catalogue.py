"""What can be chosen: styles, profiles, metals, blades, rules, scales, straight from ringcraft's tables."""

from __future__ import annotations

from typing import Any

from django.http import HttpRequest
from ninja import Router, Schema

from ringcraft import __version__
from ringcraft.measure.sizes import SCALES
from ringcraft.metals import ALL_METALS, BLADES, FAMILIES, METALS
from ringcraft.parts import PARTS
from ringcraft.planning.request import LEAVE
from ringcraft.planning.rules import RULES
from ringcraft.resize.asking import FEATURES, SETTINGS, STONES
from ringcraft.routes.steps import STATIONS
from ringcraft.sections import PROFILES
from ringcraft.stock.drawer import KINDS as STOCK_KINDS
from ringcraft.stock.melt.mixing import STATES
from ringcraft.styles import STYLES
from ringcraft.styles.base import Style
from ringcraft.styles.orders import begins
from ringcraft.styles.words import EVERY_RING
from ringcraft.work.fields import FieldSpec, Option, PartSpec, first_text, word_begins
from ringcraft.works import WORKS
from workshop.api.signed_in import person, shop
from workshop.gauges.models import KINDS
from workshop.jobs.models import PLACES
from workshop.people.preferences import Preferences, preferences_of

router = Router()


class Named(Schema):
    """Something that can be chosen: its key and its words."""

    key: str
    title: str


class ProfileChoice(Named):
    """A profile and the fields of the stock it needs beside the thickness."""

    needs: list[str]


class MetalChoice(Named):
    """A metal and its family."""

    family: str


class FamilyChoice(Named):
    """A family of metals and its tone on paper and in the dim theme."""

    tone: str
    dim_tone: str


class LeaveChoice(Named):
    """A policy and what it means."""

    why: str


class PartOut(Schema):
    """A word inside a word that has several; ``begins`` are its fields as a new order begins, by their paths."""

    field: str
    label: str
    before: str
    after: str
    kind: str
    placeholder: str
    choices: list[Option]
    listed: str
    when: str
    seen: str
    begins: dict[str, str]


class WordOut(PartOut):
    """A word of a style's sentence; ``first`` is the part that a word of several begins with."""

    first: str
    parts: list[PartOut]
    most: int
    least: int


class StyleChoice(Named):
    """A style, the words its sentence needs, and what it can be made from.

    ``begins`` are the fields of the order that it begins with, by their paths, as the asker's shop types them.
    """

    begins: dict[str, str]
    words: list[WordOut]
    stock_says: str
    profiles: list[str]
    leave: str
    joined: bool


class PlaceChoice(Named):
    """Where a job can be instead of on the bench, and its short name on the bench's line."""

    short: str


class StockKindChoice(Named):
    """A kind of stock, and how it is told: by its length, as a sheet, or by its mass alone."""

    counted: str


class Catalogue(Schema):
    """Everything a sentence can choose from; ``labels`` are how an order's fields are called, by kind of work, and
    ``sentences`` its own words where a kind has such, a paragraph each.
    """

    engine: str
    units: str
    usual: Preferences
    styles: list[StyleChoice]
    profiles: list[ProfileChoice]
    metals: list[MetalChoice]
    families: list[FamilyChoice]
    ring_metals: list[MetalChoice]
    stones: list[Named]
    settings: list[Named]
    features: list[Named]
    parts: list[Named]
    part_metals: list[Named]
    blades: list[Named]
    rules: list[Named]
    leave: list[LeaveChoice]
    scales: list[Named]
    stations: list[Named]
    gauge_kinds: list[Named]
    places: list[PlaceChoice]
    stock_kinds: list[StockKindChoice]
    scrap_states: list[Named]
    labels: dict[str, dict[str, str]]
    sentences: dict[str, list[list[WordOut]]]


PART_METALS = [Named(key="", title="the same metal"), *(Named(key=m.key, title=m.title) for m in METALS.values())]


def _style(style: Style[Any], units: str) -> StyleChoice:
    return StyleChoice(
        key=style.key,
        title=style.title,
        begins=begins(style, units),
        words=[_word(word, units) for word in (*style.words, *EVERY_RING)],
        stock_says=style.stock_says,
        profiles=list(style.profiles),
        leave=style.leave,
        joined=style.joined,
    )


def _word(word: FieldSpec, units: str) -> WordOut:
    parts = [PartOut(**_part(part, units)) for part in word.parts]
    first = word.first if word.kind == "one-of" else ""
    return WordOut(**_part(word, units), first=str(first), parts=parts, most=word.most, least=word.least)


def _part(part: PartSpec, units: str) -> dict[str, Any]:
    plain = {name: getattr(part, name) for name in ("field", "label", "before", "kind", "listed", "when", "seen")}
    told = {"after": part.after.replace("{mm}", units), "placeholder": first_text(part.placeholder, units)}
    return {**plain, **told, "choices": list(part.choices), "begins": word_begins(part, units)}


@router.get("", response=Catalogue, operation_id="catalogue")
def catalogue(request: HttpRequest) -> Catalogue:
    """What can be chosen, in the asker's units."""
    units = preferences_of(person(request), shop(request)).units
    return Catalogue(
        engine=__version__,
        units=units,
        usual=Preferences(),
        styles=[_style(style, units) for style in STYLES.values()],
        profiles=[ProfileChoice(key=p.key, title=p.title, needs=list(p.needs)) for p in PROFILES.values()],
        metals=[MetalChoice(key=m.key, title=m.title, family=m.family) for m in METALS.values()],
        ring_metals=[MetalChoice(key=m.key, title=m.title, family=m.family) for m in ALL_METALS.values()],
        stones=[Named(key=key, title=row["title"]) for key, row in STONES.items()],
        settings=[Named(key=key, title=row["title"]) for key, row in SETTINGS.items()],
        features=[Named(key=key, title=row["title"]) for key, row in FEATURES.items()],
        parts=[Named(key=key, title=kind.title) for key, kind in PARTS.items()],
        part_metals=PART_METALS,
        families=[
            FamilyChoice(key=f.key, title=f.title, tone=f.tone, dim_tone=f.dim_tone) for f in FAMILIES.values()
        ],
        blades=[Named(key=key, title=key) for key in BLADES],
        rules=[Named(key=r.key, title=r.title) for r in RULES.values()],
        leave=[LeaveChoice(key=key, title=key, why=why) for key, why in LEAVE.items()],
        scales=[Named(key=s.key, title=s.title) for s in SCALES.values()],
        places=[PlaceChoice(key=key, title=p.title, short=p.short) for key, p in PLACES.items()],
        gauge_kinds=[Named(key=key, title=title) for key, title in KINDS.items()],
        stock_kinds=[StockKindChoice(key=k, title=one.title, counted=one.counted) for k, one in STOCK_KINDS.items()],
        scrap_states=[Named(key=key, title=title) for key, title in STATES.items()],
        labels={key: dict(work.words({}).labels) for key, work in WORKS.items()},
        sentences={k: [[_word(word, units) for word in part] for part in work.says] for k, work in WORKS.items()},
        stations=[Named(key=key, title=key.replace("-", " ")) for key in STATIONS],
    )
