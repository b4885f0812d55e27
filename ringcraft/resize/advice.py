"""Which way to resize a ring: each way weighed, the rules of the table held against it, the best first."""

from __future__ import annotations

from collections.abc import Iterator, Mapping, Sequence
from dataclasses import dataclass, field, fields, replace
from typing import Any

from ringcraft.errors import CraftError
from ringcraft.metals import BARRED
from ringcraft.planning.joints import Joint
from ringcraft.planning.ledger import Term, total, worded
from ringcraft.resize.case import LEAST_WALL_MM, Case
from ringcraft.resize.methods import COLD, METHODS, TORCH
from ringcraft.resize.methods.base import ADVICE, Advice, Lead, Method, Value, Weighed
from ringcraft.resize.methods.true_first import needed
from ringcraft.resize.passes import beyond
from ringcraft.resize.places import Cut, cut_of
from ringcraft.resize.soldering import check_heats, joints_for
from ringcraft.resize.stones import StoneAdvice, fire_of, left_as_set, stone_advice, words_of
from ringcraft.tables import rows
from ringcraft.units import capital, fill, placeholders

HEAD_LIFTS_MM, HEAD_LIFTS_FAR_MM = 0.15, 0.35  # of a head off its new curve; our own judgement
MOST_SMALLER = 3.0  # US sizes: more is a ring made anew; our own judgement
LONG_HEAD_DEG, LONG_HEAD_SIZES = (
    60.0,
    1.0,
)  # a head over so much of the ring goes smaller by one size at most; the same
TWO_SIZES = 2.0  # US sizes, from which a lower part is replaced; common practice, no published source


@dataclass(frozen=True)
class Facts:
    """What the rules of ``tables/resize-rules.toml`` ask of a case, each a yes or a no."""

    barred: bool
    unsizeable: bool
    unknown_metal: bool
    eternity: bool
    tension_set: bool
    hollow: bool
    inlay: bool
    pattern: bool
    engraved: bool
    two_tone: bool
    plated: bool
    plated_base: bool
    filled: bool
    soft_solder: bool
    old_seam: bool
    cracked: bool
    two_tone_head: bool
    over_three_smaller: bool
    long_head_smaller: bool
    is_set: bool
    seam_open: bool
    strain_over_half: bool
    strain_over_half_hard: bool
    strain_over_size: bool
    thin_after: bool
    thin_shank: bool
    over_two_sizes: bool
    over_two_sizes_set: bool
    reshank_not_needed: bool
    head_lifts: bool
    head_lifts_far: bool
    school_adds: bool
    stones_out: bool = False
    stones_stuck: bool = False
    stones_off: bool = False
    stones_loose: bool = False
    water_shown: bool = False
    water_not_shown: bool = False
    glued_wet: bool = False
    glued_wet_strict: bool = False
    insert_over_third: bool = False
    no_upper_part: bool = False

    @classmethod
    def names(cls) -> frozenset[str]:
        """What a rule can ask for."""
        return frozenset(one.name for one in fields(cls))


#: The words that a rule's reason can have.
WORDS = frozenset({
    "metal", "barred_why", "pattern_words", "strain", "half_limit", "size_limit", "after", "least", "thinnest",
    "sizes", "insert", "lift", "out_words", "off_words", "loose_words", "wet_words", "wet_why", "stuck_words",
    "stuck_why", "plating", "not_annealed", "holds", "head_deg",
})  # fmt: skip


@dataclass(frozen=True)
class MethodView:
    """A way as it is answered: its advice with every reason, its figures, its ledger and what that adds up to, the
    figure that leads, what to do, and which rules were held against it. ``quiet``: nothing speaks against it but that
    it is not needed, so it is only named.
    """

    key: str
    title: str
    advice: Advice
    why: tuple[str, ...]
    figures: Mapping[str, Value]
    terms: tuple[Term, ...]
    sum_text: str
    lead: Lead
    says: tuple[str, ...]
    torch: bool
    rules: tuple[str, ...] = field(default=())
    quiet: bool = False


