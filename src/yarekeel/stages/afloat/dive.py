"""Dived: a submersible from surfaced to under, by the share of its tanks that is full."""

import math
from dataclasses import dataclass

import numpy as np

from yarekeel.core.errors import InvalidInput, NoRest
from yarekeel.core.findings import Finding, Remedy, Severity
from yarekeel.core.geometry.attitude import Attitude, angles_of_up, rotation
from yarekeel.core.hydrostatics.afloat import Afloat, float_boat, with_liquids
from yarekeel.core.hydrostatics.inside import Laden, Part
from yarekeel.core.kept import kept
from yarekeel.core.quantities import CubicMetres, Kilograms, Metres, Point, Radians, Ratio
from yarekeel.core.sources import BRIEF, COMMON_PRACTICE, MECHANICS
from yarekeel.core.water import fresh_water_density, sea_water_density
from yarekeel.stages.design.craft import Craft, Space
from yarekeel.stages.design.limits import limit_always

STEPS = 20
"""Steps of the way down: every twentieth of the tanks."""
TRIMMED: Ratio = 0.005
"""Of the displacement: within half a per cent of neutral, propellers and planes do the rest (common practice)."""
UNDER: Ratio = 0.06
"""Of its height: how far below the surface a dived boat is drawn."""
HANGING = 40
HAIR: Metres = 5e-4
"""Half a millimetre: no ruler tells it."""
INLET_OUT: Metres = 0.025
"""What a model's air inlet is kept out by, if nothing else is said: a ripple (common practice)."""


@dataclass(frozen=True, eq=False)
class DiveState:
    """With ``share`` of the tanks full. ``net`` is what it weighs under water, positive heavy; ``bg`` the height of B over G;
    ``above`` the volume that stands out of the water, ``inlet`` how high the highest opening stands over it. ``afloat`` is None
    once it is under."""

    share: Ratio
    mass: Kilograms
    net: Kilograms
    afloat: Afloat | None
    attitude: Attitude
    gravity: Point
    buoyancy: Point
    bg: Metres
    above: CubicMetres
    inlet: Metres | None

    @property
    def stiffness(self) -> Metres:
        """What holds it upright: GM while it floats, BG once it is under (a dived boat has no waterplane)."""
        return self.afloat.gm_transverse if self.afloat else self.bg


@dataclass(frozen=True, eq=False)
class DiveAssessment:
    """The way down, the state asked for, and what the tanks need. ``needed`` is the water that takes it under with ``left_out``
    standing out, ``level_x`` where the tanks' centre must lie for it to lie level there, None without tanks; ``trim_per_metre`` what
    the dived boat trims by, bow down, for the first of the way that the tanks move forward."""

    tanks: tuple[Space, ...]
    capacity: CubicMetres
    needed: CubicMetres
    left_out: CubicMetres
    tank_x: Metres | None
    level_x: Metres | None
    trim_per_metre: Radians
    way: tuple[DiveState, ...]
    state: DiveState
    waters: tuple[tuple[str, Kilograms], ...]
    findings: tuple[Finding, ...]


def tanks_of(craft: Craft) -> tuple[Space, ...]:
    """Compartments that are tanks and could be built."""
    return tuple(s for s in craft.spaces if s.compartment.use == "tank" and s.kernel)


@kept
def state_at(craft: Craft, share: Ratio) -> DiveState:
    """The boat with so much of each tank full. Raises InvalidInput for a share beyond 0 to 1, or with nothing aboard."""
    if not 0 <= share <= 1:
        raise InvalidInput("share", "Tanks are filled from 0 to 100 %.")
    bare, total, rho = craft.hull.kernel, craft.total, craft.density
    liquids = [s.liquid(s.capacity * share) for s in tanks_of(craft) if share > 0]
    kernel = Laden(bare, (Part(bare),), liquids)
    mass = total.mass + kernel.liquid * rho
    net = mass - kernel.displacing * rho
    try:
        afloat = float_boat(hull=craft.hull, mass=total.mass, gravity=total.centre, density=rho, start=None, kernel=kernel)
    except NoRest:
        attitude, gravity = _hanging(craft, kernel)
        bg = math.dist(bare.centroid, gravity)
        return DiveState(
            share=share,
            mass=mass,
            net=net,
            afloat=None,
            attitude=attitude,
            gravity=gravity,
            buoyancy=bare.centroid,
            bg=bg,
            above=0.0,
            inlet=_inlet(craft, attitude),
        )
    a = afloat.attitude
    bg = sum(u * (b - g) for u, b, g in zip(a.up, afloat.buoyancy, afloat.gravity, strict=True))
    above = kernel.displacing - afloat.volume
    return DiveState(
        share=share,
        mass=mass,
        net=net,
        afloat=afloat,
        attitude=a,
        gravity=afloat.gravity,
        buoyancy=afloat.buoyancy,
        bg=bg,
        above=above,
        inlet=_inlet(craft, a),
    )


