"""The boat as a function of what a trial finds out of it: its unknowns, its readings, and what each of these would be."""

import dataclasses
import math
from collections.abc import Callable
from dataclasses import dataclass
from functools import partial

import numpy as np

from yarekeel.core.errors import InvalidInput, NoRest
from yarekeel.core.geometry.attitude import Attitude
from yarekeel.core.geometry.flotation import Flotation
from yarekeel.core.hydrostatics.afloat import Afloat, draft_at, float_boat
from yarekeel.core.hydrostatics.equilibrium import required_volume, solve_equilibrium
from yarekeel.core.hydrostatics.inside import Laden
from yarekeel.core.kept import kept
from yarekeel.core.once import cached_property
from yarekeel.core.propulsion.drive import direction, pack_resistance
from yarekeel.core.propulsion.pulls import pushes_at
from yarekeel.core.quantities import Floats, Kilograms, Metres, MetresPerSecond, Point, Ratio
from yarekeel.core.stability.inclining import ADDED, roll_period, with_added
from yarekeel.stages.afloat import flooding
from yarekeel.stages.design.craft import Craft
from yarekeel.stages.trials.holding import Holding
from yarekeel.stages.trials.readings import Readings

UNKNOWNS = (
    "mass", "lcg", "tcg", "vcg", "thrust_factor", "drag_factor", "draw_factor", "gyration_factor", "water", "pack_ohms", "open_volts",
)  # fmt: skip
MASS, LCG, TCG, VCG, THRUST, DRAG, DRAW, GYRATION, WATER, PACK, OPEN = range(len(UNKNOWNS))
TOLD = (MASS, LCG, TCG, VCG, THRUST, DRAG, WATER, PACK)
"""What a builder asks for; the draw of the drive, the size of the weights and the charge of the pack are fitted along."""
FACTORS: dict[str, tuple[Ratio, Ratio]] = {
    "thrust_factor": (0.95, 0.35),
    "drag_factor": (1.1, 0.45),
    "draw_factor": (1.0, 0.25),
    "gyration_factor": (1.0, 0.04),
}
"""What they are taken for beforehand, and the standard uncertainty (common practice): builders' drives mostly pull less than their figures,
and their boats hold back more."""
MASS_OFF: Ratio = 0.5
LCG_OFF, TCG_OFF, VCG_OFF = 0.3, 0.3, 0.15
"""Standard uncertainties beforehand: of the mass, and of the centre as shares of length, breadth and depth. So wide that whatever is read
of a float decides alone; height, which few readings tell, within what boats are (common practice)."""
WATER_OFF: Ratio = 0.3
"""Of the mass, standard uncertainty of the water inside a boat that some was sponged out of (common practice)."""
PACK_OFF, OPEN_OFF = 0.6, 0.08
"""Of a pack's resistance, and of its open voltage by its charge (common practice)."""
SCALE_OFF: Ratio = 0.002
"""Of what a scale shows, where no half width was given."""
THRUST_OFF, CURRENT_OFF, SPEED_OFF, VOLTS_OFF, SPONGE_OFF = 0.02, 0.03, 0.02, 0.005, 0.05
"""The same of a pull, a current, a speed, a pack's voltage, and water that is sponged out."""
BETWEEN: Ratio = 0.006
"""Of a speed, standard uncertainty of reading resistance between curves (the virtual pond: 0.2 to 0.8 % at a hump)."""
LEAST_READ = 0.02
"""Of a pull, a current or a speed: nothing is read to a share of less."""
EVEN = 1 / math.sqrt(3)
"""Standard uncertainty over the half width of what lies evenly within it (JCGM 100:2008, 4.3.7)."""
COVERAGE = 1.96
MOST_RESTS = 400
"""Attitudes that are remembered."""
STEPS = np.array([3e-3, 1e-3, 5e-4, 3e-3, 7e-3, 9e-3, 5e-3, 1e-3, 3e-3, 1e-2, 1e-3])
"""Of each unknown, in its own size, for slopes: small enough for a straight line, large enough for what is solved."""


@dataclass(frozen=True, slots=True)
class Line:
    """One reading: a word for it, the units' kind, what was read, its standard uncertainty, and what a model boat would show."""

    name: str
    kind: str
    measured: float
    sigma: float
    of: Callable[["Model", Floats], float]
    is_share: bool = False
    """Whether it is read to a share of itself."""
    part: str = ""
    """What it is a reading of: one of ``TOUCHED``."""
    throttle: Ratio | None = None

    def shown(self, model: "Model", u: Floats) -> float:
        """What a model boat shows. Less water than none, which a slope asks for, changes it as much the other way as so much more. Raises
        NoRest."""
        if u[WATER] >= 0 or WATER not in TOUCHED[self.part]:
            return self.of(model, u)
        return 2 * self.of(model, _with(u, 0.0)) - self.of(model, _with(u, -float(u[WATER])))

    def sigma_at(self, shown: float) -> float:
        """Its standard uncertainty where it shows something else."""
        return self.sigma * abs(shown / self.measured) if self.is_share and self.measured else self.sigma


