"""The causes, a row each: what its amount does to the readings, what is seen of it, what this boat's own verdicts say to it, and which
changes answer it. A reader adds a row to know of another cause."""

from collections.abc import Callable
from dataclasses import dataclass

import numpy as np

from yarekeel.core.errors import NoRest
from yarekeel.core.quantities import Floats, Ratio
from yarekeel.stages.afloat import flooding
from yarekeel.stages.design.craft import Craft
from yarekeel.stages.fixes.evidence import Evidence
from yarekeel.stages.trials.model import WATER

Effect = Callable[[Evidence, float], Floats]
"""What so much of a cause does to the readings, (n,)."""
FULL, HALF = 0.85, 0.6
"""Throttles from which a propeller that fails at full power has done so, and where it begins to."""


@dataclass(frozen=True, slots=True)
class Cause:
    """A cause. ``amounts`` is its range as a share of ``of`` (mass, length, breadth, depth, or nothing); ``symptoms`` are what is seen of
    it; ``findings`` are verdicts of this boat that speak for it where they are weak and against it where they hold; ``needs`` says
    whether a boat can have it, with ``without`` as the sentence where not; ``changes`` answer it."""

    code: str
    title: str
    sentence: str
    effect: Effect | None = None
    amounts: tuple[Ratio, Ratio] = (0.0, 0.0)
    of: str = ""
    either_way: bool = False
    """Whether amounts less than nothing are as likely."""
    symptoms: tuple[str, ...] = ()
    findings: tuple[str, ...] = ()
    needs: Callable[[Craft], bool] = lambda craft: True
    without: str = ""
    changes: tuple[str, ...] = ()


def _driven(craft: Craft) -> bool:
    return bool(craft.design.drive.motors)


def _electric(craft: Craft) -> bool:
    return craft.design.drive.battery is not None and _driven(craft)


def _along(k: int, sign: float = 1.0) -> Effect:
    """An unknown of the fit off by an amount, as a share of its own size."""
    return lambda e, a: e.by(k, sign * a * float(e.model.size[k]))


def _throttled(e: Evidence, pull: Callable[[float], float], current: Callable[[float], float]) -> Floats:
    """Shares of pull and current lost by throttle: of the pull held fast, of what it draws, and of speed by the pull that is missing."""
    out = np.zeros(len(e.lines))
    for i, (line, y) in enumerate(zip(e.lines, e.expected, strict=True)):
        t = line.throttle
        if t is None:
            continue
        if line.part == "pull":
            out[i] = -pull(t) * y
        elif line.part in ("pull_current", "run_current"):
            out[i] = -current(t) * y
        elif line.part == "speed":
            out[i] = -pull(t) * e.slopes[i, 4]
    return out


def _sag(e: Evidence, a: float) -> Floats:
    return _throttled(e, lambda t: a * t**2.5, lambda t: 0.9 * a * t**2.5)


def _air(e: Evidence, a: float) -> Floats:
    def lost(t: float) -> float:
        return a if t >= FULL else 0.3 * a if t >= HALF else 0.0

    return _throttled(e, lost, lambda t: 0.4 * lost(t))


def _slip(e: Evidence, a: float) -> Floats:
    def lost(t: float) -> float:
        return a if t >= FULL else 0.0

    return _throttled(e, lost, lambda t: 1.1 * lost(t))


def _propeller(sign: float, draws: float) -> Effect:
    return lambda e, a: _throttled(e, lambda t: sign * a, lambda t: sign * draws * a)


def _rubs(e: Evidence, a: float) -> Floats:
    return _throttled(e, lambda t: 0.1 * a, lambda t: -a)


def _water(e: Evidence, a: float) -> Floats:
    """Water in the lowest room: not on the scale, which is read dry; afloat it weighs, and runs to the low side."""
    mass = a * float(e.model.listed[0])
    dry = 1 - e.where("mass")
    out = e.by(0, mass) * dry
    if not flooding.places(e.craft):
        return out
    wet = e.model.listed.copy()
    wet[WATER] += mass
    for i, line in enumerate(e.lines):
        if line.part in ("bow", "stern", "heel", "roll", "shift"):
            try:
                out[i] = line.of(e.model, wet) - e.expected[i]
            except NoRest:  # with so much it does not float, or there is no room for it: the weight alone stands for it
                continue
    return out


def _scale(e: Evidence, a: float) -> Floats:
    return e.where("mass") * a * float(e.model.listed[0])


