"""Edits as builders make them: set a field, add or remove a line, choose a family. Each gives a new design."""

import contextlib
import dataclasses
import re
from collections.abc import Callable, Sequence
from typing import Any

from yarekeel.core.errors import InvalidInput
from yarekeel.core.geometry.families import FAMILIES, MeshFile, is_open
from yarekeel.core.parameters import parameters_of
from yarekeel.core.propulsion.drive import Battery, Motor
from yarekeel.core.propulsion.propulsors import PROPULSORS
from yarekeel.core.propulsion.propulsors.measured import BenchPull
from yarekeel.core.propulsion.sail import Sail
from yarekeel.core.quantities import Kilograms, Ratio
from yarekeel.core.stability.inclining import Shift
from yarekeel.core.weights.items import WeightItem
from yarekeel.core.weights.materials import DENSEST, LIGHTEST
from yarekeel.plain_text import whole
from yarekeel.stages.design import fittings, listing
from yarekeel.stages.design.brief import DEFAULTS, Kind
from yarekeel.stages.design.craft import Craft
from yarekeel.stages.design.design import Body, Deck, Design, value_at, with_value
from yarekeel.stages.design.resizing import scaled

LADEN: Ratio = 0.35
"""Of what a hull displaces whole: what a boat is usually laden to (common practice)."""


def set_field(craft: Craft, path: str, value: Any) -> Design:
    """Set one field, and what goes along with it by the rows at the foot. Raises InvalidInput."""
    for pattern, act in _GOES_ALONG:
        if (found := pattern.fullmatch(path)) is not None and (changed := act(craft, value, *found.groups())) is not None:
            return changed
    return _set(craft, path, value)


def _set(craft: Craft, path: str, value: Any) -> Design:
    design = craft.design
    if path.startswith("marks.") and design.marks is None:
        design = dataclasses.replace(design, marks=craft.marks)
    changed = with_value(design, path, value)
    if path.startswith("bodies."):
        Craft(changed).hull  # noqa: B018 a shape that cannot be built is refused here
    return changed


def _case_renamed(craft: Craft, value: Any, number: str) -> Design | None:
    """A load case's name; the one in force stays in force."""
    design = craft.design
    if int(number) >= len(design.cases) or design.cases[int(number)].name != design.case:
        return None
    return dataclasses.replace(with_value(dataclasses.replace(design, case=""), f"cases.{number}.name", value), case=value)


def _weight(craft: Craft, number: int, name: str, value: Any) -> Design:
    """A weight's name (those that refer to it follow), mass (of an estimate, the factor on it) or place (others go along)."""
    design, item = craft.design, craft.design.weights[number]
    if name == "name":
        return listing.renamed(design, number, value)
    if name == "mass_kg":
        return listing.with_mass(craft, number, value)
    if name == "moves_with":
        if value and (value == item.name or all(w.name != value for w in design.weights)):
            raise InvalidInput("moves_with", f"There is no other weight called “{value[:40]}”; write a name from the list, or nothing.")
        return with_value(design, f"weights.{number}.moves_with", value)
    k = int(name[-1])
    place = (*item.at_m[:k], value, *item.at_m[k + 1 :])
    return listing.shifted(design, number, (place[0] - item.at_m[0], place[1] - item.at_m[1], place[2] - item.at_m[2]))


def _density(design: Design, number: int, value: float) -> Design:
    """A new density of one of the boat's own materials, its range with it."""
    now = design.materials[number]
    ratio = value / now.density
    low, high = max(LIGHTEST, now.low * ratio), min(DENSEST, now.high * ratio)
    changed = dataclasses.replace(now, density=value, low=min(low, value), high=max(high, value))
    return dataclasses.replace(design, materials=(*design.materials[:number], changed, *design.materials[number + 1 :]))


def _with_kind(design: Design, kind: str) -> Design:
    if kind not in DEFAULTS:
        raise InvalidInput("brief.kind", "Choose a model, or a boat that carries people.")
    old, new = DEFAULTS[design.brief.kind], DEFAULTS[kind]
    kept = {
        f.name: getattr(design.brief, f.name)
        for f in dataclasses.fields(design.brief)
        if f.name != "kind" and getattr(design.brief, f.name) != getattr(old, f.name)
    }
    return refitted(design, dataclasses.replace(design, brief=dataclasses.replace(new, **kept)))


