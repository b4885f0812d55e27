"""The parts of a job beside its ring: their blanks, their joints, their facts and their routes, in one bundle."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, replace

from ringcraft.errors import CraftError, UnreadableError
from ringcraft.parts import PARTS
from ringcraft.parts.base import Host, MadePart
from ringcraft.planning.blank import Blank
from ringcraft.planning.context import RingContext
from ringcraft.planning.joints import Joint, joints_of
from ringcraft.planning.part_orders import PartOrder
from ringcraft.routes.building import as_own, blank_facts, joining_facts, metal_facts, seam_facts, start_of
from ringcraft.routes.facts import Fact, Facts
from ringcraft.vbench.pieces import Piece
from ringcraft.work.plan import Figure


@dataclass(frozen=True)
class Beside:
    """What is made beside a ring: each part as it was ordered, in order."""

    context: RingContext
    made: tuple[tuple[PartOrder, MadePart], ...] = ()

    @property
    def blanks(self) -> tuple[Blank, ...]:
        """The blanks of all parts."""
        return tuple(one.blank for _, one in self.made if one.blank is not None)

    @property
    def names(self) -> tuple[str, ...]:
        """The names of their pieces."""
        return tuple(blank.name for blank in self.blanks)

    @property
    def joints(self) -> tuple[Joint, ...]:
        """Each part's own seam: no part lies in another's heat, so each takes its metal's first solder."""
        order = self.context.order
        return tuple(
            joint
            for _, one in self.made
            if one.seam is not None
            for joint in joints_of(one.context.metal, [one.seam], one.context.book, order.seam_solders)
        )

    @property
    def routes(self) -> tuple[str, ...]:
        """The routes of their kinds, each once."""
        return tuple(dict.fromkeys(PARTS[order.part].route for order, _ in self.made))

    @property
    def figures(self) -> tuple[Figure, ...]:
        """The figures of all parts, each called after its part."""
        out = []
        for place, (order, one) in enumerate(self.made, start=1):
            title = one.blank.title if one.blank else PARTS[order.part].title
            for figure in one.figures:
                key = f"part-{place}-{figure.key}"
                out.append(Figure(key, f"{title}: {figure.title}", figure.value, figure.text, figure.why))
        return tuple(out)

    @property
    def says(self) -> tuple[str, ...]:
        """What is said of them: each thing once."""
        return tuple(dict.fromkeys(line for _, one in self.made for line in one.says))

    def start(self) -> dict[str, Piece]:
        """Their pieces as the stock that they are cut from."""
        out: dict[str, Piece] = {}
        for _, one in self.made:
            if one.blank is not None:
                out |= as_own(one.context, start_of(one.context, [one.blank]))
        return out

    def titles(self) -> dict[str, str]:
        """How their pieces are called."""
        return {blank.name: blank.title for blank in self.blanks}

    def with_facts(self, facts: Facts, taken: Sequence[Blank] = ()) -> Facts:
        """The facts of a ring with those of its parts; ``taken`` are blanks whose stock is known by now."""
        if not self.made:
            return facts
        now = {blank.name: blank for blank in taken}
        joints = {joint.key: joint for joint in self.joints}
        values: dict[str, Fact] = dict(facts.values)
        over, blanks, seams, roles = dict(facts.over), dict(facts.blanks), dict(facts.joints), dict(facts.roles)
        for order, one in self.made:
            if one.blank is None:
                values |= one.facts.given()
                continue
            name = one.blank.name
            blanks[name] = blank_facts(one.context, now.get(name, one.blank))
            over[name] = {**metal_facts(one.context), **joining_facts(one.context), **one.facts.given()}
            roles[order.part] = (*roles.get(order.part, ()), name)
            if name in joints:
                seams[name] = seam_facts(one.context, joints[name])
        return replace(
            facts,
            values=values,
            over=over,
            blanks=blanks,
            joints=seams,
            roles=roles,
            aside=(*facts.aside, *self.names),
        )


def parts_beside(context: RingContext, orders: Sequence[PartOrder], host: Host | None) -> Beside:
    """The parts that were ordered with a ring; raises CraftError at the part's own field."""
    made = []
    for place, order in enumerate(orders):
        again = order.part == "end-heights" and any(one.part == order.part for one in orders[:place])
        try:
            if again:
                raise UnreadableError("part", "Its ends are levelled once.", "Leave this one out.")
            one = PARTS[order.part].make(context, order, f"{order.part}-{place + 1}", host)
            made.append((order, _titled(one, orders, place)))
        except CraftError as problem:
            raise problem.at(f"parts.{place}.{problem.field}") from None
    return Beside(context, tuple(made))


def _titled(one: MadePart, orders: Sequence[PartOrder], place: int) -> MadePart:
    """Several of a kind are told apart by their number."""
    kind = [at for at, order in enumerate(orders) if order.part == orders[place].part]
    if one.blank is None or len(kind) == 1:
        return one
    return replace(one, blank=replace(one.blank, title=f"{one.blank.title} {kind.index(place) + 1}"))


def overrides(orders: Sequence[PartOrder]) -> Mapping[str, str]:
    """Which measure of a part takes the place of which field of the order, as dotted paths."""
    out: dict[str, str] = {}
    for place, order in enumerate(orders):
        kind, at = PARTS[order.part], f"parts.{place}"
        if kind.stock_field:
            out[f"stock-thickness@{order.part}-{place + 1}"] = f"{at}.{kind.stock_field}"
        for measure, field in kind.more.items():
            name = f"@{order.part}-{place + 1}" if kind.stock_field else ""
            out[f"{measure}{name}"] = f"{at}.{field}"
    return out