_AFLOAT = frozenset({MASS, LCG, TCG, VCG, WATER})
_RUNNING = frozenset({MASS, LCG, THRUST, DRAG})
TOUCHED: dict[str, frozenset[int]] = {
    "mass": frozenset({MASS}),
    **dict.fromkeys(("bow", "stern", "heel", "shift"), _AFLOAT),
    "roll": _AFLOAT | {GYRATION},
    "water": frozenset({WATER}),
    "pull": frozenset({THRUST}),
    "pull_current": frozenset({DRAW}),
    "pull_volts": frozenset({DRAW, PACK, OPEN}),
    "speed": _RUNNING,
    "run_current": _RUNNING | {DRAW},
    "run_volts": _RUNNING | {DRAW, PACK, OPEN},
}
"""The unknowns that a reading hangs on, by what it is a reading of."""


def _with(u: Floats, water: Kilograms) -> Floats:
    out = u.copy()
    out[WATER] = water
    return out


class Model:
    """The boat as a function of the unknowns: what it would show. Keeps the last floats and curves."""

    def __init__(self, craft: Craft, readings: Readings) -> None:
        self.craft, self.readings = craft, readings
        total = craft.total
        low, high = craft.hull.mesh.bounds
        pack = craft.design.drive.battery
        electric = (pack_resistance(pack), pack.voltage_v) if pack is not None else (1.0, 1.0)
        self.size = np.array([total.mass, *(high - low), 1.0, 1.0, 1.0, 1.0, total.mass, *electric])
        """What each unknown is counted in."""
        inside = readings.water_inside_kg or 0.0  # what came in is known of when a draft is predicted
        self.listed = np.array([total.mass, *total.centre, 1.0, 1.0, 1.0, 1.0, inside, *electric])
        self.holding = Holding(craft, readings.weather, tuple(r.speed_ms for r in readings.runs if r.speed_ms))
        self._rests: dict[tuple[float, ...], Attitude] = {}

    @cached_property
    def before(self) -> tuple[Floats, Floats]:
        """What is known beforehand: values and standard uncertainties."""
        total, s = self.craft.total, self.size
        values, off = self.listed.copy(), np.zeros(len(UNKNOWNS))
        off[0] = math.hypot(MASS_OFF * total.mass, total.half_width / COVERAGE)
        for k, share in enumerate((LCG_OFF, TCG_OFF, VCG_OFF)):
            off[1 + k] = math.hypot(share * s[1 + k], total.centre_half_width[k] / COVERAGE)
        for k, name in enumerate(UNKNOWNS[THRUST:WATER], THRUST):
            values[k], off[k] = FACTORS[name]
        gyration = self.craft.aboard.gyration(0)
        if gyration is not None and gyration.radius > 0:
            off[GYRATION] = math.hypot(off[GYRATION], gyration_doubt(self.craft) / COVERAGE)
        off[WATER] = WATER_OFF * total.mass
        off[PACK], off[OPEN] = PACK_OFF * s[PACK], OPEN_OFF * s[OPEN]
        return values, off

    @cached_property
    def live(self) -> frozenset[int]:
        """The unknowns that are fitted: those that what was read hangs on. Water inside only where some was sponged out; else all that
        floats is called the boat, and ``fixes`` weighs whether water explains it better."""
        parts = {line.part for line in lines_of(self.craft, self.readings)}
        found = frozenset[int]().union(*(TOUCHED[part] for part in parts))
        return found if "water" in parts and self._rooms else found - {WATER}

    @cached_property
    def _rooms(self) -> tuple[flooding.BilgePlace, ...]:
        return tuple(flooding.places(self.craft))

    def kernel(self, water: Kilograms) -> Flotation | Laden:
        """What floats: with its tanks, and so much water that came in. Raises NoRest for more than there is room for."""
        if water <= 0 or not self._rooms:
            return self.craft.kernel
        try:
            return flooding.with_water(self.craft, water / self.craft.density, self._rooms[-1])
        except InvalidInput as full:
            raise NoRest(full.sentence) from None

    def rest(self, u: Floats, across: Metres = 0.0) -> Attitude:
        """How it lies at the unknowns, its centre moved to port by ``across``. Raises NoRest."""
        water = float(u[WATER])
        key = (*(float(v) for v in u[:4]), water, across)
        known = self._rests.get(key)
        if known is None:
            at: Point = (float(u[1]), float(u[2]) + across, float(u[3]))
            start = next(iter(self._rests.values())) if self._rests else self.craft.settled.attitude
            kernel = self.kernel(water)
            known = solve_equilibrium(kernel, required_volume(kernel, float(u[0]), self.craft.density), at, start).attitude
            if len(self._rests) > MOST_RESTS:
                self._rests.clear()
            self._rests[key] = known
        return known

    def afloat(self, u: Floats) -> Afloat:
        """All figures of how it floats at the unknowns. Raises NoRest."""
        at: Point = (float(u[1]), float(u[2]), float(u[3]))
        return float_boat(self.craft.hull, float(u[0]), at, self.craft.density, self.rest(u), self.kernel(float(u[WATER])))

    def draft(self, u: Floats, bow: bool) -> Metres:
        """At a mark; 0 where it lies on its side."""
        marks = self.craft.marks
        return draft_at(self.rest(u), marks.bow_x_m if bow else marks.stern_x_m) or 0.0

    def period(self, u: Floats) -> float:
        """Of one full roll."""
        gyration = self.craft.aboard.gyration(0)
        gm = self.afloat(u).judged_gm
        if gyration is None or gm <= 1e-6:
            raise NoRest("It has no period to roll with.")
        return roll_period(with_added(gyration.radius * float(u[7]), sum(ADDED) / 2), gm)

    def heel(self, u: Floats, weight: Kilograms = 0.0, moved: Metres = 0.0) -> float:
        """In degrees, a weight moved to starboard."""
        return math.degrees(self.rest(u, -weight * moved / float(u[0])).heel)

    def push(self, throttle: Ratio, speed: Floats) -> tuple[Floats, Floats]:
        """The listed drive's thrust ahead and current at speeds."""
        return _push(self.craft, throttle, tuple(speed.tolist()))

    def speed(self, u: Floats, throttle: Ratio) -> MetresPerSecond:
        """Where thrust and drag meet. Raises NoRest where they do not."""
        speeds, drag = self.holding.at(float(u[0]), float(u[1]))
        thrust, _ = self.push(throttle, speeds)
        over = float(u[4]) * thrust - float(u[5]) * drag
        stop = np.flatnonzero(over <= 0)
        stop = stop[stop > 0]
        if not len(stop):
            return float(speeds[-1])
        k = int(stop[0])
        a, b = float(over[k - 1]), float(over[k])
        return float(speeds[k - 1] + (speeds[k] - speeds[k - 1]) * (a / (a - b) if a > b else 0.0))

    def pull(self, u: Floats, throttle: Ratio) -> float:
        """Held fast at a throttle."""
        return float(u[4] * self.push(throttle, np.zeros(1))[0][0])

    def current(self, u: Floats, throttle: Ratio, running: bool) -> float:
        """What it draws, held fast or at its speed."""
        at = np.array([self.speed(u, throttle) if running else 0.0])
        return float(u[DRAW]) * float(self.push(throttle, at)[1][0])

    def volts(self, u: Floats, throttle: Ratio, running: bool, read: float | None) -> float:
        """What the pack shows, by the current that was read there, or that it draws."""
        current = self.current(u, throttle, running) if read is None else read
        return float(u[OPEN] - u[PACK] * current)