def laid_down(name: str, shape: Any, kind: Kind) -> Design:
    """A new boat of a hull and a kind: open or decked as such boats are, large enough for people where they go aboard, its target mass
    what such a hull carries. Raises InvalidInput."""
    deck: Deck = "open" if is_open(shape, kind) else "decked"
    design = Design(name, brief=DEFAULTS[kind], bodies=(Body("hull", shape, deck=deck, role="hull"),))
    larger = (DEFAULTS[kind].target_mass_kg / usual_target(design)) ** (1 / 3) if kind == "people" else 1.0
    if larger > 1:
        with contextlib.suppress(InvalidInput):  # a family that is not made so large stays as it is
            design = scaled(design, round(larger, 1))
    return dataclasses.replace(design, brief=dataclasses.replace(design.brief, target_mass_kg=usual_target(design)))


def usual_target(design: Design) -> Kilograms:
    """A target mass to begin with: a share of what the whole hull displaces, to two figures; the usual of its kind while it cannot be
    built."""
    try:
        return float(f"{LADEN * Craft(design).hull.kernel.total_volume * design.water.density:.2g}")
    except InvalidInput:
        return DEFAULTS[design.brief.kind].target_mass_kg


def refitted(old: Design, new: Design) -> Design:
    """The boat after its family, a size or its kind was changed: what was as usual for the old is as usual for the new. What the builder
    set stays."""
    bodies = tuple(_decked(a, b, old.brief.kind, new.brief.kind) for a, b in zip(old.bodies, new.bodies, strict=True))
    new = dataclasses.replace(new, bodies=bodies)
    untouched = (usual_target(old), DEFAULTS[old.brief.kind].target_mass_kg)
    if old.brief.target_mass_kg not in untouched or any(w.mass_kg for w in old.weights):
        return new
    return dataclasses.replace(new, brief=dataclasses.replace(new.brief, target_mass_kg=usual_target(new)))


def _decked(old: Body, new: Body, old_kind: Kind, new_kind: Kind) -> Body:
    was, now = is_open(old.shape, old_kind), is_open(new.shape, new_kind)
    if new.role != "hull" or was == now or (old.deck == "open") != was or new.deck != old.deck:
        return new
    return dataclasses.replace(new, deck="open" if now else "decked")


def _family(design: Design, number: int, kind: str) -> Any:
    family = FAMILIES.get(kind)
    if kind == value_at(design, f"bodies.{number}.shape").kind:
        return value_at(design, f"bodies.{number}.shape")
    if family is None or family is MeshFile:
        raise InvalidInput("bodies", "Choose one of the hull families listed.")
    now = value_at(design, f"bodies.{number}.shape")
    try:  # keep the sizes that both have, if the new family can be built with them
        mine = {p.name for p in parameters_of(family)}
        return family(**{p.name: getattr(now, p.name) for p in parameters_of(now) if p.name in mine})
    except InvalidInput:
        return family()


def _read_by_hand(design: Design, name: str) -> Design:
    """A reading that was typed is nobody's practice any more."""
    left = tuple(n for n in design.weigh_in.practice if n != name)
    return dataclasses.replace(design, weigh_in=dataclasses.replace(design.weigh_in, practice=left))


def as_practice(design: Design, name: str) -> Design:
    """A reading of the weigh-in marked as a stand-in's."""
    marked = (*(n for n in design.weigh_in.practice if n != name), name)
    return dataclasses.replace(design, weigh_in=dataclasses.replace(design.weigh_in, practice=marked))


def _new_weight(craft: Craft) -> Any:
    low, high = craft.hull.mesh.bounds
    x, z = float(low[0] + high[0]) / 2, float(low[2] + (high[2] - low[2]) / 3)
    return WeightItem(listing.NEW, 0.0, (round(x, 3), 0.0, round(z, 3)))