def way_down(craft: Craft) -> tuple[DiveState, ...]:
    """The states from empty tanks to full ones."""
    return tuple(state_at(craft, k / STEPS) for k in range(STEPS + 1))


def _inlet(craft: Craft, attitude: Attitude) -> Metres | None:
    return max((attitude.height_of(at) for _, at in craft.openings), default=None)


def _hanging(craft: Craft, kernel: Laden) -> tuple[Attitude, Point]:
    """The attitude of the boat wholly under water: B right over G, whatever its net weight; its tanks' water runs along."""
    bare, total = craft.hull.kernel, craft.total
    b = bare.centroid
    heel = trim = 0.0
    gravity = total.centre
    for _ in range(HANGING):
        at = Attitude(heel, trim, 0.0)
        _, gravity = with_liquids(total.mass, total.centre, kernel.levels(at), craft.density)
        up = tuple(p - q for p, q in zip(b, gravity, strict=True))
        size = math.hypot(*up)
        if size < 1e-12 * bare.half_extent:
            break
        new = angles_of_up((up[0] / size, up[1] / size, up[2] / size))
        if max(abs(new[0] - heel), abs(new[1] - trim)) < 1e-12:
            break
        heel, trim = new
    heights = craft.hull.mesh.vertices @ np.array(rotation(heel, trim)[2])
    low, high = float(heights.min()), float(heights.max())
    return Attitude(heel, trim, -high - UNDER * (high - low)), gravity


def assess(craft: Craft, share: Ratio = 1.0, inlet_out: Metres = 0.0) -> DiveAssessment:
    """The way down and the state at ``share``; a vented tank's highest opening is to stay ``inlet_out`` above the water."""
    tanks = tanks_of(craft)
    total, rho = craft.total, craft.density
    way = way_down(craft)
    capacity = math.fsum(s.capacity for s in tanks)
    out = _left_out(craft, tanks, inlet_out)
    displacing = craft.hull.kernel.total_volume
    needed = displacing - out - total.mass / rho
    tank_x = math.fsum(s.capacity * s.kernel_or_fail.centroid[0] for s in tanks) / capacity if capacity > 0 else None
    level_x = None
    if tanks and needed > 0:
        b = craft.hull.kernel.centroid
        level_x = ((total.mass + needed * rho) * b[0] - total.mass * total.centre[0]) / (needed * rho)
    state = state_at(craft, share)
    waters = tuple((name, displacing * (density - rho)) for name, density in WATERS)
    findings = _findings(craft, tanks, capacity, needed, state, way, tank_x, level_x, inlet_out)
    full = way[-1]
    turned = capacity * rho / full.mass / full.bg if full.bg > 0 else 0.0
    return DiveAssessment(
        tanks=tanks,
        capacity=capacity,
        needed=needed,
        left_out=out,
        tank_x=tank_x,
        level_x=level_x,
        trim_per_metre=turned,
        way=way,
        state=state,
        waters=waters,
        findings=findings,
    )


WATERS = (
    ("cold fresh water, 4 °C", fresh_water_density(4.0)),
    ("fresh water, 15 °C", fresh_water_density(15.0)),
    ("a warm pool, 28 °C", fresh_water_density(28.0)),
    ("sea water, 15 °C", sea_water_density(15.0)),
)


def _left_out(craft: Craft, tanks: tuple[Space, ...], inlet_out: Metres) -> CubicMetres:
    """What stands out of the water, level, while the highest opening is ``inlet_out`` above it; nothing for sealed tanks."""
    if not any(s.compartment.vented for s in tanks) or not craft.openings:
        return 0.0
    top = max(at[2] for _, at in craft.openings)
    kernel = craft.hull.kernel
    d = top - inlet_out - kernel.centre[2]
    return kernel.total_volume - kernel.evaluate(rotation(0.0, 0.0), d).volume


