"""How often what says 95 % holds: boats drawn with errors in everything their lists hold, weighed, rolled and inclined.

Each boat is listed, and its true self drawn from what the list says it is unsure of: every mass (lots together), every place, every
size, the water that swings along. The true boat is then put on scales, tipped, timed and inclined with readings off within their
limits, and each stated interval is looked at. ``python -m tools.bands`` prints the share that holds, kind by kind.
"""

import dataclasses
import math
import sys
from collections import Counter
from collections.abc import Iterator

import numpy as np

from yarekeel.core.found import Found
from yarekeel.core.geometry.families import FlatBottom, RoundBilge
from yarekeel.core.geometry.families.pontoon import Pontoon
from yarekeel.core.geometry.families.submersible import Submersible
from yarekeel.core.hydrostatics.afloat import Afloat, float_boat
from yarekeel.core.stability.inclining import ADDED, Incline, Shift, roll_period, with_added
from yarekeel.core.water import Water
from yarekeel.core.weights.items import WeightItem, lots
from yarekeel.core.weights.recipes.person import Person
from yarekeel.core.weights.recipes.printed import Printed
from yarekeel.core.weights.recipes.skin import Skin
from yarekeel.core.weights.weigh_in import WeighIn, weighed
from yarekeel.stages.afloat import afloat as floating
from yarekeel.stages.design.craft import Craft
from yarekeel.stages.design.design import Body, Design
from yarekeel.stages.stability import rolling, stability

KINDS = ("model", "skiff", "multihull", "submarine")
BOATS = 200
LEAST, MOST = 0.90, 0.99
HEELS = tuple(math.radians(a) for a in (0, 2, 4, 7, 12, 20))


def listed(kind: str, rng: np.random.Generator) -> Design:
    """A boat of a kind as its builder lists it, sizes and weights by chance about an ordinary one."""
    s = rng.uniform(0.85, 1.2)

    def about(value: float) -> float:
        return value * rng.uniform(0.85, 1.15)

    water = Water(density_kg_m3=1000.0)
    if kind == "model":
        hull = RoundBilge(length_m=0.9 * s, beam_m=about(0.24), depth_m=about(0.14))
        weights = (
            WeightItem("Hull", 1.0, (0, 0, 0), "data", group="structure", recipe=Printed("hull", material="petg")),
            WeightItem("Battery", about(0.9), (0.42 * s, 0.0, 0.03), "weighed", group="electrics"),
            WeightItem("Motor", about(0.35), (0.2 * s, 0.0, 0.04), "data", group="drive"),
            WeightItem("Radio", about(0.15), (0.6 * s, 0.0, 0.06), "guessed", group="electrics"),
            WeightItem("Ballast", about(0.8), (0.45 * s, 0.0, 0.015), "weighed", group="ballast", material="lead"),
        )
        return Design("Model", water, bodies=(Body("hull", hull),), weights=weights)
    if kind == "skiff":
        hull = FlatBottom(length_m=3.4 * s, beam_m=about(1.25), depth_m=about(0.45))
        weights = (
            WeightItem("Hull", 1.0, (0, 0, 0), "data", group="structure", recipe=Skin("hull", "hull", 0.006)),
            WeightItem("Rower", about(75.0), (1.6 * s, 0.0, 0.25), "data", group="crew", recipe=Person(about(75.0))),
            WeightItem("Outboard", about(12.0), (0.05, 0.0, 0.4), "weighed", group="drive"),
            WeightItem("Thwarts", about(6.0), (1.6 * s, 0.0, 0.25), "guessed", group="structure", material="pine"),
            WeightItem("Gear", about(15.0), (2.2 * s, 0.0, 0.12), "guessed"),
        )
        return Design("Skiff", water, bodies=(Body("hull", hull, deck="open"),), weights=weights)
    if kind == "multihull":
        float_ = Body("float", Pontoon(1.6 * s, about(0.26), about(0.26), 0.4), (0.2, about(0.55), 0.0), mirrored=True, role="hull")
        weights = (
            WeightItem("Float skins", 1.0, (0, 0, 0), "data", group="structure", recipe=Skin("float", "all", 0.004)),
            WeightItem("Beams", about(6.0), (1.0 * s, 0.0, 0.28), "guessed", group="structure", material="pine"),
            WeightItem("Rider", about(60.0), (0.95 * s, 0.0, 0.30), "data", group="crew", recipe=Person(about(60.0), 1.65)),
            WeightItem("Gear, one each side", about(4.0), (1.2 * s, 0.5, 0.2), "guessed", pair=True),
        )
        return Design("Multihull", water, bodies=(float_,), weights=weights)
    hull = Submersible(0.92 * s, about(0.13), 1.2, 0.75, 0.35, 0.014, 0.12, 0.045, 0.085, 0.56)
    weights = (
        WeightItem("Hull", 2.2 * s**2, (0.45 * s, 0.0, 0.075), "weighed", group="structure", material="petg"),
        WeightItem("Keel lead", about(2.6) * s**3, (0.46 * s, 0.0, 0.012), "weighed", group="ballast", material="lead"),
        WeightItem("Battery", about(1.3), (0.55 * s, 0.0, 0.04), "weighed", group="electrics"),
        WeightItem("Pump and servos", about(0.8), (0.30 * s, 0.0, 0.05), "data", group="electrics"),
        WeightItem("Wiring", about(0.3), (0.42 * s, 0.0, 0.08), "guessed", group="electrics"),
    )
    return Design("Submarine", water, bodies=(Body("hull", hull),), weights=weights)


