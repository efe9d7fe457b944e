"""Dived: a submersible from surfaced to under, by the share of its tanks that is full."""

import dataclasses
import math
from dataclasses import dataclass
from functools import lru_cache

import numpy as np

from yarekeel.core.errors import InvalidInput, NoAnswer, NoRest
from yarekeel.core.findings import Finding, Remedy, Severity
from yarekeel.core.geometry.attitude import Attitude, angles_of_up, rotation
from yarekeel.core.geometry.families.box import Box
from yarekeel.core.geometry.sections import sections
from yarekeel.core.hydrostatics.afloat import Afloat, float_boat, with_liquids
from yarekeel.core.hydrostatics.inside import Laden, Part
from yarekeel.core.quantities import CubicMetres, Kilograms, Metres, Point, Radians, Ratio
from yarekeel.core.sources import BRIEF, COMMON_PRACTICE, MECHANICS
from yarekeel.core.water import fresh_water_density, sea_water_density
from yarekeel.core.weights.items import WeightItem
from yarekeel.core.weights.materials import MATERIALS
from yarekeel.core.weights.recipes.foam import Foam
from yarekeel.stages.afloat.compartments import free_name
from yarekeel.stages.design.craft import Craft, Space
from yarekeel.stages.design.design import Body, Compartment, Design

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


@lru_cache(maxsize=256)  # one slider asks for the same few again and again
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
        afloat = float_boat(craft.hull, total.mass, total.centre, rho, None, kernel)
    except NoRest:
        attitude, gravity = _hanging(craft, kernel)
        bg = math.dist(bare.centroid, gravity)
        return DiveState(share, mass, net, None, attitude, gravity, bare.centroid, bg, 0.0, _inlet(craft, attitude))
    a = afloat.attitude
    bg = sum(u * (b - g) for u, b, g in zip(a.up, afloat.buoyancy, afloat.gravity, strict=True))
    above = kernel.displacing - afloat.volume
    return DiveState(share, mass, net, afloat, a, afloat.gravity, afloat.buoyancy, bg, above, _inlet(craft, a))


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
    return DiveAssessment(tanks, capacity, needed, out, tank_x, level_x, turned, way, state, waters, findings)


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
                MECHANICS,
                values,
                (Remedy("Add a tank", "float"),),
            ),
        )
    tight = TRIMMED * craft.hull.kernel.total_volume * rho
    if needed <= 0:
        out.append(
            Finding("dive.heavy", "fails", "It sinks with its tanks empty", "It is {h:mass} too heavy.", MECHANICS, {"h": -needed * rho})
        )
    elif capacity < needed - tight / rho:
        out.append(
            Finding(
                "dive.small",
                "fails",
                "The tanks are {short:mass} too small",
                "It shows {needed:mass} of water's worth above the surface; the tanks take {capacity:mass}.",
                MECHANICS,
                values,
                (Remedy("A larger tank, or {short:mass} of lead low down", "float"),),
            )
        )
    else:
        out.append(
            Finding(
                "dive.fits",
                "holds",
                "Under with {share:percent} of the tanks",
                "They take {capacity:mass}; it needs {needed:mass} and {over:mass} are left to go deeper.",
                MECHANICS,
                values,
            )
        )
    out += _balance(craft, state, full, tank_x, level_x)
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
            MECHANICS,
            values,
        )
    )
    if any(s.compartment.vented for s in tanks):
        out += _inlet_findings(craft, state, inlet_out)
    return tuple(out)


def _balance(craft: Craft, state: DiveState, full: DiveState, tank_x: Metres | None, level_x: Metres | None) -> list[Finding]:
    allowed = math.radians(craft.design.brief.allowed_trim_deg)
    out = []
    low = full.afloat is None and full.attitude.up[2] <= 0
    values: dict[str, float | str] = {"bg": full.bg, "trim": full.attitude.trim, "allowed": allowed}
    out.append(
        Finding(
            "dive.bg",
            "fails" if low or full.bg <= 0 else "holds",
            "It turns over under water" if low else "Dived, B stands {bg:length} over G",
            "G lies above B: ballast must come down or foam go up." if low else "That alone holds it upright: under water there is no GM.",
            MECHANICS,
            values,
        )
    )
    trim = abs(full.attitude.trim)
    remedies: tuple[Remedy, ...] = ()
    if level_x is not None and tank_x is not None and abs(level_x - tank_x) > 1e-4:
        values |= {"move": level_x - tank_x}
        remedies = (Remedy("The tanks' middle {move:fore_aft} levels it", "float"),)
    word: Severity = "holds" if trim <= allowed else "near" if trim <= 5 * allowed else "fails"
    out.append(
        Finding("dive.trim", word, "Dived: {trim:trim}", "You allow ±{allowed:angle}.", BRIEF, values, () if trim <= allowed else remedies)
    )
    return out


