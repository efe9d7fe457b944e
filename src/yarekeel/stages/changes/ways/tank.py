"""A ballast tank that just takes a boat under, and level; lead and foam that make the dived boat neutral."""

import dataclasses
from dataclasses import dataclass

import numpy as np

from yarekeel.core.errors import InvalidInput, NoAnswer
from yarekeel.core.geometry.attitude import rotation
from yarekeel.core.geometry.families.box import Box
from yarekeel.core.geometry.sections import sections
from yarekeel.core.quantities import CubicMetres, Kilograms, Metres, Point
from yarekeel.core.search import edge
from yarekeel.core.weights.items import WeightItem
from yarekeel.core.weights.materials import MATERIALS
from yarekeel.core.weights.recipes.foam import Foam
from yarekeel.stages.afloat.dive import state_at
from yarekeel.stages.changes.change import free_name
from yarekeel.stages.design.craft import Craft
from yarekeel.stages.design.design import Body, Compartment, Design


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

    def tank_of(half: Metres) -> Compartment:
        return Compartment(name, body.name, level - half, level + half, high_m=middle, use="tank", vented=vented, room=1.0)

    def over(half: Metres) -> CubicMetres:
        return Craft(dataclasses.replace(craft.design, compartments=(*taken, tank_of(half)))).spaces[-1].capacity - needed

    if over(reach) < 0:
        raise NoAnswer("The lower half of the hull does not hold enough water: give the tank more height.")
    half = edge(over, 1e-6 * reach, reach, 1e-12 * reach)
    tank = tank_of(half)
    tank = dataclasses.replace(tank, aft_m=round(level - half, 6), fore_m=round(level + half, 6))
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
        raise InvalidInput("lead", "Places lie between {low:length} and {high:length} from aft.", low=float(low[0]), high=float(high[0]))
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
    return TrimAnswer(
        lead=lead, lead_at=(lead_x, 0.0, bottom + 0.1 * (back - bottom)), foam=foam, foam_at=at, foam_mass=foam * stuff.density
    )


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
        name = free_name(design, "trim foam")
        x, y, z = answer.foam_at
        bodies.append(Body(name, Box(side, side, side), (x - side / 2, y, z - side / 2), role="foam"))
        lines.append(
            WeightItem(name.capitalize(), answer.foam_mass, answer.foam_at, "data", group="foam", recipe=Foam(name, 1.0, material))
        )
    return dataclasses.replace(design, bodies=tuple(bodies), weights=tuple(lines))
