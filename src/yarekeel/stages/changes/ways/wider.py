"""Wider sections: a new hull."""

from yarekeel.core.geometry.families import beam_of
from yarekeel.stages.changes.change import Change, Way, Words, main_hull
from yarekeel.stages.design.craft import Craft
from yarekeel.stages.design.design import Design
from yarekeel.stages.design.resizing import refitted


def _way(craft: Craft) -> Way:
    number = main_hull(craft)
    body = craft.design.bodies[number]
    at, name = f"bodies.{number}", beam_of(body.shape).name
    path, now = (f"{at}.shape.{name}", float(getattr(body.shape, name))) if name else (f"{at}.scale.1", body.scale[1])
    before = craft.hull.mesh.area

    def make(by: float) -> Design:
        return refitted(craft, path, now * (1 + by))

    def title(by: float, _: Craft) -> Words:
        values: dict[str, float | str] = {"by": by, "beam": now * (1 + by)}
        return ("Wider sections: {beam:length}, {by:percent1} more" if name else "Wider sections by {by:percent1}"), values

    def work(by: float, after: Craft) -> Words:
        return "a new hull, {skin:area} more skin", {"skin": after.hull.mesh.area - before}

    return Way(0.0, 1.0, make, title, work)


CHANGE = Change("wider", "Wider sections", 90, _way)
