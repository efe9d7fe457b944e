"""Parts of the yard's bin on a boat: fitted, changed, taken off; their masses in the list, once, at their places.

What a part gives is copied into the boat, so that whatever becomes of it in the bin, a revision keeps what the water saw. ``drive.fitted``
remembers which part it was and which line of the list it is.
"""

import dataclasses
from dataclasses import dataclass
from typing import Any

from yarekeel.core.errors import InvalidInput
from yarekeel.core.parameters import parameters_of
from yarekeel.core.propulsion.drive import Drive, Fitted, Motor, Wiring
from yarekeel.core.propulsion.parts import KINDS, Part
from yarekeel.core.propulsion.propulsors import PROPULSORS
from yarekeel.core.quantities import Point
from yarekeel.core.weights.items import Group, Known, WeightItem
from yarekeel.stages.design import listing
from yarekeel.stages.design.craft import Craft
from yarekeel.stages.design.design import Design

DRIVING: tuple[str, ...] = ("motor", *PROPULSORS)
"""Kinds that stand with the drive in the list; others with the electrics."""


@dataclass(frozen=True, slots=True)
class Keyed:
    """A part with its key in the bin."""

    key: str
    part: Part


def fit(craft: Craft, keyed: Keyed, motor: str = "") -> Design:
    """The boat with a part fitted: to the motor of a name, or to the whole boat. It takes the place of one of its kind, in the list too.
    Raises InvalidInput."""
    design, part = craft.design, keyed.part
    kind = KINDS[part.kind]
    if kind.of_motor and all(m.name != motor for m in design.drive.motors):
        raise InvalidInput("parts", f"Say which motor the {kind.title.lower()} belongs to; add one on Drive first.")
    if not kind.of_motor:
        motor = ""
    old = None if kind.several else next((f for f in design.drive.fitted if f.kind == part.kind and f.motor == motor), None)
    design, line = _listed(craft, design, part, motor, old)
    row = Fitted(keyed.key, part.kind, part.name, motor, line, part.stamp)
    others = tuple(f for f in design.drive.fitted if kind.several or (f.kind, f.motor) != (part.kind, motor))
    drive = dataclasses.replace(_with(design.drive, part, motor), fitted=(*others, row))
    return dataclasses.replace(design, drive=_servos(drive))


def take_off(design: Design, number: int) -> Design:
    """Without a fitted part: what it gave goes, and its line leaves the list. Raises InvalidInput where there is none of that number."""
    fitted = design.drive.fitted
    if not 0 <= number < len(fitted):
        raise InvalidInput("parts", "There is no such part on this boat.")
    row = fitted[number]
    weights = tuple(w for w in design.weights if w.name != row.line) if row.line else design.weights
    drive = dataclasses.replace(_without(design.drive, row), fitted=fitted[:number] + fitted[number + 1 :])
    return dataclasses.replace(design, weights=weights, drive=_servos(drive))


def renewed(craft: Craft, number: int, keyed: Keyed) -> Design:
    """A fitted part as the bin has it now. Raises InvalidInput where it is another kind, or none of that number."""
    fitted = craft.design.drive.fitted
    if not 0 <= number < len(fitted) or fitted[number].kind != keyed.part.kind:
        raise InvalidInput("parts", "There is no such part on this boat.")
    row = fitted[number]
    if not KINDS[row.kind].several:
        return fit(craft, keyed, row.motor)
    line = next((k for k, w in enumerate(craft.design.weights) if w.name == row.line), None)
    weights = list(craft.design.weights)
    if line is not None:
        weights[line] = dataclasses.replace(weights[line], mass_kg=keyed.part.mass_kg)
    now = dataclasses.replace(row, name=keyed.part.name, stamp=keyed.part.stamp)
    drive = _with(craft.design.drive, keyed.part, row.motor)
    drive = dataclasses.replace(drive, fitted=(*fitted[:number], now, *fitted[number + 1 :]))
    return dataclasses.replace(craft.design, weights=tuple(weights), drive=_servos(drive))


def is_listed(design: Design, row: Fitted) -> bool:
    """Whether its mass is in the list."""
    return any(w.name == row.line for w in design.weights)


def followed(design: Design, motor: int, axis: int, by: float) -> Design:
    """The lines of a motor's parts moved along with it, along one axis."""
    name = design.drive.motors[motor].name
    lines = {f.line for f in design.drive.fitted if f.motor == name and f.line}

    def moved(w: WeightItem) -> WeightItem:
        place = [round(v + (by if k == axis else 0.0), 6) for k, v in enumerate(w.at_m)]
        return dataclasses.replace(w, at_m=(place[0], place[1], place[2])) if w.name in lines and not w.fixed else w

    return dataclasses.replace(design, weights=tuple(moved(w) for w in design.weights)) if lines else design