def _new_motor(craft: Craft) -> Any:
    low, _ = craft.hull.mesh.bounds
    names = {m.name for m in craft.design.drive.motors}
    name = next(n for n in ("Motor", *(f"Motor {k}" for k in range(2, 1000))) if n not in names)
    return Motor(name, 0.0, (round(float(low[0]), 3), 0.0, round(float(low[2]), 3)))


def _new_sail(craft: Craft) -> Any:
    low, high = craft.hull.mesh.bounds
    length, x = float(high[0] - low[0]), float(low[0] + high[0]) / 2
    names = {s.name for s in craft.design.sails}
    name = next(n for n in ("Sail", *(f"Sail {k}" for k in range(2, 100))) if n not in names)
    return Sail(name, round(0.2 * length**2, 4), (round(x, 3), 0.0, round(float(high[2]) + 0.3 * length, 3)))


LINES: dict[str, Callable[[Craft], Any]] = {
    "weights": _new_weight,
    "drive.motors": _new_motor,
    "sails": _new_sail,
    "incline.shifts": lambda craft: Shift(),
}
"""Lists that a line can be added to or taken from, each with what a new line is: placed where such things usually sit."""
SINGLES: dict[str, Callable[[Craft], Any]] = {"drive.battery": lambda craft: Battery()}
"""What the boat has one of, or none."""
OWN_PACK = re.compile(r"drive\.motors\.\d{1,3}\.battery")
"""A motor's own pack; a new one is as the boat's."""


def add_line(craft: Craft, what: str) -> Design:
    """A new line at the end of a list, or what there is one of. Raises InvalidInput."""
    design = craft.design
    if what in SINGLES:
        return with_value(design, what, SINGLES[what](craft))
    if OWN_PACK.fullmatch(what):
        value_at(design, what)  # refused where there is no such motor
        return with_value(design, what, design.drive.battery or Battery())
    if what not in LINES:
        raise InvalidInput("add", "Only weights, motors, a battery, sails and readings can be added.")
    if what == "weights":
        return listing.appended(design, [_new_weight(craft)])
    return with_value(design, what, (*value_at(design, what), LINES[what](craft)))


def remove_line(design: Design, path: str) -> Design:
    """Take away a line by its path, such as ``weights.2``, or what there is one of. Raises InvalidInput."""
    if path in SINGLES or OWN_PACK.fullmatch(path):
        value_at(design, path)  # refused where there is no such motor
        return with_value(design, path, None)
    where, _, index = path.rpartition(".")
    lines: tuple[Any, ...] = value_at(design, where) if where in LINES else ()
    if (number := whole(index)) is None or number >= len(lines):
        raise InvalidInput(path, "There is no such line to remove.")
    k = int(index)
    if where == "drive.motors":
        design = fittings.without_motor(design, k)
        lines = design.drive.motors
    return with_value(design, where, lines[:k] + lines[k + 1 :])


def _known(rows: Callable[[Design], Sequence[Any]], number: str, craft: Craft) -> bool:
    return int(number) < len(rows(craft.design))


def _with_propulsor(craft: Craft, number: str, kind: str) -> Design:
    """What a motor turns, of another kind; none leaves it with the pull that was typed. A battery comes with the first."""
    path = f"drive.motors.{number}.propulsor"
    now = value_at(craft.design, path)
    if now is not None and now.kind == kind:
        return craft.design
    if not kind:
        return with_value(craft.design, path, None)
    if kind not in PROPULSORS:
        raise InvalidInput(f"{path}.kind", f"Choose one of: {', '.join(p.title for p in PROPULSORS.values())}.")
    changed = with_value(craft.design, path, PROPULSORS[kind]())
    return changed if changed.drive.battery or not PROPULSORS[kind].electric else with_value(changed, "drive.battery", Battery())


def _test_renamed(design: Design, number: int, name: str) -> Design:
    """A test's new name; the units that are known by it follow."""
    old = design.drive.tests[number].name
    changed = with_value(design, f"drive.tests.{number}.name", name)
    motors = tuple(
        dataclasses.replace(m, propulsor=dataclasses.replace(m.propulsor, test=name))
        if isinstance(m.propulsor, BenchPull) and m.propulsor.test == old
        else m
        for m in changed.drive.motors
    )
    return with_value(changed, "drive.motors", motors)


