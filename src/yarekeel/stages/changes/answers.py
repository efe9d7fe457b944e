"""Solvers' answers made into changes of the boat: what a button "put it in" sends, in SI."""

import dataclasses
import math
import re

from yarekeel.core.errors import InvalidInput
from yarekeel.stages.afloat import forced
from yarekeel.stages.afloat.compartments import act as compartment_act
from yarekeel.stages.changes import loading
from yarekeel.stages.changes.ways import added_float, foam, tank
from yarekeel.stages.design import listing
from yarekeel.stages.design.craft import Craft
from yarekeel.stages.design.design import Design
from yarekeel.stages.sizing import size_map, sizing, stock
from yarekeel.stages.stability import floats, rolling

WORDS = {
    "answer.move": "move weights",
    "answer.load": "add a weight",
    "answer.foam": "add foam",
    "answer.tank": "add a ballast tank",
    "answer.trim": "trim with lead and foam",
    "answer.size": "add a float",
    "answer.resize": "resize",
    "answer.point": "take a point of the size map",
    "answer.stock": "take a size off the shelf",
    "answer.floats": "lower the floats",
    "answer.vcg": "correct heights by a test",
}


def act(craft: Craft, path: str, text: str) -> Design:
    """Make the change that ``path`` names with the numbers in ``text``. Raises InvalidInput, NoAnswer."""
    if path.startswith("compartments."):
        return compartment_act(craft, path, text)
    made = {
        "answer.move": _move,
        "answer.load": _load,
        "answer.foam": _foam,
        "answer.tank": _tank,
        "answer.trim": _trim,
        "answer.size": _size,
        "answer.resize": _resize,
        "answer.point": _point,
        "answer.stock": _stock,
        "answer.floats": _floats,
        "answer.vcg": _vcg,
    }.get(path)
    if made is None:
        raise InvalidInput(path, "There is no answer of that kind to put in.")
    return made(craft, path, text)


def _numbers(text: str, count: int, path: str) -> list[float]:
    try:
        found = [float(t) for t in text.split(",")]
    except ValueError:
        found = []
    if len(found) != count or not all(math.isfinite(v) for v in found):
        raise InvalidInput(path, "The answer on the page is out of date; ask again.")
    return found


def _move(craft: Craft, path: str, text: str) -> Design:
    """``index:x,y,z`` for each weight, parted by semicolons."""
    for one in text.split(";"):
        index, _, place = one.partition(":")
        if not index.isdigit() or int(index) >= len(craft.design.weights):
            raise InvalidInput(path, "There is no such weight any more.")
        x, y, z = _numbers(place, 3, path)
        craft = Craft(listing.put(craft, int(index), (x, y, z)))
    return craft.design


def _load(craft: Craft, path: str, text: str) -> Design:
    """``name|group|material|mass,x,y,z``."""
    parts = text.split("|")
    if len(parts) != 4:
        raise InvalidInput(path, "The answer on the page is out of date; ask again.")
    mass, x, y, z = _numbers(parts[3], 4, path)
    return loading.with_load(craft, loading.Load(mass, (x, y, z)), parts[0], parts[1], parts[2])


def _foam(craft: Craft, path: str, text: str) -> Design:
    """``spare|material``: solved again, so that it fits the boat as it is."""
    spare, _, material = text.partition("|")
    (kilograms,) = _numbers(spare, 1, path)
    return foam.with_foam(craft, foam.foam_for(craft, kilograms, material or "xps"), material or "xps")


def _tank(craft: Craft, path: str, text: str) -> Design:
    (inlet_out,) = _numbers(text or "0", 1, path)
    return dataclasses.replace(craft.design, compartments=(*craft.design.compartments, tank.tank_for(craft, inlet_out)))


def _trim(craft: Craft, path: str, text: str) -> Design:
    lead_x, foam_x = _numbers(text, 2, path)
    return tank.with_trim(craft, tank.trim_out(craft, lead_x, foam_x))


def _resize(craft: Craft, path: str, text: str) -> Design:
    """``unknown|value``, as Sizing names its unknowns."""
    what, _, number = text.partition("|")
    (value,) = _numbers(number, 1, path)
    changed = sizing.with_unknown(craft, sizing.unknown(craft, what).path, value)
    Craft(changed).hull  # noqa: B018 a hull that cannot be built is refused here
    return changed


def _point(craft: Craft, path: str, text: str) -> Design:
    """``unknown|value|unknown|value``: a point of the size map."""
    parts = text.split("|")
    if len(parts) != 4:
        raise InvalidInput(path, "The answer on the page is out of date; ask again.")
    x, y = _numbers(f"{parts[1]},{parts[3]}", 2, path)
    changed = size_map.at_point(craft, parts[0], x, parts[2], y)
    Craft(changed).hull  # noqa: B018 a hull that cannot be built is refused here
    return changed


def _stock(craft: Craft, path: str, text: str) -> Design:
    """``path|size``, as the shelves name them."""
    field, _, size = text.partition("|")
    return stock.taken(craft, field, size)


def _vcg(craft: Craft, path: str, text: str) -> Design:
    (height,) = _numbers(text, 1, path)
    return rolling.corrected(craft, height)


def _floats(craft: Craft, path: str, text: str) -> Design:
    (by,) = _numbers(text, 1, path)
    changed = floats.with_floats_lower(craft.design, by)
    Craft(changed).hull  # noqa: B018 a hull that cannot be built is refused here
    return changed


def _size(craft: Craft, path: str, text: str) -> Design:
    """``what|throttle,tow,x,y,z,hand,wind``."""
    what, _, numbers = text.partition("|")
    if not re.fullmatch("stern|sides", what):
        raise InvalidInput(path, "Choose a float at the stern, or one on each side.")
    throttle, tow, x, y, z, hand, wind = _numbers(numbers, 7, path)
    forces = forced.checked(forced.Forces(throttle, tow, (x, y, z), hand, wind))
    return added_float.with_float(craft, added_float.sized(craft, forces, "stern" if what == "stern" else "sides"))
