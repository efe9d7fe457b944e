"""Lift and drag of wings: in the water as far as they are under, in the air as far as they are over it."""

import math

from yarekeel.core.constants import AIR_DENSITY, AIR_VISCOSITY
from yarekeel.core.findings import Finding, Remedy
from yarekeel.core.lifting import wing
from yarekeel.core.quantities import Floats, KilogramsPerCubicMetre, Metres, MetresPerSecond, Radians, Ratio, SquareMetresPerSecond
from yarekeel.core.running.forces import Foil, Force, Law, State, Underway
from yarekeel.core.sources import HOUGH_MORAN_1969, PRANDTL_1921

BAND = 0.2
"""Of a foil's lift: a model's Reynolds numbers are low, its edges not sharp (from memory: 15 to 25 %)."""
CROSSING: Ratio = 0.15
"""Of the chord, over and under the surface, within which a level foil comes through it."""
SHALLOW: Ratio = 0.5
"""Chords of depth from which air finds its way down to the foil (common practice)."""
BEHIND = 0.4
"""Of a foil's lift in the wake of another, which is taken to run straight."""
SLOWEST: Ratio = 3.0
"""Froude number on the chord from which the surface acts as its law says."""


def wet_share(foil: Foil, height: Metres) -> Ratio:
    """Share of the span under water where the middle of it lies at a height over the surface; a level foil comes through within a
    seventh of its chord."""
    edge = CROSSING * foil.chord
    middle, tip = -height, -height - foil.span / 2 * math.tan(foil.dihedral)

    def under(depth: Metres) -> float:  # the integral of a ramp from dry at -edge to wet at +edge
        return 0.0 if depth <= -edge else depth if depth >= edge else (depth + edge) ** 2 / (4 * edge)

    if abs(middle - tip) < 1e-9:
        return min(max((middle + edge) / (2 * edge), 0.0), 1.0)
    return (under(middle) - under(tip)) / (middle - tip)


def coefficients(
    foil: Foil, angle: Radians, share: Ratio, apart: Metres, reynolds: Ratio, *, wet: bool, law: str = "wieselsberger"
) -> tuple[Ratio, Ratio]:
    """Lift and drag coefficient of the ``share`` of a foil's span that is in the water or over it, its chord at an angle to the flow."""
    span = share * foil.span
    aspect = span / foil.chord
    off = angle - wing.zero_lift(foil.camber)
    if wet:
        factor = 1 + wing.image_share(apart, span)
        slope = wing.lift_slope(span, span * foil.chord) * wing.near_surface(apart, foil.chord)
    else:
        factor = wing.induced_over(apart, span, law)
        slope = wing.lift_slope(1.0, max(factor, 0.05) / aspect)  # the ground makes it act as a longer wing
    most = wing.most_lift(foil.camber)
    lift = min(max(slope * off, -most), most)
    return lift, wing.profile_drag(reynolds, foil.thickness) + wing.induced_drag(lift, aspect, factor)


def _one(
    boat: Underway,
    foil: Foil,
    state: State,
    speed: MetresPerSecond,
    density: KilogramsPerCubicMetre,
    share: Ratio,
    apart: Metres,
    *,
    wet: bool,
) -> Force | None:
    viscosity: SquareMetresPerSecond = boat.viscosity if wet else AIR_VISCOSITY
    if share < 1e-6 or speed <= 0:
        return None
    angle = foil.angle + state.attitude.trim
    lift, drag = coefficients(foil, angle, share, apart, speed * foil.chord / viscosity, wet=wet, law=boat.ground)
    push = density / 2 * speed**2 * share * foil.area
    up = push * lift * math.cos(foil.dihedral) ** 2
    law = HOUGH_MORAN_1969 if wet else wing.GROUND_LAWS[boat.ground][1]
    band = BEHIND if wet and ahead_of(boat, foil) else BAND
    return Force("foil", (-push * drag, 0.0, up), foil.at, band, law, foil.name)


def ahead_of(boat: Underway, foil: Foil) -> tuple[Foil, ...]:
    """Foils that another one follows in the wake of: further forward by more than their chord, and overlapping it across the boat."""
    return tuple(f for f in boat.foils if f.at[0] > foil.at[0] + f.chord and abs(f.at[1] - foil.at[1]) < (f.span + foil.span) / 2)


def forces(boat: Underway, state: State) -> tuple[Force, ...]:
    """Of every wing, at its quarter chord: up across the flow, back along it."""
    if not boat.foils or state.speed <= 0:
        return ()
    out = []
    for foil in boat.foils:
        height = state.attitude.height_of(foil.at)
        share = wet_share(foil, height)
        tip = height + foil.span / 2 * math.tan(foil.dihedral)
        deep = (max(-height, 0.0) + max(-tip, 0.0)) / 2
        high = (max(height, 0.0) + max(tip, 0.0)) / 2
        out.append(_one(boat, foil, state, state.speed, boat.density, share, deep, wet=True))
        if share < 1 - 1e-9:
            out.append(_one(boat, foil, state, max(state.speed + boat.wind, 0.0), AIR_DENSITY, 1 - share, high, wet=False))
    return tuple(f for f in out if f is not None)


def findings(boat: Underway, speeds: Floats) -> tuple[Finding, ...]:
    """Where the surface's law does not hold yet, and that stall and air are not followed."""
    if not boat.foils:
        return ()
    chord = max(f.chord for f in boat.foils)
    values: dict[str, float | str] = {"speed": SLOWEST * math.sqrt(9.80665 * chord), "band": BAND}
    text = "Below {speed:speed} the surface over a foil does not act as the law says; ±{band:percent} above it."
    out = [Finding("underway.foil_law", "note", "Lift of its foils by thin wings near the surface", text, HOUGH_MORAN_1969, values)]
    for foil in boat.foils:
        leading = ahead_of(boat, foil)[:1]
        if not leading:
            continue
        front = leading[0]
        lift = wing.lift_slope(front.span, front.area) * (front.angle + boat.rest.trim - wing.zero_lift(front.camber))
        values = {
            "name": foil.name,
            "front": front.name,
            "wash": wing.downwash(lift, front.span / front.chord),
            "band": BEHIND,
        }
        text = (
            "“{front}” turns the water behind it down, by up to {wash:angle}, and “{name}” is taken to meet it straight: it may lift later "
            "than told, ±{band:percent} of its lift."
        )
        out.append(Finding("underway.foil_wake", "note", "A foil in the wake of another", text, PRANDTL_1921, values))
    thick = [f for f in boat.foils if f.span < 2 * f.chord]
    if thick:
        values = {"name": thick[0].name, "aspect": thick[0].span / thick[0].chord}
        text = "“{name}” has an aspect ratio of {aspect:ratio}: short wings lift by another law, and the sums are rough for it."
        ways = (Remedy("A longer, narrower foil", "shape"),)
        out.append(Finding("underway.foil_short", "near", "A short foil for its law", text, PRANDTL_1921, values, ways))
    return tuple(out)


LAW = Law(5, forces, findings)
