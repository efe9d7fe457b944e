"""A weight moved, at its height, until the boat floats level: G over the level hull's B."""

from yarekeel.core.quantities import Point
from yarekeel.stages.afloat import afloat
from yarekeel.stages.afloat.afloat import LevelMove
from yarekeel.stages.changes.change import Change, NoWay, Way, Words
from yarekeel.stages.changes.prices import SHIFTED
from yarekeel.stages.design import listing
from yarekeel.stages.design.craft import Craft
from yarekeel.stages.design.design import Design


def move_of(craft: Craft, item: int | None) -> LevelMove:
    """The move of a weight, by default of the loose one that goes least far. Raises NoWay where it would end outside the boat."""
    items = craft.items
    low, high = craft.hull.mesh.bounds
    if item is None:
        loose = [k for k, w in enumerate(items) if not w.structure and not w.fixed and w.mass_kg > 0]
        moves = [afloat.level_move(craft, k) for k in loose]
        inside = [m for m in moves if low[0] <= items[m.index].at_m[0] + m.forward <= high[0]]
        if not inside:
            raise NoWay("No loose weight can be moved far enough inside the boat; add ballast or reshape an end.")
        move = min(inside, key=lambda m: abs(m.forward))
    else:
        move = afloat.level_move(craft, item)
    x, y, _ = place_of(craft, move)
    if not (low[0] <= x <= high[0] and low[1] <= y <= high[1]):
        raise NoWay("It would have to go {by:fore_aft}, which is outside the boat.", {"by": move.forward, "name": move.name})
    return move


def place_of(craft: Craft, move: LevelMove, share: float = 1.0) -> Point:
    """Where a share of a move puts the weight, to a thousandth of a millimetre: no builder sets one finer."""
    x, y, z = craft.items[move.index].at_m
    return round(x + share * move.forward, 6) + 0.0, round(y + share * move.to_port, 6) + 0.0, round(z, 6) + 0.0


def way_of(craft: Craft, item: int | None) -> Way:
    """The move as a way: its amount is the share of it that is made. Raises NoWay."""
    move = move_of(craft, item)

    def make(share: float) -> Design:
        return listing.put(craft, move.index, place_of(craft, move, share), alone=True)

    def title(share: float, _: Craft) -> Words:
        return "{name} {by:fore_aft}", {"name": move.name, "by": share * move.forward}

    def work(share: float, _: Craft) -> Words:
        return SHIFTED, {}

    return Way(0.0, 1.0, make, title, work)


CHANGE = Change("move", "Move a weight", 5, lambda craft: way_of(craft, None), aim=None)
