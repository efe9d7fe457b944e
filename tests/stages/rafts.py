"""A box raft and its words, shared by the tests of Float."""

from yarekeel.core.geometry.families import Box
from yarekeel.core.water import Water
from yarekeel.core.weights.items import WeightItem
from yarekeel.stages.design.brief import Brief
from yarekeel.stages.design.design import Body, Design
from yarekeel.units import fill

WITHIN = 1e-3
"""A solver's answer, put in, meets its target to a thousandth."""


def said(findings):
    return [(f.code, fill(f.title, f.values), fill(f.sentence, f.values)) for f in findings]


def raft(mass: float = 40.0, **brief) -> Design:
    """A box 2 x 0.6 x 0.3 m in fresh water of 1000 kg/m3."""
    return Design(
        "Raft",
        Water(density_kg_m3=1000.0),
        Brief("model", 60.0, 0.05, 2.0, 0.05) if not brief else Brief(**brief),
        (Body("hull", Box(2.0, 0.6, 0.3), deck="open"),),
        (WeightItem("Shell", mass * 0.75, (1.0, 0.0, 0.1), group="structure"), WeightItem("Stone", mass * 0.25, (0.8, 0.05, 0.1))),
    )
