"""What a builder does with the bodies of a boat: add, copy, order, join into twins and trimarans, stretch a table."""

import dataclasses
import re
from collections.abc import Callable
from typing import Any, Literal, cast, get_args

from yarekeel.core.errors import InvalidInput
from yarekeel.core.geometry.families import FAMILIES, AnyShape, Box, MeshFile, Offsets
from yarekeel.core.geometry.families.offsets import Change
from yarekeel.core.geometry.families.pontoon import Pontoon
from yarekeel.core.geometry.lifting import table_of
from yarekeel.core.geometry.mesh import Mesh
from yarekeel.core.parameters import Parameter, parameters_of
from yarekeel.core.quantities import Metres, Ratio
from yarekeel.plain_text import whole
from yarekeel.stages.design.craft import Craft
from yarekeel.stages.design.design import Body, Design, Opening, Role

_SIZES: dict[Role, Ratio] = {"hull": 1.0, "float": 0.6, "foam": 0.3, "appendage": 0.12, "fairing": 0.3}
"""Length of a new body over the boat's, by its part (a start, to be changed)."""
ARRANGEMENTS = {
    "twin": "Twin hull",
    "trimaran": "Trimaran",
    "outrigger": "Outrigger",
    "strips": "Side strips",
}


def _with(design: Design, bodies: list[Body]) -> Design:
    changed = dataclasses.replace(design, bodies=tuple(bodies))
    Craft(changed).hull  # noqa: B018 a hull that cannot be built is refused here
    return changed


def _named(design: Design, name: str) -> str:
    taken = {b.name for b in design.bodies}
    return next(n for n in (name, *(f"{name} {k}" for k in range(2, 1000))) if n not in taken)


def _extent(mesh: Mesh) -> tuple[Metres, Metres, Metres, Any, Any]:
    low, high = mesh.bounds
    length, beam, depth = (float(v) for v in high - low)
    return length, beam, depth, low, high


def added(craft: Craft, kind: str) -> tuple[Design, int]:
    """A body of a family, sized to the boat and put where such a body usually sits."""
    family = FAMILIES.get(kind)
    if family is None or family is MeshFile:
        raise InvalidInput("bodies.add", "Choose one of the families listed.")
    length, beam, depth, low, high = _extent(craft.hull.mesh)
    role = cast(Role, family.role)
    shape = _sized(family(), length * _SIZES[role])
    _, wide, tall, start, _ = _extent(shape.build())
    x = float(low[0]) + (0.2 * length if role != "hull" else 0.0) - float(start[0])
    y = float(high[1]) + 0.25 * beam + wide / 2 if role == "float" else 0.0
    z = float(low[2])
    if role == "appendage":
        z -= 0.9 * tall + float(start[2])
    elif role == "foam":
        z += 0.1 * depth
    at = (round(x, 4), round(y, 4), round(z, 4))
    body = Body(_named(craft.design, family.title.split(",")[0].lower()), shape, at, mirrored=role == "float", role=role)
    return _with(craft.design, [*craft.design.bodies, body]), len(craft.design.bodies)


def _sized(shape: AnyShape, length: Metres) -> AnyShape:
    """The shape with every length parameter scaled so that it is about ``length`` long; as it is where that cannot be."""
    now = shape.build().length
    factor = float(f"{length / now:.2g}") if now > 0 else 1.0
    lengths = {p.name: float(f"{getattr(shape, p.name) * factor:.3g}") for p in parameters_of(shape) if p.kind == "length"}
    try:
        return cast(AnyShape, dataclasses.replace(cast(Any, shape), **lengths))
    except InvalidInput:
        return shape


def duplicated(craft: Craft, number: int) -> tuple[Design, int]:
    """A copy of a body beside it."""
    bodies = list(craft.design.bodies)
    body = bodies[number]
    beam = _extent(craft.piece(number))[1]
    x, y, z = body.at_m
    shift = 0.0 if body.mirrored else round(1.1 * beam, 4)
    bodies.insert(number + 1, dataclasses.replace(body, name=_named(craft.design, body.name), at_m=(x, y + shift, z)))
    return _with(craft.design, bodies), number + 1


def removed(craft: Craft, number: int) -> tuple[Design, int]:
    """The boat without a body."""
    bodies = list(craft.design.bodies)
    if len(bodies) == 1:
        raise InvalidInput("bodies", "A boat needs at least one body; change this one instead.")
    del bodies[number]
    return _with(craft.design, bodies), max(0, number - 1)


def swapped(step: int) -> Callable[[Craft, int], tuple[Design, int]]:
    """A body one place up (-1) or down (1) the list."""

    def swap(craft: Craft, number: int) -> tuple[Design, int]:
        bodies = list(craft.design.bodies)
        other = number + step
        if 0 <= other < len(bodies):
            bodies[number], bodies[other] = bodies[other], bodies[number]
        return _with(craft.design, bodies), min(max(other, 0), len(bodies) - 1)

    return swap


