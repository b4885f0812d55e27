"""Who may do what: one table of roles and acts, asked at every request of the person as they are then."""

from __future__ import annotations

from typing import Literal

from workshop.people.models import BENCH, COUNTER, OWNER, User

Act = Literal["prices", "estimate", "book", "correct", "calibrate", "ways", "invite", "export", "erase", "back-up"]

#: How each act is called.
ACTS: dict[Act, str] = {
    "prices": "see what the shop pays and reckons with",
    "estimate": "give an estimate",
    "book": "book in the drawer",
    "correct": "take back or delete",
    "calibrate": "calibrate the gauges",
    "ways": "set the workshop’s ways",
    "invite": "invite people and say what they may",
    "export": "take the records out",
    "erase": "erase a customer or a colleague",
    "back-up": "see to the backups",
}
#: The table. What money a bench sees is the owner's to say (the way ``bench_money``).
MAY: dict[str, frozenset[Act]] = {
    OWNER: frozenset(ACTS),
    BENCH: frozenset({"book", "correct", "calibrate"}),
    COUNTER: frozenset({"estimate"}),
}
MONEY: frozenset[Act] = frozenset({"prices", "estimate"})
SAYS = {
    OWNER: "may do everything here.",
    BENCH: "makes the rings: the drawer without its prices, the gauges; no money unless the owner lets it.",
    COUNTER: "takes rings in and hands them out: what the customer is asked, never what the shop reckons with.",
}


class NotAllowed(Exception):
    """This person may not do that here."""

    def __init__(self, act: Act) -> None:
        super().__init__(act)
        self.act = act


def may(user: User) -> frozenset[Act]:
    """What a person may do; nothing for a role that is not known."""
    acts = MAY.get(user.role, frozenset())
    if user.role == BENCH and user.workshop is not None and user.workshop.preferences.get("bench_money") is True:
        return acts | MONEY
    return acts


def sees_prices(user: User) -> bool:
    """Whether a person may see what the shop pays and reckons with."""
    return "prices" in may(user)


def need(user: User, act: Act) -> None:
    """Raise NotAllowed where a person may not do that."""
    if act not in may(user):
        raise NotAllowed(act)


def sight(user: User) -> str:
    """What a person's answers were made for: an answer that was kept is given again to the same sight only."""
    return f"{user.role}+" if user.role == BENCH and sees_prices(user) else user.role
