"""The boat as a trial found it: its list corrected to the mass and centre that were read, its pull and drag to what it did."""

import dataclasses
import math
from collections.abc import Mapping

from yarekeel.core.errors import InvalidInput, NoRest
from yarekeel.core.findings import Finding
from yarekeel.core.propulsion.drive import warmed
from yarekeel.core.quantities import Kilograms, Metres, Point
from yarekeel.core.sources import MECHANICS
from yarekeel.core.weights.items import WeightItem
from yarekeel.stages.design import listing
from yarekeel.stages.design.craft import Craft
from yarekeel.stages.design.design import Design, with_value
from yarekeel.stages.trials import found
from yarekeel.stages.trials.found import Told
from yarekeel.stages.trials.trials import FloatTest


def as_found(craft: Craft, test: FloatTest) -> tuple[Design, Finding]:
    """The design with its list corrected to the mass and centre that the trial found, water inside taken off.

    Mass missing from the list becomes an item of its own where the moments put it, if that is inside the boat. Otherwise
    the items not weighed are scaled by one factor and the one least sure is moved within the boat, or all that are loose; what that
    cannot give is left as listed and said. TCG stays as listed where no heel was read.
    """
    total = craft.total
    mass, lcg, tcg = total.mass, total.centre[0], total.centre[1]
    try:
        told = found.told_of(craft, test.readings)
    except (InvalidInput, NoRest):
        told = None
    if told is not None:
        mass, lcg, tcg = (
            now if value is None else value
            for now, value in zip((mass, lcg, tcg), (told[n].value for n in ("mass", "lcg", "tcg")), strict=True)
        )
    design, correction = _listed_as(craft, mass, lcg, tcg)
    return (design if told is None else with_factors(design, told)), correction


def _listed_as(craft: Craft, mass: Kilograms, lcg: Metres, tcg: Metres) -> tuple[Design, Finding]:
    """The design with its list corrected to a mass and a centre."""
    design, total = craft.design, craft.total
    extra = mass - total.mass
    if abs(extra) < 1e-4 * total.mass and abs(lcg - total.centre[0]) < 1e-4 and abs(tcg - total.centre[1]) < 1e-4:
        return design, Finding(
            "fixes.as_listed", "holds", "The list stands", "The trial agrees with the list; nothing is corrected.", source=MECHANICS
        )
    if extra > 0:
        x = (mass * lcg - total.mass * total.centre[0]) / extra
        y = (mass * tcg - total.mass * total.centre[1]) / extra
        if _inside(craft, x, y):
            item = WeightItem(
                name="Unaccounted, by trial",
                mass_kg=round(extra, 6),
                at_m=_spot(x, y, total.centre[2]),
                known="guessed",
                group="structure",  # nobody knows what it is, so nobody can move it
            )
            return dataclasses.replace(design, weights=(*design.weights, item)), Finding(
                "fixes.unaccounted",
                "near",
                "{extra:mass} is unaccounted for",
                "The trial puts it {x:length} from aft; it is carried as an item of its own in what follows, and stays where it is.",
                source=MECHANICS,
                values={"extra": extra, "x": x},
            )
    return _redistributed(craft, mass, lcg, tcg)


def with_factors(design: Design, told: Mapping[str, Told]) -> Design:
    """The boat with its pull, its drag and its pack's resistance as the trial found them, where it tells them."""
    pull, drag, ohms = (told[n].value for n in ("thrust_factor", "drag_factor", "pack_ohms"))
    if ohms is not None and ohms > 0 and design.drive.battery is not None:
        design = with_value(design, "drive.battery.resistance_ohm", round(warmed(design.drive.battery, ohms), 5))
    if pull is not None:
        design = dataclasses.replace(design, drive=dataclasses.replace(design.drive, pull_factor=round(design.drive.pull_factor * pull, 3)))
    return design if drag is None else dataclasses.replace(design, drag_factor=round(design.drag_factor * drag, 3))


def _inside(craft: Craft, x: Metres, y: Metres) -> bool:
    low, high = craft.hull.mesh.bounds
    return bool(low[0] <= x <= high[0] and low[1] <= y <= high[1])


def _redistributed(craft: Craft, mass: Kilograms, lcg: Metres, tcg: Metres) -> tuple[Design, Finding]:
    corrected, unsure, factor = listing.factored(craft, mass)
    changed = Craft(corrected)
    items, total = changed.items, changed.total.mass
    have_x, have_y, _ = changed.total.centre
    need = (total * (lcg - have_x), total * (tcg - have_y))
    movable = [k for k, w in enumerate(items) if not w.fixed and w.mass_kg > 0]
    loose = [k for k in movable if k in unsure] or movable
    one_by_one = [[k] for k in sorted(loose, key=lambda k: -items[k].half_width)]
    values: dict[str, float | str] = {"factor": factor, "short": lcg - have_x}
    for lines in (*one_by_one, loose):
        moved = math.fsum(items[k].mass_kg for k in lines)
        if not moved:
            continue
        dx, dy = need[0] / moved, need[1] / moved
        if not all(_inside(craft, items[k].at_m[0] + dx, items[k].at_m[1] + dy) for k in lines):
            continue
        for k in lines:
            x, y, z = items[k].at_m
            corrected = listing.put(Craft(corrected), k, _spot(x + dx, y + dy, z), alone=True)
        values |= {"name": items[lines[0]].name if len(lines) == 1 else "all that was not weighed", "shift": dx}
        text = "What was not weighed is taken as {factor:percent} of its listed mass, and {name} as {shift:fore_aft} of its listed place."
        return corrected, Finding(
            "fixes.redistributed", "near", "The list is corrected to the trial", text, source=MECHANICS, values=values
        )
    text = (
        "What was not weighed is taken as {factor:percent} of its listed mass. Its centre would have to lie {short:fore_aft}, which no "
        "listed weight can do within the boat: read the drafts and the marks again."
    )
    return corrected, Finding("fixes.unexplained", "near", "The list does not explain the trial", text, source=MECHANICS, values=values)


def _spot(x: Metres, y: Metres, z: Metres) -> Point:
    """A place to a thousandth of a millimetre: no builder sets a weight finer, and the file stays readable."""
    return round(x, 6) + 0.0, round(y, 6) + 0.0, round(z, 6) + 0.0
