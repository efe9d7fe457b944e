"""Skin friction by the ITTC line with a form factor, of hull and appendages."""

from functools import lru_cache

from yarekeel.core.findings import Finding
from yarekeel.core.quantities import Floats, MetresPerSecond, Newtons, Ratio
from yarekeel.core.resistance.friction import friction
from yarekeel.core.resistance.shallow import deep_speed
from yarekeel.core.running.floating import floating_share, skin_share
from yarekeel.core.running.forces import Blade, Force, Law, State, Underway
from yarekeel.core.sources import COMMON_PRACTICE, ITTC_1957

FORM: Ratio = 0.15
"""Added for a hull's shape (common practice: 0.1 to 0.3)."""
APPENDAGE_FORM: Ratio = 0.5
"""Added for fins, struts and rudders (common practice)."""
LEAST_REYNOLDS = 5e4
"""Below it the skin is largely laminar, and the line too high."""


def forces(boat: Underway, state: State) -> tuple[Force, ...]:
    """Back, at the middle of the wetted surface at rest; a planing bottom's own friction takes the hull's place with speed."""
    if state.speed <= 0:
        return ()
    whole, blades = _all_under(boat, state.speed)
    hull = floating_share(boat, state) * skin_share(boat, state) * whole
    out = [Force("friction", (-hull, 0.0, 0.0), boat.wet_at, 0.15, ITTC_1957)]
    for blade, most in zip(boat.blades, blades, strict=True):
        share = under(blade, state)
        if share > 0:
            held = share * most
            x, y, z = (f + share / 2 * (h - f) for f, h in zip(blade.foot, blade.head, strict=True))
            out.append(Force("appendage", (-held, 0.0, 0.0), (x, y, z), 0.3, COMMON_PRACTICE))
    return tuple(out)


@lru_cache(maxsize=4)
def _all_under(boat: Underway, speed: MetresPerSecond) -> tuple[Newtons, tuple[Newtons, ...]]:
    """Of the hull as it floats at rest, and of each blade all under water: a balance asks for one speed at many attitudes."""
    hull = (1 + FORM) * friction(speed, boat.waterline, boat.wetted, boat.density, boat.viscosity)
    hull *= (deep_speed(speed, boat.midship, boat.depth) / speed) ** 2
    return hull, tuple((1 + APPENDAGE_FORM) * friction(speed, b.chord, b.area, boat.density, boat.viscosity) for b in boat.blades)


def under(blade: Blade, state: State) -> Ratio:
    """Share of a blade that is under water, by the heights of its ends."""
    foot, head = (state.attitude.height_of(p) for p in (blade.foot, blade.head))
    low, high = min(foot, head), max(foot, head)
    return min(max(-low / (high - low), 0.0), 1.0) if high - low > 1e-9 else float(low < 0)


def findings(boat: Underway, speeds: Floats) -> tuple[Finding, ...]:
    """Where the line is too high for so small and slow a boat."""
    slow = LEAST_REYNOLDS * boat.viscosity / boat.waterline
    if float(speeds[-1]) > slow:
        return ()
    text = "Below {speed:speed} its skin is largely laminar: less friction than the line says."
    return (Finding("underway.laminar", "note", "Too small and slow for the friction line", text, ITTC_1957, {"speed": slow}),)


LAW = Law(2, forces, findings)