@dataclass(frozen=True)
class About:
    """What a way cuts and where its seams lie, its joints, and what becomes of the stones by it.

    ``problem`` is why its joints cannot be soldered as they are wanted.
    """

    cut: Cut
    joints: tuple[Joint, ...]
    stones: tuple[StoneAdvice, ...]
    problem: CraftError | None = None


NOTHING_CUT = About(Cut(0.0, 0.0, ()), (), ())


@dataclass(frozen=True)
class Judged:
    """A way with what it came to; ``against`` are the reasons that its advice is no better."""

    method: Method
    weighed: Weighed
    view: MethodView
    against: tuple[tuple[str, str], ...] = ()
    about: About = NOTHING_CUT


def is_far(case: Case) -> bool:
    """Whether the change is more than two sizes, beyond what a sum of floats may be off."""
    return abs(case.us_sizes) > TWO_SIZES + 1e-9


def facts_of(case: Case) -> Facts:
    """The facts of a ring that rules ask for, whatever the way."""
    half, size = case.stretch_limits
    lift = abs(case.head.lift_mm) if case.head else 0.0
    thin = case.thinnest_mm < LEAST_WALL_MM
    far = is_far(case)
    return Facts(
        barred=case.metal.key in BARRED,
        unsizeable=case.has("unsizeable-metal"),
        unknown_metal=not case.is_known,
        eternity=case.has("eternity"),
        tension_set=case.is_tension_set,
        hollow=case.has("hollow"),
        inlay=case.has("inlay"),
        pattern=case.has("pattern-all-round"),
        engraved=case.has("engraved-inside"),
        two_tone=case.has("two-tone"),
        two_tone_head=case.has("two-tone-head"),
        plated=case.is_plated and not case.has("plated-base"),
        plated_base=case.has("plated-base"),
        filled=case.has("filled"),
        soft_solder=case.has("soft-solder"),
        old_seam=case.has("old-seam") and not case.order.seam_open,
        cracked=case.has("cracked"),
        is_set=case.is_set,
        seam_open=case.order.seam_open,
        strain_over_half=half < case.strain <= size and not case.not_annealed,
        strain_over_half_hard=half < case.strain <= size and bool(case.not_annealed),
        strain_over_size=case.strain > size,
        thin_after=case.change_mm > 0 and case.thickness_after_mm < LEAST_WALL_MM,
        thin_shank=thin,
        over_two_sizes=far and case.change_mm > 0,
        over_two_sizes_set=far and case.change_mm < 0 and case.is_set,
        over_three_smaller=case.change_mm < 0 and abs(case.us_sizes) > MOST_SMALLER + 1e-9,
        long_head_smaller=case.change_mm < 0
        and case.head is not None
        and case.head.angle_deg > LONG_HEAD_DEG
        and abs(case.us_sizes) > LONG_HEAD_SIZES + 1e-9,
        reshank_not_needed=not thin and (not far or case.change_mm < 0),
        head_lifts=HEAD_LIFTS_MM < lift <= HEAD_LIFTS_FAR_MM,
        head_lifts_far=lift > HEAD_LIFTS_FAR_MM,
        school_adds=case.order.half_size == "add",
    )


def stone_facts(case: Case, stones: Sequence[StoneAdvice]) -> dict[str, bool]:
    """What becomes of the stones by one way, as rules ask for it."""
    wet = [one for one in stones if one.care == "water"]
    loose = [one for one in stones if one.care == "loose"]
    strict = case.order.glued_stones == "strict"
    return {
        "stones_out": any(one.care == "out" and not one.stuck for one in stones),
        "stones_stuck": any(one.stuck for one in stones),
        "stones_off": any(one.care == "off" for one in stones),
        "stones_loose": bool(loose),
        "water_shown": any(one.torch == "yes" for one in wet),
        "water_not_shown": any(one.torch != "yes" for one in wet),
        "glued_wet": any(one.glued for one in wet),
        "glued_wet_strict": strict and any(one.glued for one in wet),
    }


