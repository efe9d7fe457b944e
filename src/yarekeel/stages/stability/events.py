"""What meets the surface as a boat is leaned: rims, openings, floats, hulls, propellers."""

from collections.abc import Callable
from dataclasses import dataclass, replace

import numpy as np

from yarekeel.core.geometry.mesh import Floats
from yarekeel.core.quantities import Metres, Point, Radians
from yarekeel.core.stability.righting import (
    Righted,
    RightingCurve,
    RightingPoint,
    crossing,
)
from yarekeel.stages.design.craft import Craft
from yarekeel.stages.design.outers import outers_of


@dataclass(frozen=True, slots=True)
class Event:
    """Something that meets the surface at a heel. ``code``: rim, opening, touches, flies, under, propeller."""

    code: str
    name: str
    heel: Radians


def _height_of(at: Point) -> Callable[[RightingPoint], Metres]:
    return lambda p: p.attitude.height_of(at)


def events_along(craft: Craft, boat: Righted, curve: RightingCurve) -> list[Event]:
    """What meets the surface on the way out to one side, each as it first does."""
    out: list[Event] = []

    def first(code: str, name: str, height: Callable[[RightingPoint], Metres], falling: bool) -> None:
        values = [height(p) for p in curve.points]
        for k in range(len(values) - 1):
            if (values[k] > 0 >= values[k + 1]) if falling else (values[k] <= 0 < values[k + 1]):
                out.append(Event(code, name, crossing(boat, curve.points[k], curve.points[k + 1], height).heel))
                return

    first("rim", "rim" if craft.hull.open else "deck edge", lambda p: p.freeboard, True)
    for name, at in craft.openings:
        first("opening", name, _height_of(at), True)
    for outer in outers_of(craft):

        def lowest(p: RightingPoint, z: Floats = outer.points) -> Metres:
            return float((z @ np.array(p.attitude.up)).min()) + p.origin_height

        def highest(p: RightingPoint, z: Floats = outer.points) -> Metres:
            return float((z @ np.array(p.attitude.up)).max()) + p.origin_height

        if outer.side * curve.side < 0:  # on the side that goes down
            first("touches", outer.name, lowest, True)
            first("under", outer.name, highest, True)
        elif not outer.is_float or lowest(curve.points[0]) < 0:
            first("flies", outer.name, lowest, False)
    for motor in craft.design.drive.motors:
        if curve.points[0].attitude.height_of(motor.at_m) < 0:
            first("propeller", motor.name, _height_of(motor.at_m), False)
    if not craft.hull.open:
        out = [replace(e, code="deck") if e.code == "rim" else e for e in out]
    return sorted(out, key=lambda e: abs(e.heel))
