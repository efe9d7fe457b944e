"""Resistance over speed of a boat as it is, every speed balanced, kept for as long as the boat is the same."""

import math
from dataclasses import dataclass, replace

import numpy as np

from yarekeel.core.constants import AIR_DENSITY, STANDARD_GRAVITY
from yarekeel.core.errors import InvalidInput
from yarekeel.core.findings import Finding, Remedy
from yarekeel.core.kept import kept
from yarekeel.core.lifting.wing import lift_slope, zero_lift
from yarekeel.core.quantities import Floats, Metres, MetresPerSecond, Point, Radians, Ratio
from yarekeel.core.resistance.friction import hull_speed
from yarekeel.core.running.balance import Balanced, over_speeds
from yarekeel.core.running.forces import Underway
from yarekeel.core.running.laws import LAWS
from yarekeel.core.sources import STATICS
from yarekeel.stages.design.craft import Craft
from yarekeel.stages.running.boat import underway_of

STEPS, FAST_STEPS = 72, 96
"""Speeds of a curve: of a hull that floats, of one that planes or flies."""
MOST_TOW: Ratio = 1e5
DISPLACING = 2.6
"""Hull speeds that the curve of a hull that does not plane goes to."""
PLANING = 14.0
"""Volumetric Froude number that the curve of one that does goes to."""
BEYOND: Ratio = 2.2
"""Times the speed at which wings lift a boat, that its curve goes to."""
FOILED: Ratio = 6.0
"""Times what a hull that floats is followed to, at most, for one that wings lift."""
BEST: Radians = math.radians(3.0)
PARTS = ("friction", "appendage", "wave", "transom", "planing", "foil", "air", "tow")


@dataclass(frozen=True, slots=True, eq=False)
class Resistance:
    """A boat's resistance over ``speeds`` (n,), 0 first: newtons and half its 95 % band (n,), the balance at each (None where none was
    found, there the curve is drawn straight from its neighbours), and what its laws say of their range."""

    boat: Underway
    speeds: Floats
    newtons: Floats
    band: Floats
    balances: tuple[Balanced | None, ...]
    findings: tuple[Finding, ...]

    def at(self, speeds: Floats) -> Floats:
        """Newtons at speeds (m,); beyond the curve it goes on as the square of the speed."""
        return self._along(speeds, self.newtons)

    def band_at(self, speeds: Floats) -> Floats:
        """Half the width of the 95 % band at speeds (m,)."""
        return self._along(speeds, self.band)

    def _along(self, speeds: Floats, values: Floats) -> Floats:
        beyond = np.maximum(np.asarray(speeds) / self.speeds[-1], 1.0) ** 2
        return np.asarray(np.interp(speeds, self.speeds, values) * beyond)

    @property
    def lost_from(self) -> MetresPerSecond | None:
        """The first speed at which no attitude balances it; None where it is balanced to the end of the curve."""
        return next((float(v) for v, b in zip(self.speeds, self.balances, strict=True) if b is None), None)

    @property
    def until(self) -> MetresPerSecond:
        """The last speed that its laws tell anything of: before the first at which no attitude balances it, else the curve's last."""
        lost = next((k for k, b in enumerate(self.balances) if b is None), len(self.balances))
        return float(self.speeds[max(lost - 1, 0)])

    def part(self, name: str) -> Floats:
        """One part's share (n,); not a number where no balance was found."""
        return np.array([b.part(name) if b is not None else np.nan for b in self.balances])


def fastest_of(boat: Underway) -> MetresPerSecond:
    """As far as a curve need go."""
    if boat.pads:
        return float(PLANING * (STANDARD_GRAVITY * boat.volume ** (1 / 3)) ** 0.5)
    afloat = DISPLACING * hull_speed(boat.waterline)
    return max(afloat, min(BEYOND * lifted_from(boat), FOILED * afloat)) if boat.foils else afloat


def speeds_of(boat: Underway) -> Floats:
    """The speeds of its curve (n,), 0 first, evenly apart."""
    return np.linspace(0.0, fastest_of(boat), FAST_STEPS if boat.pads or boat.foils else STEPS)


def lifted_from(boat: Underway) -> MetresPerSecond:
    """Speed at which all its wings together would carry it at the trim that they are best at, roughly; endless where they lift nothing."""
    per_square = 0.0
    for f in boat.foils:
        density = boat.density if boat.rest.height_of(f.at) < 0 else AIR_DENSITY
        angle = max(f.angle + boat.rest.trim, BEST) - zero_lift(f.camber)
        per_square += density / 2 * f.area * lift_slope(f.span, f.area) * min(angle, 0.2)
    return math.sqrt(boat.mass * STANDARD_GRAVITY / per_square) if per_square > 0 else math.inf


@kept
def towing(craft: Craft, drag: Ratio, at: Point) -> Resistance | None:
    """The curve with something in tow that holds back by ``drag`` newtons at 1 m/s, its line made fast at a point of the boat. Raises
    InvalidInput for a drag or a place that is none."""
    if not 0 <= drag <= MOST_TOW or not all(math.isfinite(v) for v in at):
        raise InvalidInput("tow", "What is towed holds back by 0 to {most:force} at {pace:speed}.", most=MOST_TOW, pace=1.0)
    still = underway_of(craft)
    if still is None:
        return None
    boat = replace(still, tow=drag, tow_at=at)
    speeds = speeds_of(boat)
    return of_balances(boat, speeds, over_speeds(boat, speeds))


@kept
def resistance_of(craft: Craft, wind: MetresPerSecond = 0.0, ground: str = "wieselsberger", depth: Metres = math.inf) -> Resistance | None:
    """The curve in a head wind, in water of a depth, wings over it by one of the laws of the ground's effect; None where the boat does
    not float."""
    still = underway_of(craft)
    if still is None:
        return None
    boat = replace(still, wind=wind, ground=ground, depth=depth)
    speeds = speeds_of(boat)
    balances = over_speeds(boat, speeds)
    return of_balances(boat, speeds, balances)


def of_balances(boat: Underway, speeds: Floats, balances: tuple[Balanced | None, ...]) -> Resistance | None:
    """The curve through balances at speeds (n,); None where there is none at all."""
    known = [k for k, b in enumerate(balances) if b is not None]
    if not known:
        return None
    held = [b.resistance for b in balances if b is not None]
    bands = [b.band for b in balances if b is not None]
    findings = tuple(f for law in LAWS for f in law.findings(boat, speeds))
    lost = [float(speeds[k]) for k, b in enumerate(balances) if b is None]
    if lost:
        text = "From {speed:speed} no attitude balances it: its bow digs in or it lifts clear. The curve is drawn on from below."
        remedies = (Remedy("Weight aft, a lower or tilted line of thrust", "drive"),)
        lost_at: dict[str, float | str] = {"speed": lost[0]}
        findings += (Finding("underway.unbalanced", "near", "It does not run at every speed", text, STATICS, lost_at, remedies),)
    return Resistance(
        boat=boat,
        speeds=speeds,
        newtons=np.interp(speeds, speeds[known], held),
        band=np.interp(speeds, speeds[known], bands),
        balances=balances,
        findings=findings,
    )
