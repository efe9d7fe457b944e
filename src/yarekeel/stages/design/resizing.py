"""A boat larger or smaller, whole or in one of its sizes: every part that is placed in it goes along as it says itself.

What a field does is said where it is declared (``moves``), or by its class in ``moved``; a test holds that each says something.
"""

import dataclasses
import re
from functools import cache
from typing import Any, Literal, cast, get_args, get_type_hints

import numpy as np

from yarekeel.core.errors import InvalidInput
from yarekeel.core.geometry.mesh import Mesh
from yarekeel.core.geometry.stretch import Stretch
from yarekeel.core.parameters import parameters_of
from yarekeel.core.quantities import Metres, Point, Ratio
from yarekeel.stages.design.craft import Craft, built
from yarekeel.stages.design.design import Body, Design, with_value

AXES = ("x", "y", "z")
LEAST_STRETCH, MOST_STRETCH = 0.1, 10.0
HAIR: Metres = 1e-9


def moved(part: Any, by: Stretch) -> Any:
    """A part of the boat, and all that it holds, after a resize."""
    own = getattr(part, "moved", None)
    if own is not None:
        return own(by)
    changes: dict[str, Any] = {}
    about = {p.name: p.moves for p in parameters_of(part)}
    for f in dataclasses.fields(part):
        value, rule = getattr(part, f.name), about.get(f.name, "")
        if rule in AXES and value is not None:
            changes[f.name] = by.along(AXES.index(rule), value)
        elif rule == "place":
            changes[f.name] = by.point(value)
        elif rule == "area":
            changes[f.name] = value * by.area
        elif _holds_parts(cast(Any, type(part)), f.name):
            changes[f.name] = tuple(moved(one, by) for one in value) if isinstance(value, tuple) else value and moved(value, by)
    return dataclasses.replace(part, **changes) if changes else part


@cache
def _holds_parts(cls: Any, name: str) -> bool:
    """Whether a field holds parts, one or many, that may be placed."""
    return any(dataclasses.is_dataclass(t) for t in parts_in(get_type_hints(cls)[name]))


def parts_in(hint: Any) -> tuple[Any, ...]:
    """Every class named in a type: of a union, of a tuple."""
    inner = [] if hint is Literal else get_args(hint)
    return (hint, *(t for one in inner for t in parts_in(one)))


def scaled(design: Design, factor: Ratio) -> Design:
    """Every length times ``factor``; structure grows with its skin (factor squared), bought parts keep their mass."""
    return cast(Design, moved(design, Stretch.whole(factor)))


def stretched(craft: Craft, factors: Point) -> Design:
    """The whole boat longer, wider and deeper by factors of its own: every body, every place; typed structure grows with the skin,
    bought parts keep their mass, sails their area. Raises InvalidInput where it cannot be built."""
    if not all(LEAST_STRETCH <= f <= MOST_STRETCH for f in factors):
        raise InvalidInput("stretch", "A boat is stretched to between a tenth and ten times its size.")
    design = craft.design
    bodies = cast(Design, moved(design, Stretch(factors=factors))).bodies
    surface = Craft(dataclasses.replace(design, bodies=bodies, compartments=())).hull.mesh.area / craft.hull.mesh.area
    return cast(Design, moved(design, Stretch(factors=factors, surface=surface)))