def words_for(case: Case) -> dict[str, str]:
    """The words that the rules' reasons are filled with, whatever the way."""
    half, size = case.stretch_limits
    pitch = f": its pitch is {case.told(case.order.pattern.pitch_mm)}" if case.order.pattern else ""
    return {
        "metal": case.metal.title,
        "barred_why": BARRED.get(case.metal.key, ""),
        "pattern_words": pitch,
        "strain": f"{100 * case.strain:.2f}",
        "half_limit": percent(half),
        "size_limit": percent(size),
        "after": case.told(case.thickness_after_mm),
        "least": case.told(LEAST_WALL_MM, ".1f mm"),
        "thinnest": case.told(case.thinnest_mm),
        "sizes": f"{abs(case.us_sizes):.2f} US sizes",
        "lift": case.told(abs(case.head.lift_mm) if case.head else 0.0),
        "plating": "its plating" if case.has("plated") else f"the plating that {case.metal.title} usually has",
        "not_annealed": case.not_annealed,
        "holds": case.holds,
        "head_deg": f"{case.head.angle_deg:.0f}" if case.head else "",
        "insert": "",
    }


def percent(share: float) -> str:
    """A share in percent, as exactly as it is: 2.25, 4.5.

    >>> percent(0.0225), percent(0.0125)
    ('2.25', '1.25')
    """
    return f"{100 * share:.2f}".rstrip("0").rstrip(".")


def stone_words(stones: Sequence[StoneAdvice]) -> dict[str, str]:
    """The words of the stones by one way; those that a rule is not about are empty."""
    by: dict[str, list[StoneAdvice]] = {}
    for one in stones:
        by.setdefault("stuck" if one.stuck else one.care, []).append(one)
    wet = by.get("water", [])
    return {
        "out_words": words_of(by.get("out", [])),
        "off_words": words_of(by.get("off", [])),
        "loose_words": words_of(by.get("loose", [])),
        "wet_words": words_of(wet),
        "wet_why": "; ".join(dict.fromkeys(one.why.partition("; ")[2] for one in wet)),
        "stuck_words": words_of(by.get("stuck", [])),
        "stuck_why": "; ".join(dict.fromkeys(one.why.partition("; ")[2] for one in by.get("stuck", []))),
    }


def _methods_of(rule: Mapping[str, Any]) -> Iterator[str]:
    for name in rule["methods"]:
        if name in ("cold", "all"):
            yield from COLD
        if name in ("torch", "all"):
            yield from TORCH
        if name in METHODS:
            yield name


RULES: tuple[Mapping[str, Any], ...] = tuple(rows("resize-rules"))


def check_rules() -> None:
    """Check every name that the rules ask for; raises LookupError at the first that nothing gives."""
    for rule in RULES:
        said = set(placeholders(rule["why"])) - WORDS
        unknown = [name for name in rule["methods"] if name not in (*METHODS, "cold", "torch", "all")]
        if rule["when"] not in Facts.names() or said or unknown or rule["at_most"] not in ADVICE:
            raise LookupError(f"resize-rules.toml, {rule['key']}: something there is not known")


check_rules()


def judge(case: Case, rules: Sequence[Mapping[str, Any]] = RULES) -> tuple[Judged, ...]:
    """Every way that is asked about for this case with its advice and reasons, the best first."""
    if needed(case):
        only = METHODS["true-first"]
        return (_judged(case, only, only.weigh(case), "do", [], []),)
    general, words = facts_of(case), words_for(case)
    out: list[Judged] = []
    for method in METHODS.values():
        if method.key in ("true-first", "refuse") or not method.suits(case):
            continue
        weighed = method.weigh(case)
        about = cut_and_stones(case, method, weighed)
        known = {**vars(general), **stone_facts(case, about.stones), **weighed.facts}
        held = [rule for rule in rules if known.get(rule["when"]) and method.key in _methods_of(rule)]
        held = [rule for rule in held if rule["alone"]] or held
        held.sort(key=lambda rule: -ADVICE.index(rule["at_most"]))
        advice = ADVICE[max((ADVICE.index(rule["at_most"]) for rule in held), default=0)]
        told = {**words, **stone_words(about.stones), **weighed.words}
        why = [fill(rule["why"], told) for rule in held]
        worst = tuple((rule["key"], said) for said, rule in zip(why, held, strict=True) if rule["at_most"] == advice)
        one = _judged(case, method, weighed, advice, why, [rule["key"] for rule in held])
        out.append(replace(one, against=worst, about=about))
    out = _gentler_first(case, out)
    return _ranked(case, [*out, _refused(case, out)])


