"""The wet transom: what a stern that is cut off under water drags behind it until the water leaves it clean."""

import math

from yarekeel.core.constants import STANDARD_GRAVITY
from yarekeel.core.findings import Finding
from yarekeel.core.formulas import formula
from yarekeel.core.quantities import Floats, Metres, MetresPerSecond, Ratio
from yarekeel.core.running.floating import floating_share, volume_share
from yarekeel.core.running.forces import Force, Law, State, Underway
from yarekeel.core.sources import HOLTROP_1982

BAND = 0.5
CLEAN: Ratio = 5.0
"""Froude number on the transom from which the water leaves it clean."""
LEAST: Ratio = 0.02
"""Of the largest section, that a transom is told of from."""


@formula("Fn_T = V / sqrt(2 g T)", HOLTROP_1982, "T = A_T / B_T mean draft of the transom; the waterplane taken as full there")
def transom_froude(speed: MetresPerSecond, draft: Metres) -> Ratio:
    """Speed over that of a wave as deep as the transom."""
    return speed / math.sqrt(2 * STANDARD_GRAVITY * draft)


@formula("c_T = 0.2 (1 - 0.2 Fn_T), 0 from Fn_T 5", HOLTROP_1982, "wet transoms of displacement hulls, ±50 %")
def transom_drag(froude: Ratio) -> Ratio:
    """Drag coefficient of a wet transom on its area."""
    return 0.2 * max(1 - 0.2 * froude, 0.0)


def forces(boat: Underway, state: State) -> tuple[Force, ...]:
    """Back, at the transom; nothing for a boat without one, or that planes."""
    if boat.transom <= 0 or state.speed <= 0:
        return ()
    share = floating_share(boat, state) * volume_share(boat, state)
    drag = transom_drag(transom_froude(state.speed, boat.transom_draft)) * boat.density / 2 * state.speed**2 * boat.transom
    return (Force("transom", (-share * drag, 0.0, 0.0), boat.transom_at, BAND, HOLTROP_1982),)


def findings(boat: Underway, speeds: Floats) -> tuple[Finding, ...]:
    """To which speed it runs wet."""
    if boat.transom < LEAST * boat.midship or not len(speeds):
        return ()
    clean = CLEAN / transom_froude(1.0, boat.transom_draft)
    values: dict[str, float | str] = {"speed": clean, "area": boat.transom, "band": BAND}
    text = "{area:area} of it stand square to the flow. The law of the waves leaves it out; what it drags is added, ±{band:percent}."
    return (Finding("underway.transom", "note", "Its transom runs wet to {speed:speed}", text, HOLTROP_1982, values),)


LAW = Law(7, forces, findings)