def arranged(craft: Craft, number: int, what: str) -> tuple[Design, int]:
    """Make a monohull a twin hull, trimaran or outrigger, or glue strips on its sides; sizes are a start, to be changed."""
    bodies = list(craft.design.bodies)
    body = bodies[number]
    length, beam, depth, low, high = _extent(craft.piece(number))
    if what == "twin":
        if body.mirrored:
            raise InvalidInput("bodies", "This body is a pair already.")
        x, _, z = body.at_m
        bodies[number] = dataclasses.replace(body, at_m=(x, round(0.9 * beam, 4), z), mirrored=True)
        return _with(craft.design, bodies), number
    if what == "strips":
        strip = Box(_tidy(0.6 * length), max(_tidy(0.12 * beam), 0.02), max(_tidy(0.2 * depth), 0.005))
        at = (round(float(low[0]) + 0.15 * length, 4), round(float(high[1]) - 0.02 * beam, 4), round(float(low[2]) + 0.35 * depth, 4))
        bodies.append(Body(_named(craft.design, "side strip"), strip, at, mirrored=True, role="float"))
        return _with(craft.design, bodies), len(bodies) - 1
    if what not in ARRANGEMENTS:
        raise InvalidInput("bodies", "Choose a twin hull, trimaran, outrigger or side strips.")
    one_sided = what == "outrigger"
    long, wide, deep = (max(_tidy(v), 0.02) for v in (0.6 * length, 0.22 * beam, 0.45 * depth))
    aside = float(high[1]) + (1.0 if one_sided else 0.6) * beam
    at = (round(float(low[0]) + 0.2 * length, 4), round(aside, 4), round(float(low[2]) + 0.2 * depth, 4))
    float_body = Body(_named(craft.design, "float"), Pontoon(long, wide, deep, 0.3 * long), at, mirrored=not one_sided, role="float")
    return _with(craft.design, [*bodies, float_body]), len(bodies)


def _tidy(value: Metres) -> Metres:
    return float(f"{value:.2g}")


def to_table(craft: Craft, number: int) -> tuple[Design, int]:
    """A body as a table of offsets."""
    bodies = list(craft.design.bodies)
    bodies[number] = dataclasses.replace(bodies[number], shape=table_of(bodies[number].shape.build()))
    return _with(craft.design, bodies), number


def with_opening(craft: Craft, number: int) -> tuple[Design, int]:
    """An opening on the body's top, amidships."""
    bodies = list(craft.design.bodies)
    body = bodies[number]
    low, high = body.shape.build().bounds
    at = (round(float(low[0] + high[0]) / 2, 4), 0.0, round(float(high[2]), 4))
    names = {o.name for o in body.openings}
    name = next(n for n in ("hatch", *(f"hatch {k}" for k in range(2, 1000))) if n not in names)
    bodies[number] = dataclasses.replace(body, openings=(*body.openings, Opening(name, at)))
    return _with(craft.design, bodies), number


def without_opening(craft: Craft, number: int, k: int) -> tuple[Design, int]:
    """A body without one of its openings."""
    bodies = list(craft.design.bodies)
    openings = bodies[number].openings
    if not 0 <= k < len(openings):
        raise InvalidInput("openings", "There is no such opening.")
    bodies[number] = dataclasses.replace(bodies[number], openings=openings[:k] + openings[k + 1 :])
    return _with(craft.design, bodies), number


# Tables of offsets


def _table(craft: Craft, number: int, change: Callable[[Offsets], Offsets]) -> Design:
    bodies = list(craft.design.bodies)
    shape = bodies[number].shape
    if not isinstance(shape, Offsets):
        raise InvalidInput(f"bodies.{number}.shape", "Only a table of offsets takes such changes.")
    bodies[number] = dataclasses.replace(bodies[number], shape=change(shape))
    return _with(craft.design, bodies)


What = Literal["higher", "wider", "longer"]


def changed(craft: Craft, number: int, what: str) -> tuple[Design, int]:
    """A new change of a table, 10 % to begin with; sides are raised from the line below the sheer where sections have chines."""
    if what not in get_args(What):
        raise InvalidInput("changes", "Choose higher, wider or longer.")

    def add(table: Offsets) -> Offsets:
        foot = len(table.lines) - 2 if what == "higher" and table.sections == "chine" and len(table.lines) > 2 else 0
        return dataclasses.replace(table, changes=(*table.changes, Change(cast(What, what), 0.1, above=foot)))

    return _table(craft, number, add), number


def moved_change(craft: Craft, number: int, k: int, how: str) -> tuple[Design, int]:
    """A change of a table up, down or removed."""
    return _table(craft, number, lambda table: _with_change_moved(table, k, how)), number


