"""Steering: where the lateral area lies at the running attitude, against the centre of gravity."""

from dataclasses import dataclass

from yarekeel.core.findings import Finding, Remedy, Severity
from yarekeel.core.geometry.attitude import Attitude
from yarekeel.core.geometry.wetted import side_area
from yarekeel.core.kept import kept
from yarekeel.core.quantities import MetresPerSecond, Ratio, SquareMetres
from yarekeel.core.running.balance import Balanced
from yarekeel.core.running.course import fin_for
from yarekeel.core.running.floating import volume_share
from yarekeel.core.running.forces import State, Underway
from yarekeel.core.running.regime import planing_share
from yarekeel.core.sources import COMMON_PRACTICE, STATICS
from yarekeel.stages.afloat.forced import lateral_area
from yarekeel.stages.design.craft import Craft
from yarekeel.stages.running.resistance import resistance_of

SHARES: tuple[Ratio, ...] = (0.0, 0.25, 0.5, 0.75, 1.0)
"""Of the fastest speed of the curve."""
WANTED: Ratio = 0.05
"""Of the waterline, that the centre of lateral area should lie aft of G at speed (common practice)."""
FAST: Ratio = 0.5
"""Share of planing from which a boat that is not steady crabs or swaps ends."""


@dataclass(frozen=True, slots=True)
class SteeringRow:
    """A speed: the lateral area under water and how far its centre lies aft of G, of the waterline; the share of it that fins and rudder
    have, and how much of these is out of the water."""

    speed: MetresPerSecond
    area: SquareMetres
    margin: Ratio
    fins: Ratio
    fins_out: Ratio


@dataclass(frozen=True, slots=True)
class SteeringAssessment:
    """Rows by speed, and the fin at the stern that brings the margin to what is wanted (None where it is there already)."""

    rows: tuple[SteeringRow, ...]
    fin: SquareMetres | None
    findings: tuple[Finding, ...]


@kept
def assess(craft: Craft) -> SteeringAssessment | None:
    """None for a boat that does not run."""
    holds = resistance_of(craft)
    if holds is None:
        return None
    length = holds.boat.waterline
    rows: list[SteeringRow] = []
    shares: list[Ratio] = []
    for share in SHARES:
        k = round(share * (len(holds.balances) - 1))
        b = holds.balances[k]
        if b is None:
            continue
        area, centre = lateral_area(craft.hull.sketch.mesh, b.attitude)
        if area <= 0:
            continue
        wet, dry = _fins(craft, b.attitude)
        margin = (holds.boat.gravity[0] - centre[0]) / length
        rows.append(SteeringRow(b.speed, area, margin, min(wet / area, 1.0), dry / (wet + dry) if wet + dry > 0 else 0.0))
        shares.append(_off_water(holds.boat, b))
    if not rows:
        return None
    last = rows[-1]
    stern = float(craft.hull.mesh.bounds[0][0])
    fin = None
    if last.margin < WANTED:
        fin = fin_for(last.area, last.margin * length, WANTED * length, holds.boat.gravity[0] - stern)
    return SteeringAssessment(tuple(rows), fin, _findings(rows, shares, fin, flies=bool(holds.boat.foils)))


def _off_water(boat: Underway, b: Balanced) -> Ratio:
    """How far planing or foils have taken the place of buoyancy: 0 afloat, 1 on the plane or in flight."""
    if boat.pads:
        return planing_share(b.speed, boat.volume)
    return 1 - volume_share(boat, State(b.speed, b.attitude)) if boat.foils else 0.0


def _fins(craft: Craft, attitude: Attitude) -> tuple[SquareMetres, SquareMetres]:
    """Side area of fins and rudders under and over the water."""
    wet = dry = 0.0
    for body in craft.design.bodies:
        if body.role == "appendage":
            mesh = craft.body(body.name).mesh
            wet += side_area(mesh, attitude, wet=True)[0]
            dry += side_area(mesh, attitude, wet=False)[0]
    return wet, dry


def _findings(rows: list[SteeringRow], shares: list[Ratio], fin: SquareMetres | None, *, flies: bool) -> tuple[Finding, ...]:
    last = rows[-1]
    values: dict[str, float | str] = {
        "speed": last.speed,
        "margin": abs(last.margin),
        "side": "aft" if last.margin >= 0 else "ahead",
        "wanted": WANTED,
        "fin": fin or 0.0,
    }
    fast = shares[-1] >= FAST
    word: Severity = "note" if not fast else "holds" if last.margin >= WANTED else "near" if last.margin >= 0 else "fails"
    title = "The side area lies {margin:percent} of the waterline {side} of G at {speed:speed}"
    text = "Aft of it a boat runs straight by itself; ahead of it, it wants to turn, and on the plane it crabs, then swaps ends."
    remedies = (Remedy("Weight forward, a deeper rear fin, or smaller front ones", "shape"),) if word in ("near", "fails") else ()
    out = [Finding("underway.margin", word, title, text, COMMON_PRACTICE, values, remedies)]
    if fin is not None and last.margin < WANTED:
        text = "That much more side area under water there brings it {wanted:percent} aft of G."
        out.append(Finding("underway.fin", "note", "A fin of {fin:area} at the stern would do", text, STATICS, values))
    if last.fins_out > 0.5 and not flies:
        values["out"] = last.fins_out
        text = "At {speed:speed} they lie over the water: it will not steer there."
        remedies = (Remedy("Deeper fins and rudder", "shape"),)
        out.append(Finding("underway.fins_out", "near", "{out:percent} of fins and rudder are in the air", text, STATICS, values, remedies))
    return tuple(out)