def _motor_moved(craft: Craft, number: str, axis: str, value: float) -> Design:
    """A motor's place; its fitted parts go along."""
    by = value - craft.design.drive.motors[int(number)].at_m[int(axis)]
    changed = _set(craft, f"drive.motors.{number}.at_m.{axis}", value)
    return fittings.followed(changed, int(number), int(axis), by)


def _motor_renamed(craft: Craft, number: str, value: str) -> Design:
    """A motor's name, which tells it from the others; its fitted parts keep to it."""
    motors = craft.design.drive.motors
    if any(m.name == value for k, m in enumerate(motors) if k != int(number)):
        raise InvalidInput("name", "Another motor has that name already.")
    old = motors[int(number)].name
    return fittings.motor_renamed(_set(craft, f"drive.motors.{number}.name", value), old, value)


_GOES_ALONG: tuple[tuple[re.Pattern[str], Callable[..., Design | None]], ...] = (
    (re.compile(r"brief\.kind"), lambda craft, value: _with_kind(craft.design, value)),
    (
        re.compile(r"(bodies\.(\d{1,3})\.shape)\.kind"),
        lambda craft, value, path, number: refitted(craft.design, _set(craft, path, _family(craft.design, int(number), value))),
    ),
    (
        re.compile(r"drive\.motors\.(\d{1,3})\.at_m\.([012])"),
        lambda craft, value, n, axis: _motor_moved(craft, n, axis, value) if _known(lambda d: d.drive.motors, n, craft) else None,
    ),
    (
        re.compile(r"drive\.motors\.(\d{1,3})\.name"),
        lambda craft, value, n: _motor_renamed(craft, n, value) if _known(lambda d: d.drive.motors, n, craft) else None,
    ),
    (
        re.compile(r"drive\.tests\.(\d{1,3})\.name"),
        lambda craft, value, n: _test_renamed(craft.design, int(n), value) if _known(lambda d: d.drive.tests, n, craft) else None,
    ),
    (re.compile(r"drive\.motors\.(\d{1,3})\.propulsor\.kind"), lambda craft, value, n: _with_propulsor(craft, n, value)),
    (
        re.compile(r"materials\.(\d{1,3})\.density"),
        lambda craft, value, n: _density(craft.design, int(n), value) if _known(lambda d: d.materials, n, craft) else None,
    ),
    (
        re.compile(r"weights\.(\d{1,4})\.(name|mass_kg|moves_with|at_m\.[012])"),
        lambda craft, value, n, name: _weight(craft, int(n), name, value) if _known(lambda d: d.weights, n, craft) else None,
    ),
    (re.compile(r"weigh_in\.(\w+)"), lambda craft, value, name: _read_by_hand(_set(craft, f"weigh_in.{name}", value), name)),
    (
        re.compile(r"incline\.shifts\.(\d{1,3})\.(heel_deg|moved_m)"),
        lambda craft, value, k, name: with_value(_set(craft, f"incline.shifts.{k}.{name}", value), f"incline.shifts.{k}.practice", False),
    ),
    (
        re.compile(r"incline\.(time_s|rolls)"),
        lambda craft, value, name: with_value(_set(craft, f"incline.{name}", value), "incline.time_practice", False),
    ),
    (
        re.compile(r"cases\.(\d{1,3})\.counts\.(\d{1,4})"),
        lambda craft, value, case, line: listing.with_count(craft.design, int(case), int(line), value),
    ),
    (re.compile(r"cases\.(\d{1,3})\.name"), _case_renamed),
    (
        re.compile(r"bodies\.(\d{1,3})\.name"),
        lambda craft, value, n: listing.with_body_renamed(craft.design, int(n), value) if _known(lambda d: d.bodies, n, craft) else None,
    ),
)
"""Fields that bring something along: the path, and what is done; None where the field is like any other after all."""