def refitted(craft: Craft, path: str, value: float) -> Design:
    """The boat with one size of a body at a value, and everything else gone along.

    A hull takes along what is in and on it: what lies inside keeps its share of it, what stands outside keeps its distance from it
    (the other bodies, each as a whole). A float or a fin takes along its own openings and compartments. A body moved aside takes
    along its compartments. Typed structure gets heavier as the surface grows. Raises InvalidInput where it cannot be built.
    """
    found = re.match(r"bodies\.(\d+)\.(shape|scale|at_m)\.", path)
    changed = with_value(craft.design, path, value)
    if found is None:
        return changed
    number = int(found[1])
    before, after = craft.design.bodies[number], changed.bodies[number]
    own = Stretch(*_box(built(cast(Any, before.shape))), *_box(built(cast(Any, after.shape)))) if found[2] == "shape" else Stretch()
    after = dataclasses.replace(after, openings=tuple(o.moved(own) for o in after.openings))
    bodies = [*changed.bodies[:number], after, *changed.bodies[number + 1 :]]
    shifts: dict[str, Stretch] = {}
    whole = None
    if found[2] == "at_m":
        shifts[before.name] = _shift(before, after)
    else:
        # Only the pieces are needed for their boxes; the bodies are united once, at the end.
        half_done = Craft(dataclasses.replace(changed, bodies=tuple(bodies)))
        shifts[before.name] = Stretch(*_box(craft.piece(number)), *_box(half_done.piece(number)))
        if before.role == "hull":
            whole = _hulls(craft, half_done)
            for n, body in enumerate(craft.design.bodies):
                if n != number:
                    bodies[n], shifts[body.name] = _gone_along(craft, n, body, whole)
    changed = dataclasses.replace(changed, bodies=tuple(bodies))
    spaces = tuple(moved(c, shifts[c.body]) if c.body in shifts else c for c in changed.compartments)
    changed = dataclasses.replace(changed, compartments=spaces)
    surface = Craft(changed).hull.mesh.area / craft.hull.mesh.area
    rest = dataclasses.replace(whole or Stretch(), surface=surface)
    kept = {"bodies": changed.bodies, "compartments": changed.compartments}
    return dataclasses.replace(cast(Design, moved(dataclasses.replace(changed, compartments=()), rest)), **kept)  # type: ignore[arg-type]


def _box(mesh: Mesh) -> tuple[Point, Point]:
    low, high = mesh.bounds
    return (float(low[0]), float(low[1]), float(low[2])), (float(high[0]), float(high[1]), float(high[2]))


def _hulls(before: Craft, after: Craft) -> Stretch:
    """The box that holds every hull, before and after."""

    def box(craft: Craft) -> tuple[Point, Point]:
        boxes = [_box(craft.piece(n)) for n, b in enumerate(craft.design.bodies) if b.role == "hull"]
        low, high = np.min([b[0] for b in boxes], axis=0).tolist(), np.max([b[1] for b in boxes], axis=0).tolist()
        return (low[0], low[1], low[2]), (high[0], high[1], high[2])

    return Stretch(*box(before), *box(after))


def _gone_along(craft: Craft, number: int, body: Body, by: Stretch) -> tuple[Body, Stretch]:
    """A body whose own size stays, shifted as its middle is (of a pair, the middle of the one on the body's side), and that shift."""
    low, high = _box(craft.piece(number))
    middle = [(low[k] + high[k]) / 2 for k in range(3)]
    if body.mirrored and body.at_m[1] != 0:
        inner = abs(body.at_m[1])
        middle[1] = inner if body.at_m[1] > 0 else -inner
    dx, dy, dz = (by.along(k, middle[k]) - middle[k] for k in range(3))
    x, y, z = body.at_m
    shifted = dataclasses.replace(body, at_m=(x + dx, y + dy, z + dz))
    return shifted, _shift(body, shifted)


def _shift(before: Body, after: Body) -> Stretch:
    """What a body's move does to what is in it; of a pair each side goes its own way, and the middle between them stays."""
    dx, dy, dz = (b - a for a, b in zip(before.at_m, after.at_m, strict=True))
    if not before.mirrored or before.at_m[1] == 0:
        return Stretch(new_low=(dx, dy, dz), new_high=(dx, dy, dz))
    out = dy if before.at_m[1] > 0 else -dy
    return Stretch((0.0, -HAIR, 0.0), (0.0, HAIR, 0.0), (dx, -HAIR - out, dz), (dx, HAIR + out, dz))
