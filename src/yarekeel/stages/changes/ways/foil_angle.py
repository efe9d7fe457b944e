"""The rear foil's angle, until it lifts with the front one."""

from yarekeel.core.quantities import Degrees
from yarekeel.stages.changes.aims import FOILS
from yarekeel.stages.changes.change import Change, NoWay, Way, Words
from yarekeel.stages.design.craft import Craft
from yarekeel.stages.design.design import Body, Design
from yarekeel.stages.running.foils import foil_of, wings_of
from yarekeel.stages.underway.foils import MOST_ANGLE, lift_ratio, with_angle

STEP: Degrees = 0.1


def end_foil(craft: Craft, *, front: bool) -> tuple[int, Body]:
    """The only foil ahead of G, or aft of it. Raises NoWay where there is none or more than one."""
    if lift_ratio(craft) is None:
        raise NoWay("It has no foils in the water at both ends.")
    found = [(n, b) for n, b in wings_of(craft) if (foil_of(b).at[0] > craft.gravity[0]) == front and foil_of(b).at[2] < craft.gravity[2]]
    if len(found) != 1:
        raise NoWay("It has more than one foil at that end; set their angles on Under way.")
    return found[0]


def _way(craft: Craft) -> Way:
    number, body = end_foil(craft, front=False)
    now = float(getattr(body.shape, "incidence_deg", 0.0))

    def title(by: float, _: Craft) -> Words:
        return "Rear foil at {to:degrees}, now {now:degrees}", {"to": now + by, "now": now}

    def work(by: float, _: Craft) -> Words:
        return "a wedge under the foil's root", {}

    def make(by: float) -> Design:
        return with_angle(craft.design, number, now + by - body.turn_deg[1])

    return Way(0.0, MOST_ANGLE / 2, make, title, work, STEP, either_way=True)


CHANGE = Change("foil_angle", "Another angle of the rear foil", 300, _way, aim=FOILS)
