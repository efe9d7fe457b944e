"""The hulls of a pair further apart."""

from yarekeel.core.geometry.families import beam_of
from yarekeel.stages.changes.change import Change, Way, Words
from yarekeel.stages.design.craft import Craft
from yarekeel.stages.design.design import Design
from yarekeel.stages.design.outers import is_pair, outers_of
from yarekeel.stages.design.resizing import refitted


def _way(craft: Craft) -> Way:
    outer = next(o for o in outers_of(craft) if not o.is_float)
    body = craft.design.bodies[outer.number]
    at = f"bodies.{outer.number}"
    spacing = beam_of(body.shape).spacing  # of a family that is a pair by itself
    path = f"{at}.shape.{spacing}" if spacing else f"{at}.at_m.1"
    now = float(getattr(body.shape, spacing)) if spacing else abs(body.at_m[1])

    def make(by: float) -> Design:
        value = now + (by if spacing else by / 2)
        return refitted(craft, path, value if spacing or body.at_m[1] > 0 else -value)

    def title(by: float, _: Craft) -> Words:
        return "Hulls {by:length} further apart", {"by": by}

    def work(by: float, _: Craft) -> Words:
        return "new cross beams, {by:length} longer", {"by": by}

    return Way(0.0, 1.5 * now * (1 if spacing else 2), make, title, work)


CHANGE = Change("spacing", "Hulls further apart", 70, _way, is_pair)
