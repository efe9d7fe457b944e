"""The fast boats of the mill pond: ``sandpiper``, a printed three-point model for the straight by the weir, and ``whimbrel``, a small
foiler of printed foils under a vee hull. Both as first listed: the one flies off its pads in a gust, the other's front foil lifts first."""

import dataclasses

from yarekeel.core.errors import YareKeelError
from yarekeel.core.geometry.families.foil_wing import FoilWing
from yarekeel.core.geometry.families.strut import Strut
from yarekeel.core.geometry.families.three_point import ThreePoint
from yarekeel.core.geometry.families.vee import Vee
from yarekeel.core.propulsion.drive import Battery, Drive, ElectricMotor, Motor, Wiring
from yarekeel.core.propulsion.propulsors.water_propeller import WaterPropeller
from yarekeel.core.water import Water
from yarekeel.core.weights.items import WeightItem
from yarekeel.stages.design.brief import Brief
from yarekeel.stages.design.craft import Craft
from yarekeel.stages.design.design import Body, Design, with_value
from yarekeel.stages.underway import foils


def sandpiper() -> Design:
    """The three-point model, revision A: its battery far aft."""
    return Design(
        practice=True,
        name="Sandpiper",
        water=Water("fresh", 14.0),
        brief=Brief("model", 1.5, 0.02, 3.0, 0.05, 0.5),
        bodies=(
            Body(
                "hull",
                ThreePoint(
                    length_m=0.70,
                    beam_m=0.34,
                    depth_m=0.075,
                    hull_beam_m=0.13,
                    bow_length_m=0.22,
                    sponson_length_m=0.34,
                    sponson_beam_m=0.09,
                    sponson_depth_m=0.065,
                    sponson_drop_m=0.018,
                    sponson_at=0.80,
                    deadrise_deg=6.0,
                ),
            ),
            Body("turn fin", Strut(0.05, 0.05, 0.7, 0.08, 0.0), (0.34, 0.15, -0.03), role="appendage"),
            Body("rudder", Strut(0.06, 0.035, 0.9, 0.10, 0.0), (-0.045, 0.0, -0.030), role="appendage"),
        ),
        weights=(
            WeightItem("Hull, printed", 0.380, (0.32, 0.0, 0.045), "weighed", None, "structure", material="petg"),
            WeightItem("Battery, 3 cells", 0.300, (0.165, 0.0, 0.045), "weighed", group="electrics"),
            WeightItem("Motor and mount", 0.160, (0.27, 0.0, 0.045), "weighed", group="drive"),
            WeightItem("Shaft, strut, propeller", 0.080, (0.05, 0.0, 0.015), "data", group="drive"),
            WeightItem("Control, receiver, servo", 0.120, (0.14, 0.0, 0.050), "data", group="electrics"),
        ),
        drive=Drive(
            (
                Motor(
                    "Motor",
                    14.0,
                    (-0.02, 0.0, -0.004),
                    45.0,
                    "rated",
                    ElectricMotor(2200.0, 0.035, 1.6, control_ohm=0.003, most_current_a=60.0, control_a=60.0),
                    WaterPropeller(0.027, 0.043, 2, 0.45),
                ),
            ),
            Battery(11.1, 3.3, 45.0, 0.011),
            wiring=Wiring(plug_a=60.0, supply_a=3.0, servos=1, stall_a=0.8),
        ),
    )


def whimbrel() -> Design:
    """The foiler, revision A: the same angle front and rear as it was glued, its weight a little far aft."""
    return Design(
        practice=True,
        name="Whimbrel",
        water=Water("fresh", 14.0),
        brief=Brief("model", 2.2, 0.025, 2.0, 0.02, 0.3),
        bodies=(
            Body("hull", Vee(length_m=0.86, beam_m=0.21, depth_m=0.11, deadrise_deg=14.0)),
            Body("front foil", FoilWing(0.20, 0.034, 0.7, 0.10, 5.0, 15.0, 4.0, camber=0.03), (0.64, 0.0, -0.095), role="appendage"),
            Body("rear foil", FoilWing(0.22, 0.035, 0.7, 0.10, 5.0, 0.0, 1.5, flap=0.25), (0.08, 0.0, -0.105), role="appendage"),
            Body("front strut", Strut(0.115, 0.045, 0.9, 0.12), (0.61, 0.0, -0.095), role="appendage"),
            Body("rear strut", Strut(0.115, 0.045, 0.9, 0.12), (0.05, 0.0, -0.105), role="appendage"),
        ),
        weights=(
            WeightItem("Hull, printed", 0.780, (0.40, 0.0, 0.055), "weighed", None, "structure", material="petg"),
            WeightItem("Foils and struts", 0.190, (0.36, 0.0, -0.075), "weighed", None, "structure", material="petg"),
            WeightItem("Battery, 3 cells", 0.300, (0.33, 0.0, 0.040), "weighed", group="electrics"),
            WeightItem("Motor, leg and propeller", 0.220, (0.04, 0.0, -0.055), "data", group="drive"),
            WeightItem("Control, receiver, gyro, servos", 0.210, (0.42, 0.0, 0.050), "data", group="electrics"),
        ),
        drive=Drive(
            (
                Motor(
                    "Motor",
                    12.0,
                    (0.03, 0.0, -0.115),
                    22.0,
                    "rated",
                    ElectricMotor(1000.0, 0.09, 0.9, control_ohm=0.006, most_current_a=20.0, control_a=30.0),
                    WaterPropeller(0.028, 0.034, 3, 0.5),
                ),
            ),
            Battery(11.1, 3.3, 25.0, 0.02),
        ),
    )


def steadied(boat: Design) -> Design:
    """Sandpiper's cure: battery and control forward, so that air needs more speed to lift the bow, and a propeller of less pitch."""
    forward = {"Battery, 3 cells": (0.260, 0.0, 0.045), "Control, receiver, servo": (0.26, 0.0, 0.050)}
    weights = tuple(dataclasses.replace(w, at_m=forward.get(w.name, w.at_m)) for w in boat.weights)
    return with_value(dataclasses.replace(boat, weights=weights), "drive.motors.0.propulsor.pitch_m", 0.033)


def levelled(boat: Design) -> Design:
    """Whimbrel's cure: its rear foil at the angle that lifts with the front one."""
    found = foils.assess(Craft(boat))
    if found is None or found.rear_angle is None:
        raise YareKeelError("The demo foiler has no angle that lifts together.")
    return foils.with_angle(boat, next(n for n, b in enumerate(boat.bodies) if b.name == "rear foil"), round(found.rear_angle, 1))
