"""What a propulsor asks of its shaft and gives to the boat, whatever its kind: thrust and torque over turns and speed.

Everything that turns in water or air follows T = rho n² D⁴ K_T(J), Q = rho n² D⁵ K_Q(J), J = V / (n D). A kind is one function here
that gives its two curves; the solver knows nothing else of it.
"""

import math
from dataclasses import dataclass
from functools import lru_cache

import numpy as np

from yarekeel.core.formulas import formula
from yarekeel.core.propulsion.b_series import AREA, BLADES, PITCH, REYNOLDS, thrust_coefficient, torque_coefficient
from yarekeel.core.propulsion.blades import blade_coefficients
from yarekeel.core.quantities import Floats, Hertz, KilogramsPerCubicMetre, Metres, Newtons, Ratio, SquareMetres, SquareMetresPerSecond
from yarekeel.core.sources import BARNABY_1897, COMMON_PRACTICE, ITTC_1978, RANKINE_FROUDE

ADVANCES = np.concatenate((np.linspace(0, 1.0, 41), np.linspace(1.05, 2.0, 20)))
SECTION_THICKNESS: Ratio = 0.06
"""Thickness over chord at three quarters of the radius (from memory: 0.04 to 0.09)."""
REVERSED: Ratio = 0.65
"""Pull of an ordinary screw turning backwards over its pull ahead (common practice: 0.5 to 0.8)."""


NO_TURNS = 1e-9
"""A second; so that J stays a number where nothing turns: n² K(J) is then near nothing, as the curves end in straight lines."""


@dataclass(frozen=True, slots=True, eq=False)
class OpenWater:
    """Curves K_T and K_Q over ``advance`` J, rising (n,), of a propulsor of ``diameter``. ``spread`` is the law's own doubt of the
    thrust, as a share (one standard deviation). Beyond the last J both go on as straight lines."""

    diameter: Metres
    advance: Floats
    thrust: Floats
    torque: Floats
    spread: Ratio

    def thrust_coefficient(self, advance: Floats) -> Floats:
        """K_T at J, any shape."""
        return self._along(self.thrust, advance)

    def torque_coefficient(self, advance: Floats) -> Floats:
        """K_Q at J, any shape."""
        return self._along(self.torque, advance)

    def _along(self, values: Floats, advance: Floats) -> Floats:
        slope = (values[-1] - values[-2]) / (self.advance[-1] - self.advance[-2])
        beyond = np.maximum(advance - self.advance[-1], 0.0)
        return np.asarray(np.interp(advance, self.advance, values) + beyond * slope)


@lru_cache(maxsize=256)
def water_screw(diameter: Metres, pitch: Metres, area_ratio: Ratio, blades: int, reynolds: Ratio) -> OpenWater:
    """A water propeller by the B series, with what a small one's Reynolds number takes. Outside the series: its nearest edge, and a
    wider spread."""
    ratio = pitch / diameter
    held = (float(np.clip(ratio, *PITCH)), float(np.clip(area_ratio, *AREA)), int(np.clip(blades, *BLADES)))
    thrust, torque = thrust_coefficient(ADVANCES, *held), torque_coefficient(ADVANCES, *held)
    less, more = small_screw(reynolds, held[0], held[1])
    outside = abs(ratio / held[0] - 1) + abs(area_ratio / held[1] - 1) + abs(blades / held[2] - 1)
    # past the J of no thrust the polynomials were not fitted: there both go on straight
    last = int(np.argmax(thrust < 0)) + 1 if np.any(thrust < 0) else ADVANCES.size
    spread = 0.07 + 0.5 * outside
    return OpenWater(diameter=diameter, advance=ADVANCES[:last], thrust=thrust[:last] - less, torque=torque[:last] + more, spread=spread)


@formula(
    "dC_D = C_D(Re) - C_D(2e6), C_D = 2 (1 + 2 t/c) 0.044 Re^(-1/6); dK_T = 0.3 dC_D (P/D)(c Z/D), dK_Q = 0.25 dC_D (c Z/D)",
    ITTC_1978,
    "Re 3e4 to 2e6, the turbulent term alone",
)
def small_screw(reynolds: Ratio, pitch_ratio: Ratio, area_ratio: Ratio) -> tuple[Ratio, Ratio]:
    """What a Reynolds number below the series' takes from K_T and adds to K_Q; nothing at or above it."""
    drag = 2 * (1 + 2 * SECTION_THICKNESS) * 0.044 * (min(max(reynolds, 3e4), REYNOLDS) ** (-1 / 6) - REYNOLDS ** (-1 / 6))
    chords = area_ratio * 2.0  # all chords at three quarters of the radius over the diameter: near twice the area ratio
    return 0.3 * drag * pitch_ratio * chords, 0.25 * drag * chords