@dataclasses.dataclass(frozen=True, eq=False)
class Truth:
    """The boat as it is: mass, centre, radius of gyration in roll, where it floats."""

    mass: float
    centre: np.ndarray
    gyration: float
    rest: Afloat


def truth_of(craft: Craft, rng: np.random.Generator) -> Truth:
    """Drawn from all that the list is unsure of. A band of 95 % is 1.96 standard deviations to each side."""
    items, extents = craft.acting, craft.aboard.extents
    shares = np.array([i.share for i in items]) / 1.96
    masses = np.array([i.mass_kg for i in items])
    masses = np.maximum(masses * (1 + shares * rng.standard_normal(len(items))[lots(items)]), 0.0)
    places = np.array([i.at_m for i in items]) + np.array([i.place_width for i in items]) / 1.96 * rng.standard_normal((len(items), 3))
    sizes = [1 + e.unsure / 1.96 * rng.standard_normal() for e in extents]
    mass = float(masses.sum())
    centre = masses @ places / mass
    away = places - centre
    own = sum(max(s, 0.05) * e.inertia[0, 0] * m / i.mass_kg for s, e, m, i in zip(sizes, extents, masses, items, strict=True) if i.mass_kg)
    gyration = math.sqrt((float(masses @ (away[:, 1] ** 2 + away[:, 2] ** 2)) + float(own)) / mass)
    rest = float_boat(craft.hull, mass, tuple(centre.tolist()), craft.density, None, craft.kernel)
    return Truth(mass, centre, gyration, rest)


def figures(kind: str, seed: int) -> Iterator[tuple[str, Found, float]]:
    """Each stated figure of one boat (name, stated, true); nothing for one that does not float upright."""
    rng = np.random.default_rng([KINDS.index(kind), seed])
    craft = Craft(listed(kind, rng))
    try:
        boat, stated = truth_of(craft, rng), craft.settled
    except Exception:
        return
    if stated.is_unsteady or boat.rest.is_unsteady or stated.gm_transverse < 0.004 or boat.rest.gm_transverse < 0.004:
        return
    total = craft.total
    yield "listed mass", Found(total.mass, total.half_width), boat.mass
    for axis, name in enumerate(("LCG", "TCG", "VCG")):
        yield f"listed {name}", Found(total.centre[axis], total.centre_half_width[axis]), float(boat.centre[axis])
    found = floating.assess(craft)
    assert found.outputs is not None
    if found.spread is not None:
        yield "listed trim", Found(found.outputs.trim, found.spread.trim), boat.rest.attitude.trim
        yield "listed GM", Found(found.outputs.gm, found.spread.gm), boat.rest.gm_transverse
    yield from _on_scales(craft, boat, rng)
    yield from _in_the_water(craft, boat, rng)