def cut_and_stones(case: Case, method: Method, weighed: Weighed) -> About:
    """What a way cuts, its joints, and what becomes of the stones by it."""
    more = beyond(case, method, weighed)
    cut, problem = cut_of(case, method, weighed, more), None
    try:
        if weighed.insert is not None and method.torch:
            check_heats(case, weighed.insert.finished_mm)
        joints = joints_for(case, method, cut)
    except CraftError as found:  # it matters only where this way is chosen
        joints, problem = (), found
    return About(cut, joints, stone_advice(case, cut, fire_of(case, cut, joints, more)), problem)


def _judged(
    case: Case, method: Method, weighed: Weighed, advice: Advice, why: Sequence[str], rules: Sequence[str]
) -> Judged:
    reasons = (*why, *weighed.why) if advice == "avoid" and method.key != "refuse" else (*weighed.why, *why)
    if why and (advice == "never" or (method.key == "refuse" and advice == "avoid")):
        reasons = tuple(why)
    view = MethodView(
        key=method.key,
        title=method.title,
        advice=advice,
        why=tuple(capital(one) for one in reasons),
        figures=weighed.figures,
        terms=worded(weighed.terms, case.order.units),
        sum_text=f"{case.length(total(weighed.terms)):.2f}",
        lead=weighed.lead,
        says=weighed.says,
        torch=method.torch,
        rules=tuple(rules),
        quiet=tuple(rules) == ("reshank-not-needed",) or (method.key == "refuse" and advice == "avoid"),
    )
    return Judged(method, weighed, view)


def _gentler_first(case: Case, judged: Sequence[Judged]) -> list[Judged]:
    """Where a ring can be done cold, the torch is only possible: a joint less is a joint less."""
    gentle = next((one for one in judged if not one.method.torch and one.view.advice == "do"), None)
    if gentle is None:
        return list(judged)
    why = f"{gentle.method.doing} is gentler: no heat"
    return [
        replace(
            _judged(case, one.method, one.weighed, "possible", [why], (*one.view.rules, "gentler")), about=one.about
        )
        if one.method.torch and one.view.advice == "do"
        else one
        for one in judged
    ]


#: Rules that say no for the ring itself, whatever is set in it: no heat of any way is weighed.
OF_THE_RING = {rule["key"] for rule in RULES if rule["alone"]}


def _refused(case: Case, judged: Sequence[Judged]) -> Judged:
    """Refusing it: what to do where nothing else is good."""
    method = METHODS["refuse"]
    weighed = method.weigh(case)
    fire = next((one.about for one in judged if one.method.torch), NOTHING_CUT)
    ring = [one for one in judged if set(one.view.rules) & OF_THE_RING]
    as_it_is = replace(NOTHING_CUT, stones=tuple(map(left_as_set, fire.stones)) if ring else fire.stones)
    if any(one.view.advice in ("do", "possible") for one in judged):
        return replace(_judged(case, method, weighed, "avoid", ["not needed: it can be done"], []), about=as_it_is)
    torch_first = sorted(judged, key=lambda one: not one.method.torch)
    against: dict[str, str] = {}  # what a rule says of several ways is said once, of the first
    for key, said in (pair for one in torch_first for pair in one.against):
        against.setdefault(key, capital(said))
    reasons = replace(weighed, why=(*dict.fromkeys(against.values()), *weighed.why))
    return replace(_judged(case, method, reasons, "do", [], []), about=as_it_is)


def _ranked(case: Case, judged: Sequence[Judged]) -> tuple[Judged, ...]:
    """The best advice first; among equals the one that suits so large a change, then the gentler."""
    suits = 3 if (is_far(case) and case.change_mm > 0) or case.thinnest_mm < LEAST_WALL_MM else 0

    def place(one: Judged) -> tuple[int, bool, int]:
        return ADVICE.index(one.view.advice), one.method.gentle < suits, one.method.gentle

    return tuple(sorted(judged, key=place))