def _findings(
    craft: Craft,
    tanks: tuple[Space, ...],
    capacity: CubicMetres,
    needed: CubicMetres,
    state: DiveState,
    way: tuple[DiveState, ...],
    tank_x: Metres | None,
    level_x: Metres | None,
    inlet_out: Metres,
) -> tuple[Finding, ...]:
    rho, full, empty = craft.density, way[-1], way[0]
    values: dict[str, float | str] = {
        "needed": needed * rho,
        "capacity": capacity * rho,
        "short": (needed - capacity) * rho,
        "over": (capacity - needed) * rho,
        "share": needed / capacity if capacity > 0 else 0.0,
    }
    out: list[Finding] = []
    if not tanks:
        return (
            Finding(
                "dive.no_tank",
                "note",
                "It has no ballast tank yet",
                "To go under it must take {needed:mass} of water: make a compartment a tank of that size.",
                source=MECHANICS,
                values=values,
                remedies=(Remedy("Add a tank", "float"),),
            ),
        )
    tight = TRIMMED * craft.hull.kernel.total_volume * rho
    if needed <= 0:
        out.append(
            Finding(
                "dive.heavy",
                "fails",
                "It sinks with its tanks empty",
                "It is {h:mass} too heavy.",
                source=MECHANICS,
                values={"h": -needed * rho},
            )
        )
    elif capacity < needed - tight / rho:
        out.append(
            Finding(
                "dive.small",
                "fails",
                "The tanks are {short:mass} too small",
                "It shows {needed:mass} of water's worth above the surface; the tanks take {capacity:mass}.",
                source=MECHANICS,
                values=values,
                remedies=(Remedy("A larger tank, or {short:mass} of lead low down", "float"),),
            )
        )
    else:
        out.append(
            Finding(
                "dive.fits",
                "holds",
                "Under with {share:percent} of the tanks",
                "They take {capacity:mass}; it needs {needed:mass} and {over:mass} are left to go deeper.",
                source=MECHANICS,
                values=values,
            )
        )
    out += _balance(craft=craft, state=state, full=full, tank_x=tank_x, level_x=level_x)
    least = min(way, key=lambda s: s.stiffness)
    values = {"gm": least.stiffness, "share": least.share, "lower": -least.stiffness, "surfaced": empty.stiffness}
    severity: Severity = "holds" if least.stiffness > 0 and not any(s.afloat and s.afloat.is_unsteady for s in way) else "fails"
    out.append(
        Finding(
            "dive.middle",
            severity,
            "Least stiff at {share:percent}: {gm:length}",
            "On the surface it is {surfaced:length}. On the way down GM leaves before BG has come."
            if severity == "holds"
            else "On the way down it leans or rolls over: lower the weights.",
            source=MECHANICS,
            values=values,
        )
    )
    if any(s.compartment.vented for s in tanks):
        out += _inlet_findings(craft, state, inlet_out)
    return tuple(out)


def _balance(craft: Craft, state: DiveState, full: DiveState, tank_x: Metres | None, level_x: Metres | None) -> list[Finding]:
    limit = limit_always(craft.design.brief, "trim")
    out = []
    low = full.afloat is None and full.attitude.up[2] <= 0
    values: dict[str, float | str] = {"bg": full.bg, "trim": full.attitude.trim, "allowed": limit.asked}
    out.append(
        Finding(
            "dive.bg",
            "fails" if low or full.bg <= 0 else "holds",
            "It turns over under water" if low else "Dived, B stands {bg:length} over G",
            "G lies above B: ballast must come down or foam go up." if low else "That alone holds it upright: under water there is no GM.",
            source=MECHANICS,
            values=values,
        )
    )
    remedies: tuple[Remedy, ...] = ()
    if level_x is not None and tank_x is not None and abs(level_x - tank_x) > 1e-4:
        values |= {"move": level_x - tank_x}
        remedies = (Remedy("The tanks' middle {move:fore_aft} levels it", "float"),)
    word = limit.severity(full.attitude.trim)
    way = remedies if word == "fails" else ()
    out.append(Finding("dive.trim", word, "Dived: {trim:trim}", "You allow ±{allowed:angle}.", source=BRIEF, values=values, remedies=way))
    return out


def _inlet_findings(craft: Craft, state: DiveState, inlet_out: Metres) -> list[Finding]:
    if state.inlet is None:
        text = "A vented tank needs an opening to draw air by: mark it on the tower."
        return [
            Finding(
                "dive.no_inlet",
                "near",
                "No air inlet is marked",
                text,
                source=COMMON_PRACTICE,
                values={},
                remedies=(Remedy("Mark it", "shape"),),
            )
        ]
    values = {"height": state.inlet, "under": -state.inlet, "out": inlet_out}
    if state.inlet <= 0:
        text = "It lies {under:length} under: the tanks cannot be blown, and water runs in."
        return [Finding("dive.inlet_under", "fails", "The air inlet is under water", text, source=MECHANICS, values=values)]
    word: Severity = "holds" if state.inlet >= inlet_out - HAIR else "near"
    return [Finding("dive.inlet", word, "The air inlet stands {height:length} out", "You want {out:length}.", source=BRIEF, values=values)]


def dived_trim(b: Point, g: Point) -> Radians:
    """Trim of a dived boat by hand: the angle whose tangent is the offset of B from G along the boat over its height above it."""
    return math.atan2(b[0] - g[0], b[2] - g[2])
