"""The side floats lower, until they hold from the first degree."""

from yarekeel.stages.changes.change import Change, Way, Words, afloat_now
from yarekeel.stages.design.craft import Craft
from yarekeel.stages.design.design import Design
from yarekeel.stages.design.outers import has_floats, outers_of
from yarekeel.stages.stability import floats


def _way(craft: Craft) -> Way:
    outers = [o for o in outers_of(craft) if o.is_float]
    rest = afloat_now(craft)
    clear = max(min(o.heights(rest.upright.attitude)[0] for o in outers), 0.0)
    depth = max(float(o.mesh.bounds[1][2] - o.mesh.bounds[0][2]) for o in outers)

    def make(by: float) -> Design:
        return floats.with_floats_lower(craft.design, by)

    def title(by: float, _: Craft) -> Words:
        return "Lower the floats by {by:length}", {"by": by}

    def work(by: float, _: Craft) -> Words:
        return "new brackets, or packing under the beams", {}

    return Way(0.0, clear + 0.8 * depth, make, title, work)


CHANGE = Change("lower", "Lower the floats", 40, _way, has_floats)
