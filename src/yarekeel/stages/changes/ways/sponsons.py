"""Wider sponsons on a three-point hull: more pad to run on."""

from yarekeel.core.geometry.families.three_point import ThreePoint
from yarekeel.stages.changes.aims import PADS
from yarekeel.stages.changes.change import Change, NoWay, Way, Words, main_hull
from yarekeel.stages.design.craft import Craft
from yarekeel.stages.design.resizing import refitted


def _way(craft: Craft) -> Way:
    number = main_hull(craft)
    shape = craft.design.bodies[number].shape
    if not isinstance(shape, ThreePoint):
        raise NoWay("It has no sponsons of its own; put its floats further out instead.")
    most = shape.beam_m / 2 / shape.sponson_beam_m - 1
    if most <= 0:
        raise NoWay("Its sponsons meet in the middle already.")

    def title(by: float, _: Craft) -> Words:
        return "Sponsons {by:percent} wider", {"by": by}

    def work(by: float, _: Craft) -> Words:
        return "new sponsons; they drag more before it planes", {}

    return Way(0.0, most, lambda by: refitted(craft, f"bodies.{number}.shape.sponson_beam_m", shape.sponson_beam_m * (1 + by)), title, work)


CHANGE = Change("sponsons", "Wider sponsons", 320, _way, aim=PADS)