def _with_change_moved(table: Offsets, k: int, how: str) -> Offsets:
    changes = list(table.changes)
    if not 0 <= k < len(changes):
        raise InvalidInput("changes", "There is no such change.")
    if how == "remove":
        del changes[k]
    else:
        other = k + (1 if how == "down" else -1)
        if 0 <= other < len(changes):
            changes[k], changes[other] = changes[other], changes[k]
    return dataclasses.replace(table, changes=tuple(changes))


def worked_in(craft: Craft, number: int) -> tuple[Design, int]:
    """A table with its changes worked into its numbers."""
    return _table(craft, number, lambda table: table.changed()), number


def with_station(craft: Craft, number: int, after: str) -> tuple[Design, int]:
    """A station half way between one and the next, its numbers in between."""

    def add(table: Offsets) -> Offsets:
        k = len(table.stations) // 2 - 1 if (number := whole(after)) is None else number
        if not 0 <= k < len(table.stations) - 1:
            raise InvalidInput("stations", "A station is added between two others.")
        a, b = table.stations[k], table.stations[k + 1]
        middle = dataclasses.replace(
            a,
            x_m=(a.x_m + b.x_m) / 2,
            half_breadths_m=tuple((p + q) / 2 for p, q in zip(a.half_breadths_m, b.half_breadths_m, strict=True)),
            heights_m=tuple((p + q) / 2 for p, q in zip(a.heights_m, b.heights_m, strict=True)),
        )
        moved = tuple(_shifted(c, lambda n: n + 1 if n > k else n) for c in table.changes)
        return dataclasses.replace(table, stations=(*table.stations[: k + 1], middle, *table.stations[k + 1 :]), changes=moved)

    return _table(craft, number, add), number


def without_station(craft: Craft, number: int, which: str) -> tuple[Design, int]:
    """A table without one of its stations."""

    def drop(table: Offsets) -> Offsets:
        k = -1 if (number := whole(which)) is None else number
        if not 0 <= k < len(table.stations):
            raise InvalidInput("stations", "There is no such station.")
        if any(k in (c.station, c.fade_to) for c in table.changes):
            raise InvalidInput("stations", f"A change speaks of station {k}; remove that change first.")
        moved = tuple(_shifted(c, lambda n: n - 1 if n > k else n) for c in table.changes)
        return dataclasses.replace(table, stations=table.stations[:k] + table.stations[k + 1 :], changes=moved)

    return _table(craft, number, drop), number


def _shifted(change: Change, to: Callable[[int], int]) -> Change:
    """A change that still speaks of the same stations after their numbers moved."""
    station, fade = change.station, change.fade_to
    return dataclasses.replace(change, station=None if station is None else to(station), fade_to=None if fade is None else to(fade))


# What a parameter moves


def nudged(craft: Craft, path: str) -> Craft | None:
    """The boat with one parameter of a body a little larger (smaller where it cannot be), to be drawn over it; None if neither."""
    found = re.fullmatch(r"bodies\.(\d{1,3})\.shape\.(\w+)", path)
    if not found or int(found[1]) >= len(craft.design.bodies):
        return None
    number = int(found[1])
    body = craft.design.bodies[number]
    for p in parameters_of(body.shape):
        if p.name == found[2]:
            for value in _tries(p, getattr(body.shape, p.name), craft.hull.mesh.length):
                try:
                    bodies = list(craft.design.bodies)
                    bodies[number] = dataclasses.replace(body, shape=dataclasses.replace(cast(Any, body.shape), **{p.name: value}))
                    other = Craft(dataclasses.replace(craft.design, bodies=tuple(bodies)))
                    other.hull  # noqa: B018 built here, so that what cannot be is not drawn
                except InvalidInput:
                    continue
                return other
    return None


def _tries(p: Parameter, now: Any, boat: Metres) -> list[Any]:
    if p.kind == "choice":
        codes = [code for code, _ in p.choices]
        k = codes.index(now)
        return [codes[(k + 1) % len(codes)]]
    step = {"length": max(0.15 * now, 0.02 * boat), "degrees": 8.0, "ratio": 0.15, "count": 1}[p.kind]
    return [now + step, now - step, now + step / 3, now - step / 3]


def as_drawn(craft: Craft, number: int) -> Craft | None:
    """The boat with a table's changes left out, to be laid beside it; None where no change is on."""
    shape = craft.design.bodies[number].shape
    if not isinstance(shape, Offsets) or not any(c.on for c in shape.changes):
        return None
    bodies = list(craft.design.bodies)
    bodies[number] = dataclasses.replace(bodies[number], shape=dataclasses.replace(shape, changes=()))
    return Craft(dataclasses.replace(craft.design, bodies=tuple(bodies)))
