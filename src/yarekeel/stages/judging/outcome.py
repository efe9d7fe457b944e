"""How a boat floats and stands against the whole brief, in one line: what candidates, revisions and loads are compared by."""

from dataclasses import dataclass

from yarekeel.core.quantities import Kilograms, Metres, Radians, Ratio
from yarekeel.stages.design.craft import Craft
from yarekeel.stages.judging.figures import Figures
from yarekeel.stages.judging.judge import at_rest, judge


@dataclass(frozen=True, slots=True)
class Outcome:
    """What a boat floats like. ``misses`` names what of the brief fails, empty when it all holds."""

    mass: Kilograms
    trim: Radians
    heel: Radians
    freeboard: Metres
    gm: Metres
    draft: Metres
    thrust_to_weight: Ratio
    misses: tuple[str, ...]


def outcome_of(craft: Craft) -> Outcome | None:
    """How a boat floats against the brief; None when it comes to no rest."""
    figures = Figures(craft)
    rest = figures.rest
    if rest is None:
        return None
    return Outcome(
        mass=craft.mass,
        trim=rest.attitude.trim,
        heel=rest.attitude.heel,
        freeboard=rest.freeboard,
        gm=rest.judged_gm,
        draft=figures["draft"] or 0.0,
        thrust_to_weight=figures.drive.thrust_to_weight,
        misses=judge(figures, at_rest(craft)).misses,
    )