def _on_scales(craft: Craft, boat: Truth, rng: np.random.Generator) -> Iterator[tuple[str, Found, float]]:
    total, (x, y, z) = craft.total, boat.centre.tolist()
    low, high = (v.tolist() for v in craft.hull.mesh.bounds)
    length = high[0] - low[0]
    scale, ruler, angle = 0.002 * boat.mass, 0.001 + 0.0005 * length, 0.5

    def off(value: float, limit: float) -> float:
        return value + rng.uniform(-limit, limit)

    x1, x2, support, rise = low[0] + 0.15 * length, high[0] - 0.15 * length, low[2], 0.15 * length
    fore = boat.mass * (x - x1) / (x2 - x1)
    pitch = math.tan(math.asin(rise / (x2 - x1)))
    raised = boat.mass * ((x - x1) - (z - support) * pitch) / (x2 - x1)
    edge_y, edge_z = low[1], 0.3 * (low[2] + high[2])
    tip = math.degrees(math.atan2(y - edge_y, z - edge_z))
    lcg, tcg = (Found(total.centre[k], total.centre_half_width[k]) for k in (0, 1))
    base = dict(scale_kg=scale, place_m=ruler, angle_deg=angle)
    two = dict(aft_kg=off(boat.mass - fore, scale), fore_kg=off(fore, scale), aft_x_m=off(x1, ruler), fore_x_m=off(x2, ruler))
    once = weighed(WeighIn(**base, **two, raised_kg=off(raised, scale), rise_m=off(rise, ruler), support_z_m=off(support, ruler)), lcg, tcg)
    yield "two scales, mass", once.mass, boat.mass
    yield "two scales, LCG", once.lcg, x
    yield "one end raised, VCG", once.vcg, z
    alone = dict(mass_kg=off(boat.mass, scale), aft_x_m=off(x1, ruler), fore_x_m=off(x2, ruler))
    by_list = weighed(
        WeighIn(**base, **alone, raised_kg=off(raised, scale), rise_m=off(rise, ruler), support_z_m=off(support, ruler)), lcg, tcg
    )
    yield "one end raised by the list's LCG, VCG", by_list.vcg, z
    if 5.0 < tip < 85.0:
        read = WeighIn(**base, tip_deg=off(tip, angle), tip_y_m=off(edge_y, ruler), tip_z_m=off(edge_z, ruler))
        yield "tipped, VCG", weighed(read, lcg, tcg).vcg, z


def _in_the_water(craft: Craft, boat: Truth, rng: np.random.Generator) -> Iterator[tuple[str, Found, float]]:
    added = rng.uniform(*ADDED)
    period = roll_period(with_added(boat.gyration, added), boat.rest.gm_transverse)
    x, y, z = boat.centre.tolist()
    reach = 0.35 * float(np.ptp(craft.hull.mesh.bounds, axis=0)[1])
    weight = 0.05 * boat.mass * min(1.0, boat.rest.gm_transverse / reach * 2)
    crooked = rng.uniform(-0.5, 0.5)
    limit, ruler = 0.1, 0.001

    def shift(moved: float) -> Shift:
        at = (x, y - weight * moved / boat.mass, z)
        heel = float_boat(craft.hull, boat.mass, at, craft.density, None, craft.kernel).attitude.heel
        return Shift(moved + rng.uniform(-ruler, ruler), math.degrees(heel) + crooked + rng.uniform(-limit, limit))

    incline = Incline(
        weight_kg=weight,
        shifts=tuple(shift(m) for m in (-reach, -reach / 2, 0.0, reach / 2, reach)),
        angle_deg=limit,
        place_m=ruler,
        rolls=10,
        time_s=10 * period + rng.uniform(-0.3, 0.3),
        time_limit_s=0.3,
    )
    tried = Craft(dataclasses.replace(craft.design, incline=incline))
    r = rolling.assess(tried, stability.assess(tried, HEELS))
    if r is None or r.vcg_timed is None or r.gm_timed is None:
        return
    yield "radius of gyration", r.gyration, boat.gyration
    yield "predicted roll period", r.period, period
    yield "timed rolls, GM", r.gm_timed, boat.rest.gm_transverse
    yield "timed rolls, VCG", r.vcg_timed, z
    if r.inclined is not None:
        yield "inclining, VCG", r.inclined, z


def coverage(kind: str, boats: int) -> dict[str, tuple[int, int]]:
    """How many of the stated intervals of each figure hold, and of how many."""
    held: Counter[str] = Counter()
    tried: Counter[str] = Counter()
    for seed in range(boats):
        for name, stated, true in figures(kind, seed):
            tried[name] += 1
            held[name] += abs(stated.value - true) <= stated.half_width
    return {name: (held[name], count) for name, count in tried.items()}


def main(boats: int = BOATS) -> int:
    """Print every figure's share, kind by kind; 1 where any lies outside."""
    outside = 0
    for kind in KINDS:
        print(f"{kind}, {boats} boats")
        for name, (held, tried) in coverage(kind, boats).items():
            share = held / tried
            word = "" if LEAST <= share <= MOST else "  outside 90 to 99"
            outside += bool(word)
            print(f"  {name:40s} {100 * share:5.1f} of 100, {tried} intervals{word}")
    return 1 if outside else 0


if __name__ == "__main__":
    sys.exit(main(int(sys.argv[1]) if len(sys.argv) > 1 else BOATS))