@formula("Re = c 0.75 pi n D / nu, c = 2 D (A_E/A_0) / Z", ITTC_1978, "at three quarters of the radius, standing still")
def blade_reynolds(diameter: Metres, area_ratio: Ratio, blades: int, turns: Hertz, viscosity: SquareMetresPerSecond) -> Ratio:
    """Reynolds number of a blade."""
    return 2 * diameter * area_ratio / blades * 0.75 * math.pi * turns * diameter / viscosity


@lru_cache(maxsize=256)
def air_screw(diameter: Metres, pitch: Metres, area_ratio: Ratio, blades: int) -> OpenWater:
    """An air propeller from its blades."""
    advance = np.linspace(0, 1.3 * pitch / diameter + 0.2, 48)
    thrust, torque = blade_coefficients(advance, pitch / diameter, area_ratio, blades)
    return OpenWater(diameter=diameter, advance=advance, thrust=thrust, torque=torque, spread=0.12)


@formula("T = rho A_e V_j (V_j - V), V_j = k n, eta 2 pi n Q = rho A_e V_j (V_j² - V²) / 2", RANKINE_FROUDE, "V below V_j")
def jet(exit_area: SquareMetres, jet_pitch: Metres, merit: Ratio) -> OpenWater:
    """A fan or a water jet of an exit area whose stream leaves at ``jet_pitch`` times the turns a second."""
    diameter = 2 * (exit_area / np.pi) ** 0.5
    advance = np.linspace(0, 1.2 * jet_pitch / diameter, 40)
    k, area = jet_pitch / diameter, np.pi / 4
    thrust = area * k * (k - advance)
    torque = area * k * (k**2 - advance**2) / 2 / merit / (2 * np.pi)
    return OpenWater(diameter=diameter, advance=advance, thrust=thrust, torque=np.maximum(torque, -torque[0]), spread=0.10)


@formula("T = C_D rho A (omega r - V)², with slip", COMMON_PRACTICE, "paddle wheels and tracks, a paddle or two under at a time")
def paddle_wheel(diameter: Metres, paddle_area: SquareMetres, drag: Ratio = 1.3) -> OpenWater:
    """A paddle wheel, or a track of its sprocket's diameter, with ``paddle_area`` under at a time; the paddles move at the rim."""
    advance = np.linspace(0, 1.2 * np.pi, 60)
    slip = np.pi - advance
    thrust = drag * paddle_area / diameter**2 / 2 * slip * np.abs(slip)
    return OpenWater(diameter=diameter, advance=advance, thrust=thrust, torque=thrust / 2, spread=0.25)


MOST_LOAD = 90_000.0
"""Newtons to a square metre of blade (13 psi) from which water boils off a small propeller's blades (from memory: S. W. Barnaby, 1897)."""


@formula("T / (A_E/A_0 · pi D² / 4) over 90 kPa", BARNABY_1897, "near the surface; above 1 the sums promise a pull that breaks down")
def blade_load(thrust: Newtons, diameter: Metres, area_ratio: Ratio) -> Ratio:
    """How near a propeller in water is to cavitating, as a share of the pressure at which it does."""
    return thrust / (area_ratio * np.pi / 4 * diameter**2) / MOST_LOAD


def reversed_screw(ahead: OpenWater) -> OpenWater:
    """The same screw turning backwards, moving backwards: less pull for the same torque (common practice), and a wider band."""
    return OpenWater(
        diameter=ahead.diameter, advance=ahead.advance, thrust=ahead.thrust * REVERSED, torque=ahead.torque, spread=max(ahead.spread, 0.15)
    )


@formula("T = rho n² D⁴ K_T(J)", ITTC_1978, "any propulsor in one stream")
def thrust_at(curve: OpenWater, turns: Floats, speed: Floats, density: KilogramsPerCubicMetre) -> Floats:
    """Thrust (N) at turns a second n and speeds of the stream V (m/s), any shapes that fit together."""
    n = np.maximum(turns, NO_TURNS)
    return np.asarray(density * n**2 * curve.diameter**4 * curve.thrust_coefficient(speed / (n * curve.diameter)))


@formula("Q = rho n² D⁵ K_Q(J)", ITTC_1978, "any propulsor in one stream")
def torque_at(curve: OpenWater, turns: Floats, speed: Floats, density: KilogramsPerCubicMetre) -> Floats:
    """Torque (N m) at turns a second n and speeds of the stream V (m/s), any shapes that fit together."""
    n = np.maximum(turns, NO_TURNS)
    return np.asarray(density * n**2 * curve.diameter**5 * curve.torque_coefficient(speed / (n * curve.diameter)))