def _inlet_findings(craft: Craft, state: DiveState, inlet_out: Metres) -> list[Finding]:
    if state.inlet is None:
        text = "A vented tank needs an opening to draw air by: mark it on the tower."
        return [Finding("dive.no_inlet", "near", "No air inlet is marked", text, COMMON_PRACTICE, {}, (Remedy("Mark it", "shape"),))]
    values = {"height": state.inlet, "under": -state.inlet, "out": inlet_out}
    if state.inlet <= 0:
        text = "It lies {under:length} under: the tanks cannot be blown, and water runs in."
        return [Finding("dive.inlet_under", "fails", "The air inlet is under water", text, MECHANICS, values)]
    word: Severity = "holds" if state.inlet >= inlet_out - HAIR else "near"
    return [Finding("dive.inlet", word, "The air inlet stands {height:length} out", "You want {out:length}.", BRIEF, values)]


def tank_for(craft: Craft, inlet_out: Metres = 0.0) -> Compartment:
    """A tank low in the largest hull, across its whole breadth, that holds what it takes to go under, its middle where the boat
    then lies level. Raises NoAnswer where no such tank fits."""
    number = max((n for n, b in enumerate(craft.design.bodies) if b.role == "hull"), key=lambda n: craft.piece(n).volume, default=None)
    if number is None:
        raise NoAnswer("A tank needs a hull to be in.")
    body, mesh = craft.design.bodies[number], craft.piece(number)
    total, rho, kernel = craft.total, craft.density, craft.hull.kernel
    needed = kernel.total_volume - total.mass / rho
    vented = bool(craft.openings)
    if vented:
        top = max(at[2] for _, at in craft.openings)
        needed -= kernel.total_volume - kernel.evaluate(rotation(0.0, 0.0), top - inlet_out - kernel.centre[2]).volume
    if needed <= 0:
        raise NoAnswer("It goes under with nothing in a tank: lighten it first.")
    level = ((total.mass + needed * rho) * kernel.centroid[0] - total.mass * total.centre[0]) / (needed * rho)
    low, high = (float(v) for v in (mesh.bounds[0][0], mesh.bounds[1][0]))
    if not low < level < high:
        raise NoAnswer("To dive level its tank would have to lie outside the hull; move the heaviest weights first.")
    middle = float(mesh.bounds[0][2]) + 0.5 * body_depth(craft, number)
    name, taken = free_name(craft.design, "ballast tank"), craft.design.compartments
    reach = min(level - low, high - level)
    small, large = 0.0, reach
    for _ in range(40):
        half = (small + large) / 2
        tank = Compartment(name, body.name, level - half, level + half, high_m=middle, use="tank", vented=vented, room=1.0)
        space = Craft(dataclasses.replace(craft.design, compartments=(*taken, tank))).spaces[-1]
        small, large = (half, large) if space.capacity < needed else (small, half)
    if reach - large < 1e-6 * reach:
        raise NoAnswer("The lower half of the hull does not hold enough water: give the tank more height.")
    tank = dataclasses.replace(tank, aft_m=round(level - large, 6), fore_m=round(level + large, 6))
    dataclasses.replace(craft.design, compartments=(*taken, tank))  # refused here where it overlaps another
    return tank


def body_depth(craft: Craft, number: int) -> Metres:
    """Height of a body."""
    low, high = craft.piece(number).bounds
    return float(high[2] - low[2])


@dataclass(frozen=True, slots=True)
class TrimAnswer:
    """Lead low inside and foam on the back that make the dived boat neutral and level; ``bg`` is what then holds it upright."""

    lead: Kilograms
    lead_at: Point
    foam: CubicMetres
    foam_at: Point
    foam_mass: Kilograms