def gyration_doubt(craft: Craft) -> Ratio:
    """Half the width of the band of the radius of gyration, as a share: by sizes and places of the weights, and water."""
    found = craft.aboard.gyration(0)
    if found is None or found.radius <= 0:
        return 1.0
    masses = np.array([i.half_width for i in craft.acting])
    by_list = float(np.sqrt(((found.by_mass * masses) ** 2).sum() + (found.by_size**2).sum())) / found.radius
    low, high = (math.sqrt(1 + share) for share in ADDED)
    return math.hypot(by_list, (high - low) / (high + low))


@kept
def _push(craft: Craft, throttle: Ratio, speeds: tuple[float, ...]) -> tuple[Floats, Floats]:
    drive, water = craft.design.drive, craft.design.water
    at = np.array(speeds)
    thrust, current = np.zeros(at.shape), np.zeros(at.shape)
    for motor, push in zip(drive.motors, pushes_at(drive, np.array(throttle), at, water.density, water.viscosity), strict=True):
        if push is None:  # known by its pull alone, in step with the throttle
            thrust = thrust + direction(motor)[0] * drive.pull_factor * motor.thrust_n * throttle
            current = current + motor.current_a * throttle
            continue
        thrust, current = thrust + direction(motor)[0] * push.thrust, current + push.current
    return thrust, current


