"""An air propeller over the deck instead of what turns in the water: it draws no weed, and far less of it holds the boat."""

import dataclasses

from yarekeel.core.propulsion.drive import Motor
from yarekeel.core.propulsion.propulsors.air_propeller import AirPropeller
from yarekeel.core.quantities import Metres, Ratio
from yarekeel.stages.changes.aims import PULLS
from yarekeel.stages.changes.change import Change, NoWay, Way, Words
from yarekeel.stages.design.craft import Craft
from yarekeel.stages.design.design import Design

STEP: Metres = 0.0127
"""Between two diameters that are sold: half an inch (common practice)."""
PITCH: Ratio = 0.5
"""Of the diameter: what pulls best from rest (common practice)."""
OVER_DECK: Ratio = 0.55
"""Of the diameter: its shaft over the deck, so that the tips clear it."""
LARGEST: Metres = 0.6


def _in_water(motor: Motor) -> bool:
    return motor.propulsor is not None and not motor.propulsor.in_air and motor.propulsor.electric


def _way(craft: Craft) -> Way:
    drive = craft.design.drive
    if not any(_in_water(m) for m in drive.motors) or drive.battery is None:
        raise NoWay("No electric motor of it turns anything in the water.")
    deck = float(craft.hull.mesh.bounds[1][2])
    count = sum(_in_water(m) for m in drive.motors)
    most = min(LARGEST, 2 * craft.hull.beam / count)

    def changed(motor: Motor, across: Metres) -> Motor:
        if not _in_water(motor):
            return motor
        at = (motor.at_m[0], motor.at_m[1], deck + OVER_DECK * across)
        return dataclasses.replace(
            motor, propulsor=AirPropeller(across, PITCH * across), at_m=at, tilt_deg=0.0, thrust_n=0.0, current_a=0.0
        )

    def make(across: Metres) -> Design:
        motors = tuple(changed(m, across) for m in drive.motors)
        return dataclasses.replace(craft.design, drive=dataclasses.replace(drive, motors=motors))

    def title(across: Metres, _: Craft) -> Words:
        return "An air propeller of {across:length} over the deck", {"across": across}

    def work(across: Metres, _: Craft) -> Words:
        return "a mount, a guard all round it, a rudder in the stream", {}

    return Way(0.0, most, make, title, work, STEP)


CHANGE = Change("air_propeller", "An air propeller instead", 230, _way, aim=PULLS)
