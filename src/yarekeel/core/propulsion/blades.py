"""Air propellers from their blades: each ring of the blade is a small wing in the stream that the ring's own push makes.

Blade-element momentum theory without swirl (H. Glauert, Airplane Propellers, 1935), with Prandtl's loss at the tip. A blade's
lift and drag are those of an ordinary thin section at small Reynolds numbers; chords follow an ordinary planform.
"""

import math

import numpy as np

from yarekeel.core.formulas import formula
from yarekeel.core.quantities import Floats, Ratio
from yarekeel.core.sources import GLAUERT_1935

STATIONS = np.linspace(0.22, 0.99, 24)
"""Radii over the tip's at which a blade is cut; the hub's part pushes nothing."""
PLANFORM = np.array(((0.15, 0.75), (0.35, 1.15), (0.6, 1.1), (0.8, 0.85), (1.0, 0.4)))
"""Chord over its mean at a share of the radius (common practice: widest a third out, narrow at the tip)."""
ZERO_LIFT = math.radians(-3.0)
"""Angle of no lift of a thin cambered section (from memory)."""
LIFT_SLOPE = 5.5
"""Per radian, a little under 2 pi (from memory)."""
LARGEST_LIFT = 1.1
LEAST_DRAG, DRAG_OF_LIFT, DRAG_OF_STALL = 0.03, 0.02, 1.2
"""Drag of a section: least, with the square of its lift, and with the square of the angle's sine beyond stall (from memory)."""
HALVINGS = 48


@formula("dT = 4 pi rho r F (V + w) w dr = B rho W² c (C_L cos phi - C_D sin phi) dr / 2", GLAUERT_1935, "air propellers, no swirl")
def blade_coefficients(advance: Floats, pitch_ratio: Ratio, area_ratio: Ratio, blades: int) -> tuple[Floats, Floats]:
    """K_T and K_Q (T / rho n² D⁴, Q / rho n² D⁵) at advance ratios J (n,). ``area_ratio``: area of all blades over the disk's."""
    r = STATIONS[None, :] / 2  # in diameters
    shape = np.interp(STATIONS, PLANFORM[:, 0], PLANFORM[:, 1])[None, :]
    chord = shape * area_ratio * (math.pi / 4) / (blades * 0.5)  # mean chord over half a diameter of blade
    twist = np.arctan2(pitch_ratio, 2 * math.pi * r)
    ahead = np.asarray(advance, dtype=np.float64)[:, None]
    spin = 2 * math.pi * r

    def wing(wash: Floats) -> tuple[Floats, Floats, Floats]:
        phi = np.arctan2(ahead + wash, spin)
        lift, drag = _section(twist - phi)
        pressure = 0.5 * blades * ((ahead + wash) ** 2 + spin**2) * chord
        push = pressure * (lift * np.cos(phi) - drag * np.sin(phi))
        hold = pressure * (lift * np.sin(phi) + drag * np.cos(phi)) * r
        tip = np.exp(-blades / 2 * (1 - STATIONS[None, :]) / (STATIONS[None, :] * np.maximum(np.abs(np.sin(phi)), 1e-3)))
        loss = 2 / math.pi * np.arccos(np.clip(tip, 0, 1))
        return push, hold, push - 4 * math.pi * r * loss * (ahead + wash) * wash

    low, high = np.zeros((ahead.size, r.size)), np.full((ahead.size, r.size), 2.0 * pitch_ratio + 2.0)
    for _ in range(HALVINGS):
        middle = (low + high) / 2
        more = wing(middle)[2] > 0
        low, high = np.where(more, middle, low), np.where(more, high, middle)
    push, hold, _ = wing((low + high) / 2)
    across = STATIONS / 2
    return np.asarray(np.trapezoid(push, across, axis=1)), np.asarray(np.trapezoid(hold, across, axis=1))


def _section(angle: Floats) -> tuple[Floats, Floats]:
    straight = LIFT_SLOPE * (angle - ZERO_LIFT)
    lift = np.clip(straight, -LARGEST_LIFT, LARGEST_LIFT)
    past = np.abs(straight) - LARGEST_LIFT
    stalled = np.where(past > 0, np.sin(np.clip(past / LIFT_SLOPE, 0, math.pi / 2)) ** 2, 0.0)
    return lift, LEAST_DRAG + DRAG_OF_LIFT * lift**2 + DRAG_OF_STALL * stalled