def trim_out(craft: Craft, lead_x: Metres, foam_x: Metres, material: str = "pvc_foam") -> TrimAnswer:
    """Lead at ``lead_x`` low in the hull and foam at ``foam_x`` on its back, so that with full tanks it weighs nothing under
    water and B lies right over G: two equations, of force and of moment, for the two amounts. Raises NoAnswer where one of
    them would have to be less than nothing."""
    stuff, rho = MATERIALS[material], craft.density
    low, high = craft.hull.mesh.bounds
    if not (low[0] <= lead_x <= high[0] and low[0] <= foam_x <= high[0]):
        raise InvalidInput("lead", f"Places lie between {low[0]:.3g} and {high[0]:.3g} m from aft.")
    if abs(lead_x - foam_x) < 1e-3 * (high[0] - low[0]):
        raise NoAnswer("Lead and foam at one place cannot trim it; set them apart along the hull.")
    state = state_at(craft, 1.0)
    bx = craft.hull.kernel.centroid[0]
    light = -state.net  # upward, kg
    moment = craft.hull.kernel.total_volume * rho * bx - state.mass * state.gravity[0]  # of lift over weight, about x = 0
    lift = rho - stuff.density
    # lead - lift V = light;  lead x_l - lift V x_f = moment
    lead = (moment - light * foam_x) / (lead_x - foam_x)
    foam = (lead - light) / lift
    lead, foam = (0.0 if abs(v) < 1e-9 * size else v for v, size in ((lead, state.mass), (foam, state.mass / rho)))
    if lead < 0 or foam < 0:
        which = "lead" if lead < 0 else "foam"
        raise NoAnswer(f"The {which} would have to be less than nothing there: swap their places, or move them along.")
    pieces, _, _ = sections(craft.hull.mesh, 0, np.array([foam_x]))
    back = float(pieces[..., 2].max()) if len(pieces) else float(high[2])
    bottom = float(pieces[..., 2].min()) if len(pieces) else float(low[2])
    side = foam ** (1 / 3)
    at = (foam_x, 0.0, back + side / 2)
    return TrimAnswer(lead, (lead_x, 0.0, bottom + 0.1 * (back - bottom)), foam, at, foam * stuff.density)


def trim_alone(craft: Craft, material: str = "pvc_foam") -> TrimAnswer:
    """Lead alone where the dived boat is light, foam alone where it is heavy: how much, and where it lies level. Raises NoAnswer
    where that place is outside the boat, or where it is neutral already."""
    low, high = craft.hull.mesh.bounds
    state, rho = state_at(craft, 1.0), craft.density
    moment = craft.hull.kernel.total_volume * rho * craft.hull.kernel.centroid[0] - state.mass * state.gravity[0]
    if abs(state.net) <= 1e-6 * state.mass:
        raise NoAnswer("With full tanks it neither rises nor sinks already.")
    x = moment / -state.net
    if not low[0] <= x <= high[0]:
        what = "lead" if state.net < 0 else "foam"
        raise NoAnswer(f"{what.capitalize()} alone would have to lie outside the boat to level it: name a place for each of lead and foam.")
    aside = low[0] + 0.5 * (x - low[0]) if x > (low[0] + high[0]) / 2 else x + 0.5 * (high[0] - x)
    return trim_out(craft, x, float(aside), material) if state.net < 0 else trim_out(craft, float(aside), x, material)


def with_trim(craft: Craft, answer: TrimAnswer, material: str = "pvc_foam") -> Design:
    """The boat with the lead on its list and the foam on its back."""
    design = craft.design
    lines = list(design.weights)
    bodies = list(design.bodies)
    if answer.lead > 0:
        lines.append(WeightItem("Trim lead", answer.lead, answer.lead_at, "data", group="ballast", material="lead"))
    if answer.foam > 0:
        side = answer.foam ** (1 / 3)
        name = next(n for n in ("trim foam", *(f"trim foam {k}" for k in range(2, 100))) if all(b.name != n for b in bodies))
        x, y, z = answer.foam_at
        bodies.append(Body(name, Box(side, side, side), (x - side / 2, y, z - side / 2), role="foam"))
        lines.append(
            WeightItem(name.capitalize(), answer.foam_mass, answer.foam_at, "data", group="foam", recipe=Foam(name, 1.0, material))
        )
    return dataclasses.replace(design, bodies=tuple(bodies), weights=tuple(lines))


def dived_trim(b: Point, g: Point) -> Radians:
    """Trim of a dived boat by hand: the angle whose tangent is the offset of B from G along the boat over its height above it."""
    return math.atan2(b[0] - g[0], b[2] - g[2])