def motor_renamed(design: Design, old: str, new: str) -> Design:
    """The parts of a motor go with its new name."""
    fitted = tuple(dataclasses.replace(f, motor=new) if f.motor == old else f for f in design.drive.fitted)
    return dataclasses.replace(design, drive=dataclasses.replace(design.drive, fitted=fitted))


def without_motor(design: Design, motor: int) -> Design:
    """A motor's parts taken off, before it goes itself."""
    name = design.drive.motors[motor].name
    while (n := next((k for k, f in enumerate(design.drive.fitted) if f.motor == name), None)) is not None:
        design = take_off(design, n)
    return design


def _listed(craft: Craft, design: Design, part: Part, motor: str, old: Fitted | None) -> tuple[Design, str]:
    """The list with the part's line, and the line's name: the old part's line takes the new mass and name; else one is added."""
    names = {w.name for w in design.weights} - ({old.line} if old else set())
    base = f"{part.name}, {motor}" if motor and len(design.drive.motors) > 1 else part.name
    base = base[:74]
    name = next(n for n in (base, *(f"{base} {k}" for k in range(2, 1000))) if n not in names)
    known: Known = "weighed" if part.known == "own" else "data"
    if old is not None and is_listed(design, old):
        index = next(k for k, w in enumerate(design.weights) if w.name == old.line)
        design = listing.renamed(design, index, name)
        line = dataclasses.replace(design.weights[index], mass_kg=part.mass_kg, known=known)
        return dataclasses.replace(design, weights=(*design.weights[:index], line, *design.weights[index + 1 :])), name
    group: Group = "drive" if part.kind in DRIVING else "electrics"
    item = WeightItem(name, part.mass_kg, _place(craft, part, motor), known, group=group, note="from the parts bin")
    return dataclasses.replace(design, weights=(*design.weights, item)), name


def _place(craft: Craft, part: Part, motor: str) -> Point:
    """Where such a part usually sits: with its motor; else amidships, low."""
    at = next((m.at_m for m in craft.design.drive.motors if m.name == motor), None)
    if at is not None:
        return at
    low, high = craft.hull.mesh.bounds
    x, z = float(low[0] + high[0]) / 2, float(low[2] + 0.25 * (high[2] - low[2]))
    return (round(x, 3), 0.0, round(z, 3))


def _given(part: Part) -> dict[str, Any]:
    return {p.name: getattr(part.spec, p.name) for p in parameters_of(part.spec)}


def _on_motor(drive: Drive, name: str, change: Any) -> Drive:
    return dataclasses.replace(drive, motors=tuple(change(m) if m.name == name else m for m in drive.motors))


def _with(drive: Drive, part: Part, motor: str) -> Drive:
    """What a part gives, put in."""
    given = _given(part)
    if part.kind in PROPULSORS:
        return _on_motor(drive, motor, lambda m: dataclasses.replace(m, propulsor=part.spec))
    if part.kind in ("motor", "control"):
        return _on_motor(drive, motor, lambda m: dataclasses.replace(m, electric=dataclasses.replace(m.electric, **given)))
    if part.kind == "pack":
        return dataclasses.replace(drive, battery=part.spec)
    if part.kind == "receiver" and not part.spec.supply_a:
        del given["supply_a"]
    if part.kind == "servo":
        given["stall_a"] = max(part.spec.stall_a, drive.wiring.stall_a if any(f.kind == "servo" for f in drive.fitted) else 0.0)
    return dataclasses.replace(drive, wiring=dataclasses.replace(drive.wiring, **given)) if part.kind != "wire" else drive


def _without(drive: Drive, row: Fitted) -> Drive:
    """What a part gave, taken out again."""
    if row.kind in PROPULSORS:
        bare: Any = lambda m: dataclasses.replace(m, propulsor=None)  # noqa: E731 a row of the table that this is
        return _on_motor(drive, row.motor, bare)
    if row.kind == "pack":
        return dataclasses.replace(drive, battery=None)
    if row.kind in ("motor", "control"):
        usual = Motor("usual", 0.0, (0.0, 0.0, 0.0)).electric
        names = [p.name for p in parameters_of(KINDS[row.kind].spec)]
        given = {name: getattr(usual, name) for name in names}
        return _on_motor(drive, row.motor, lambda m: dataclasses.replace(m, electric=dataclasses.replace(m.electric, **given)))
    if row.kind in ("receiver", "plug"):
        given = {p.name: getattr(Wiring(), p.name) for p in parameters_of(KINDS[row.kind].spec)}
        return dataclasses.replace(drive, wiring=dataclasses.replace(drive.wiring, **given))
    return drive


def _servos(drive: Drive) -> Drive:
    """As many servos as are fitted, where any are."""
    count = sum(f.kind == "servo" for f in drive.fitted)
    return dataclasses.replace(drive, wiring=dataclasses.replace(drive.wiring, servos=count)) if count else drive
