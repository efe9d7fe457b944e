"""The rig of a thrust test, drawn with its arms: what pulls, what holds, and what is measured from where to where."""

import math
from collections.abc import Callable

from yarekeel.core.propulsion.bench.rig import Rig, pull_per_reading
from yarekeel.core.propulsion.bench.sheet import BenchTest
from yarekeel.drawing import svg

WIDTH, HEIGHT = 470.0, 270.0
PIVOT = (205.0, 120.0)
LONG, SHORT = 105.0, 34.0
"""Pixels of the longer arm, and the least that the other is drawn with."""
Say = Callable[[float, str], str]


def draw(test: BenchTest, say: Say) -> str:
    """A lever over a tub or in the air with the scale beyond its other arm, or a unit that pulls straight on a scale."""
    parts = _lever(test, say) if test.rig.kind == "lever" else _direct(test)
    title = (
        "The rig: a lever, a unit on one arm and a scale on the other"
        if test.rig.kind == "lever"
        else "The rig: a pull straight on the scale"
    )
    return svg.svg(WIDTH, HEIGHT, parts, title, "rig")


def _lever(test: BenchTest, say: Say) -> list[str]:
    rig = test.rig
    longest = max(rig.unit_arm_m, rig.scale_arm_m)
    down, across = (max(LONG * a / longest, SHORT) for a in (rig.unit_arm_m, rig.scale_arm_m))
    x, y = PIVOT
    unit_y, scale_x = y + down, x + across
    post = [svg.path(f"M{x - 26:.1f} 44L{x:.1f} {y:.1f}L{x + 26:.1f} 44z", "rig-scale"), svg.line(x - 60, 44, x + 60, 44, "rig-bench")]
    arms = [
        svg.path(f"M{x:.1f} {unit_y:.1f}V{y:.1f}H{scale_x:.1f}", "rig-arm"),
        svg.element("circle", cx=x, cy=y, r=5.0, class_="rig-pivot"),
        svg.text(x - 12, y - 4, "pivot", "rig-words", "end"),
    ]
    scale = [
        svg.path(f"M{scale_x - 30:.1f} {y + 34:.1f}h60v16h-60z", "rig-scale"),
        svg.line(scale_x, y, scale_x, y + 34, "rig-arm"),
        svg.text(scale_x + 36, y + 47, "scale", "rig-words"),
        svg.path(f"M{scale_x + 12:.1f} {y + 4:.1f}v24m-4 -7l4 7l4 -7", "rig-force"),
    ]
    return [
        *_water(test, x, unit_y),
        *post,
        *arms,
        *scale,
        *_unit(x, unit_y),
        svg.text(x + 12, (y + unit_y) / 2 + 4, say(rig.unit_arm_m, "length"), "dim-text"),
        svg.text((x + scale_x) / 2, y - 10, say(rig.scale_arm_m, "length"), "dim-text", "middle"),
        *_square(rig, x, y, unit_y, scale_x),
        svg.text(WIDTH - 12, 24, _says(rig, say), "rig-words", "end"),
    ]


def _says(rig: Rig, say: Say) -> str:
    ratio = pull_per_reading(rig)
    return "it reads true" if math.isclose(ratio, 1.0, rel_tol=1e-3) else f"pull is {say(ratio, 'ratio')} times the reading"


def _square(rig: Rig, x: float, y: float, unit_y: float, scale_x: float) -> list[str]:
    """Angles that are not square, in words at their arms."""
    out = []
    if rig.unit_angle_deg != 90:
        out.append(svg.text(x + 44, unit_y - 8, f"{rig.unit_angle_deg:g}°", "dim-text"))
    if rig.scale_angle_deg != 90:
        out.append(svg.text(scale_x + 36, y + 14, f"{rig.scale_angle_deg:g}°", "dim-text"))
    return out


def _unit(x: float, y: float) -> list[str]:
    """A propeller seen from the side, pulling to the left."""
    return [
        svg.path(f"M{x - 16:.1f} {y - 6:.1f}h26q8 6 0 12h-26z", "rig-wedge"),
        svg.path(f"M{x + 16:.1f} {y:.1f}q-5 -12 0 -24q5 12 0 24q5 12 0 24q-5 -12 0 -24z", "rig-blade"),
        svg.path(f"M{x - 22:.1f} {y:.1f}h-46m9 -5l-9 5l9 5", "rig-force"),
        svg.text(x - 74, y + 4, "pull", "rig-words", "end"),
    ]


def _water(test: BenchTest, x: float, unit_y: float) -> list[str]:
    """The tub, for what pulls in water."""
    if test.stream not in ("water", "jet"):
        return []
    top = unit_y - 36
    return [
        svg.path(f"M{x - 150:.1f} {top - 18:.1f}V{HEIGHT - 10:.1f}H{x + 130:.1f}V{top - 18:.1f}", "rig-string"),
        svg.element("rect", x=x - 149, y=top, width=278.0, height=HEIGHT - 11 - top, class_="rig-water"),
    ]


def _direct(test: BenchTest) -> list[str]:
    x, y = 210.0, 150.0
    return [
        *_water(test, x, y),
        svg.line(20, y, x - 96, y, "rig-string"),
        svg.path(f"M20 {y - 16:.1f}h40v32h-40z", "rig-scale"),
        svg.text(40, y + 36, "scale", "rig-words", "middle"),
        *_unit(x, y),
    ]
