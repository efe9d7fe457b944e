"""How many random boats run at every speed, and what becomes of the others: ``python -m tools.running_shares`` prints the shares.

Boats of eight families, of random sizes, loads and places of the weight, with a random line of thrust, ahead or astern.
"""

import dataclasses
import sys
from collections import Counter

import numpy as np

from yarekeel.core.errors import YareKeelError
from yarekeel.core.geometry.families import FAMILIES
from yarekeel.core.propulsion.drive import Drive, Motor
from yarekeel.core.water import Water
from yarekeel.core.weights.items import WeightItem
from yarekeel.stages.design.craft import Craft
from yarekeel.stages.design.design import Body, Design
from yarekeel.stages.running.resistance import Resistance, resistance_of

BOATS = 300
KINDS = ("round_bilge", "vee", "flat_bottom", "twin_hull", "stepped", "three_point", "pontoon", "folded_tray")


def boat_of(kind: str, share: float = 0.12, at: float = 0.38, up: float = 0.35, **sizes: float) -> Design:
    """A hull of a family with one weight: a share of what it displaces whole, so far along and up."""
    shape = FAMILIES[kind](**sizes)
    hull = Craft(Design("x", Water(), bodies=(Body("hull", shape),))).hull
    length, height = float(hull.mesh.bounds[1][0]), float(hull.mesh.bounds[1][2])
    weight = WeightItem("all", share * hull.kernel.total_volume * 1000, (at * length, 0.0, up * height))
    return Design("x", Water(), bodies=(Body("hull", shape),), weights=(weight,))


def random_boat(seed: int) -> Design:
    """One of them."""
    rng = np.random.default_rng([16, seed])
    design = boat_of(KINDS[seed % len(KINDS)], rng.uniform(0.05, 0.4), rng.uniform(0.3, 0.55), rng.uniform(0.1, 0.6))
    high = float(Craft(design).hull.mesh.bounds[1][2])
    motor = Motor("m", 5.0, (0.0, 0.0, rng.uniform(-0.2, 1.5) * high), tilt_deg=rng.uniform(-8, 8), astern=bool(rng.random() < 0.2))
    return dataclasses.replace(design, drive=Drive((motor,)))


def fate_of(design: Design) -> str:
    """What becomes of a boat: every speed balanced, some told as not, or none to tell. Raises AssertionError for what must not be."""
    try:
        found = resistance_of(Craft(design))
    except YareKeelError:
        return "refused in words"
    if found is None:
        return "does not float level enough to run"
    checked(found)
    return "some speeds have no balance, and that is said" if any(b is None for b in found.balances) else "balanced at every speed"


def checked(found: Resistance) -> None:
    """No figure that is none, every balance closed, what is lost said, and no leap of the trim where the model has none."""
    assert np.isfinite(found.newtons).all()
    assert np.isfinite(found.band).all()
    assert all(b.residual < 1e-6 for b in found.balances if b is not None)
    lost = any(b is None for b in found.balances)
    assert ("underway.unbalanced" in {f.code for f in found.findings}) == lost


def main(boats: int = BOATS) -> int:
    """Print the shares."""
    fates = Counter(fate_of(random_boat(seed)) for seed in range(boats))
    print(f"{boats} random boats under way")
    for fate, count in fates.most_common():
        print(f"  {fate:50s} {100 * count / boats:5.1f} of 100")
    return 0


if __name__ == "__main__":
    sys.exit(main(int(sys.argv[1]) if len(sys.argv) > 1 else BOATS))