def lines_of(craft: Craft, r: Readings) -> tuple[Line, ...]:
    """The readings that a model of this boat can show, each with its standard uncertainty."""
    to, tank, rolls = r.read_to, craft.liquid_mass, r.rolls
    timed = None if rolls is None else rolls.time_s / rolls.count
    parts = {
        "mass": _line("Mass", "mass", r.mass_kg, to.mass_kg, SCALE_OFF, lambda m, u: float(u[0]) + tank),
        "bow": _line("Draft at the bow mark", "draft", r.bow_m, to.draft_m, 0.0, lambda m, u: m.draft(u, True)),
        "stern": _line("Draft at the stern mark", "draft", r.stern_m, to.draft_m, 0.0, lambda m, u: m.draft(u, False)),
        "heel": _line("Heel", "degrees", r.heel_deg, to.heel_deg, 0.0, lambda m, u: m.heel(u)),
        "roll": _line("Roll period", "seconds", timed, to.time_s / rolls.count if rolls else None, 0.0, lambda m, u: m.period(u)),
        "shift": _inclining_lines(r),
        "water": _line("Water taken in", "mass", r.water_inside_kg or None, None, SPONGE_OFF, lambda m, u: float(u[WATER])),
    }
    every = [_of(line, part) for part, lines in parts.items() for line in lines]
    return (*every, *(_drive_lines(r) if craft.design.drive.motors else ()))


def _of(line: Line, part: str, throttle: Ratio | None = None) -> Line:
    return dataclasses.replace(line, part=part, throttle=throttle)


def _line(
    name: str, kind: str, measured: float | None, half: float | None, share: Ratio, of: Callable[["Model", Floats], float]
) -> tuple[Line, ...]:
    """A reading, read to within ``half``, or to a share of itself where none is given; nothing for what was not read."""
    if measured is None:
        return ()
    own = share * max(abs(measured), LEAST_READ)
    return (Line(name, kind, measured, EVEN * (own if half is None else half), of, is_share=half is None),)


def _inclining_lines(r: Readings) -> list[Line]:
    if r.inclining is None:
        return []
    made: list[Line] = []
    for k, s in enumerate(r.inclining.shifts):
        # the ruler's doubt counts as angle by the slope that the reading itself shows
        by_ruler = abs(s.heel_deg / s.moved_m) * r.read_to.place_m if abs(s.moved_m) > 1e-9 else 0.0
        of = partial(Model.heel, weight=r.inclining.weight_kg, moved=s.moved_m)
        made += _line(f"Heel at shift {k + 1}", "degrees", s.heel_deg, math.hypot(r.read_to.angle_deg, by_ruler), 0.0, of)
    return made


def _drive_lines(r: Readings) -> list[Line]:
    to = r.read_to
    made: list[Line] = []
    for k, p in enumerate(r.pulls):
        at, drawn = f"{k + 1}, {100 * p.throttle:.0f} %", partial(Model.current, throttle=p.throttle, running=False)
        pull = _line(f"Pull {at}", "force", p.thrust_n, to.thrust_n, THRUST_OFF, partial(Model.pull, throttle=p.throttle))
        current = _line(f"Current at pull {at}", "current", p.current_a, to.current_a, CURRENT_OFF, drawn)
        made += [*(_of(v, "pull", p.throttle) for v in pull), *(_of(v, "pull_current", p.throttle) for v in current)]
        shows = partial(Model.volts, throttle=p.throttle, running=False, read=p.current_a)
        volts = _line(f"Pack at pull {at}", "voltage", p.voltage_v, to.voltage_v, VOLTS_OFF, shows)
        made += [_of(v, "pull_volts", p.throttle) for v in volts]
    for k, run in enumerate(r.runs):
        at, drawn = f"{k + 1}, {100 * run.throttle:.0f} %", partial(Model.current, throttle=run.throttle, running=True)
        speed = _line(f"Speed of run {at}", "speed", run.speed_ms, to.speed_ms, SPEED_OFF, partial(Model.speed, throttle=run.throttle))
        made += [_of(dataclasses.replace(v, sigma=math.hypot(v.sigma, BETWEEN * v.measured)), "speed", run.throttle) for v in speed]
        current = _line(f"Current of run {at}", "current", run.current_a, to.current_a, CURRENT_OFF, drawn)
        made += [_of(v, "run_current", run.throttle) for v in current]
        shows = partial(Model.volts, throttle=run.throttle, running=True, read=run.current_a)
        volts = _line(f"Pack at run {at}", "voltage", run.voltage_v, to.voltage_v, VOLTS_OFF, shows)
        made += [_of(v, "run_volts", run.throttle) for v in volts]
    return made