ROWS: tuple[Cause, ...] = (
    Cause(
        "heavy",
        "It weighs more than the list",
        "{amount:percent} more aboard or in the hull than listed: walls, resin, filament and screws add up.",
        _along(0),
        (0.04, 0.25),
        symptoms=("low", "slow"),
        changes=("scale", "left_out", "walls"),
    ),
    Cause(
        "light",
        "It weighs less than the list",
        "{amount:percent} less than listed: something was left ashore, or is lighter than taken for.",
        _along(0, -1.0),
        (0.04, 0.25),
        changes=("move",),
    ),
    Cause(
        "cg_forward",
        "Its centre of gravity lies too far forward",
        "{amount:length} forward of the list.",
        _along(1),
        (0.012, 0.08),
        "length",
        symptoms=("bow_down", "bow_digs", "slow"),
        findings=("float.trim_off",),
        changes=("move", "ballast_at"),
    ),
    Cause(
        "cg_aft",
        "Its centre of gravity lies too far aft",
        "{amount:length} aft of the list.",
        _along(1, -1.0),
        (0.012, 0.08),
        "length",
        symptoms=("stern_down", "porpoises", "flips"),
        findings=("float.trim_off",),
        changes=("move", "ballast_at"),
    ),
    Cause(
        "cg_starboard",
        "Its centre of gravity lies to starboard",
        "{amount:length} to starboard of the list.",
        _along(2, -1.0),
        (0.006, 0.04),
        "breadth",
        symptoms=("leans",),
        changes=("move", "ballast_at"),
    ),
    Cause(
        "cg_port",
        "Its centre of gravity lies to port",
        "{amount:length} to port of the list.",
        _along(2),
        (0.006, 0.04),
        "breadth",
        symptoms=("leans",),
        changes=("move", "ballast_at"),
    ),
    Cause(
        "cg_high",
        "Its centre of gravity lies high",
        "{amount:length} above the list: what was not weighed sits higher than it is taken for.",
        _along(3),
        (0.06, 0.3),
        "depth",
        symptoms=("tippy", "slow_roll"),
        findings=("float.gm", "float.gm_short", "stability.gm"),
        changes=("move", "seat", "ballast", "wider", "outrigger", "strips"),
    ),
    Cause(
        "water_inside",
        "Water is inside",
        "{amount:percent} of the boat's mass in water: the scale is read dry, the drafts are not, and it runs to the low side.",
        _water,
        (0.03, 0.2),
        symptoms=("water_inside", "low", "slow_roll", "tippy"),
        changes=("drain", "raised", "bulkhead", "baffles"),
    ),
    Cause(
        "scale_wrong",
        "The scale was misread",
        "What it shows is off by {amount:percent} of what floats: drafts and mass do not go together.",
        _scale,
        (0.04, 0.2),
        either_way=True,
    ),
    Cause(
        "propeller_hurt",
        "The propeller does less than it should for what it draws",
        "{amount:percent} of its pull is missing at every throttle, its current is not: a nicked or bent blade, weed, a hub in the way.",
        _propeller(1.0, 0.0),
        (0.17, 0.5),
        symptoms=("slow", "vibrates"),
        needs=_driven,
        without="It has no drive.",
        changes=("propeller", "air_propeller"),
    ),
    Cause(
        "propeller_small",
        "The propeller is smaller or flatter than listed",
        "{amount:percent} less pull and as much less current at every throttle.",
        _propeller(1.0, 1.1),
        (0.17, 0.5),
        symptoms=("slow",),
        needs=_driven,
        without="It has no drive.",
        changes=("pitch", "propeller"),
    ),
    Cause(
        "propeller_large",
        "The propeller is larger or steeper than listed",
        "{amount:percent} more pull and still more current at every throttle: look at what the motor and its control bear.",
        _propeller(-1.0, 1.3),
        (0.17, 0.5),
        symptoms=("hot",),
        findings=("drive.motor_over", "drive.control", "drive.over_current"),
        needs=_driven,
        without="It has no drive.",
        changes=("pitch", "propeller"),
    ),
    Cause(
        "rubs",
        "Something rubs in the drive",
        "{amount:percent} more current for the same pull: a dry stuffing tube, a bent shaft, a motor out of line.",
        _rubs,
        (0.15, 0.6),
        symptoms=("hot", "vibrates", "fades"),
        needs=_electric,
        without="It has no electric drive.",
    ),
    Cause(
        "drag",
        "It holds back more than predicted",
        "{amount:percent} more drag at the speeds it reaches: rough or hairy, weed, an appendage not listed, a wet transom.",
        _along(5),
        (0.4, 1.2),
        symptoms=("slow",),
        needs=_driven,
        without="It has no drive.",
    ),
    Cause(
        "sag",
        "The pack sags",
        "{amount:percent} of pull gone at full throttle and little at half: the pack, its age, cold, or thin wires.",
        _sag,
        (0.12, 0.4),
        symptoms=("fades", "slow"),
        findings=("drive.fades", "drive.cold", "drive.high_current"),
        needs=_electric,
        without="It has no pack.",
        changes=("cells", "pitch"),
    ),
    Cause(
        "air",
        "The propeller draws air",
        "{amount:percent} of pull gone at full throttle, its current much less: the blades reach the surface's air.",
        _air,
        (0.25, 0.6),
        symptoms=("pull_collapses", "slow"),
        findings=("drive.tips",),
        needs=_driven,
        without="It has no drive.",
        changes=("deeper", "propeller", "air_propeller"),
    ),
    Cause(
        "slips",
        "A joint slips under load",
        "{amount:percent} of pull gone at full throttle, and its current with it; below that nothing: a collet, a loose grub screw.",
        _slip,
        (0.25, 0.6),
        symptoms=("pull_collapses", "fades"),
        needs=_driven,
        without="It has no drive.",
    ),
    # What is seen, and what this boat's own verdicts say to it.
    Cause("small_gm", "Its GM is small", "It is as tippy as it is built.", symptoms=("tippy", "slow_roll"),
          findings=("float.gm", "float.gm_short", "stability.gm"),
          changes=("wider", "outrigger", "strips", "apart", "spacing", "ballast", "water", "seat", "lower", "baffles")),
    Cause("floats_clear", "Both side floats hang clear of the water", "It lolls from one to the other until one touches.",
          symptoms=("tippy", "leans"), findings=("stability.sides",), changes=("lower",)),
    Cause("thrust_couple", "The thrust lifts the bow", "The line of thrust lies below what holds back.",
          symptoms=("stern_squats",), findings=("drive.couple", "drive.line", "underway.thrust_trim"), needs=_driven,
          without="It has no drive.", changes=("tilt", "height", "move")),
    Cause("high_thrust_line", "The thrust presses the bow down", "The line of thrust lies high above what holds back.",
          symptoms=("bow_digs",), findings=("underway.high_line", "drive.line", "underway.schools"), needs=_driven,
          without="It has no drive.", changes=("height", "tilt", "move")),
    Cause("flips", "Air lifts the bow", "Flat area forward, a centre of gravity aft, a thrust line low and far aft.", symptoms=("flips",),
          findings=("underway.flip", "underway.flip_rough"), needs=_driven, without="It has no drive.", changes=("move", "tilt", "height")),
    Cause("wanders", "Its lateral centre lies ahead of its centre of gravity", "It swaps ends when it planes.", symptoms=("crabs",),
          findings=("underway.margin", "underway.wanders", "underway.fins_out"), needs=_driven,
          without="It has no drive.", changes=("fin", "move")),
    Cause("no_steer", "Its rudder is small or in the air", "What is left in the water at speed does not turn it.", symptoms=("no_steer",),
          findings=("underway.no_rudder", "underway.rudder_stream", "underway.circle"), needs=_driven,
          without="It has no drive.", changes=("rudder",)),
    Cause("porpoises", "It planes at too steep a trim", "Beyond the limit it hops.", symptoms=("porpoises",),
          findings=("underway.porpoising",), needs=_driven, without="It has no drive.", changes=("move",)),
    Cause("over_current", "Motor, control or pack carry more than they bear", "They get hot, or the control cuts off.",
          symptoms=("hot", "fades"),
          findings=("drive.motor_over", "drive.control", "drive.over_current"), needs=_electric,
          without="It has no electric drive.", changes=("pitch", "propeller", "cells")),
    Cause("hump", "Its thrust does not carry it over the hump", "Drag is greatest just before it planes.", symptoms=("slow",),
          findings=("drive.hump", "underway.hump", "underway.planes", "drive.thrust_to_weight"), needs=_driven,
          without="It has no drive.", changes=("cells", "pitch", "propeller", "left_out", "sponsons")),
    Cause("foil_shares", "The front foil lifts more than its share", "The bow comes up first and the rear foil stays down.",
          symptoms=("front_foil_up",), findings=("underway.lift_together",), changes=("foil_angle", "foil_place", "move")),
    Cause("low_freeboard", "Its freeboard is low", "Waves and wake come over the edge.", symptoms=("deck_wet", "water_inside"),
          findings=("float.freeboard", "float.freeboard_short", "float.opening"), changes=("scale", "raised", "left_out")),
    Cause(
        "tow_point", "The tow point is high", "The line lifts the bow or tips it.",
        symptoms=("tows_badly",), findings=("underway.tow",), changes=("tow_point",),
    ),
)  # fmt: skip
BY_CODE = {row.code: row for row in ROWS}
