"""The boat as found: one fit of mass, centre of gravity, thrust and drag from whatever was measured.

Weighted least squares on the true models of float, roll, inclining and speed, with what is known beforehand as readings of their own (JCGM
100:2008; the fit itself is scipy's least_squares). The list is not believed to within its own spread here: boats come out heavier and
otherwise trimmed than listed, so what is known beforehand is wide (common practice), and the readings decide.
"""

import dataclasses
import math
from collections.abc import Callable
from dataclasses import dataclass
from functools import cached_property, partial

import numpy as np

from yarekeel.core.errors import InvalidInput, NoRest, YareKeelError
from yarekeel.core.geometry.flotation import Flotation
from yarekeel.core.hydrostatics.afloat import Afloat, float_boat, outputs_of
from yarekeel.core.hydrostatics.inside import Laden
from yarekeel.core.kept import kept
from yarekeel.core.propulsion.drive import direction
from yarekeel.core.propulsion.pulls import pushes_at
from yarekeel.core.quantities import Floats, Kilograms, Metres, MetresPerSecond, Point, Ratio
from yarekeel.core.stability.inclining import ADDED, roll_period, with_added
from yarekeel.core.stopping import told
from yarekeel.stages.afloat import flooding
from yarekeel.stages.design.craft import Craft
from yarekeel.stages.design.design import Design
from yarekeel.stages.running.resistance import resistance_of
from yarekeel.stages.trials.readings import Readings

UNKNOWNS = ("mass", "lcg", "tcg", "vcg", "thrust_factor", "drag_factor", "draw_factor", "gyration_factor")
TOLD = UNKNOWNS[:6]
"""What a builder asks for; the draw of the drive and the size of the weights are fitted along."""
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
SCALE_OFF: Ratio = 0.002
"""Of what a scale shows, where no half width was given."""
THRUST_OFF, CURRENT_OFF, SPEED_OFF = 0.02, 0.03, 0.02
"""The same of a pull, a current and a speed."""
TELLS: Ratio = 0.7
"""Of what was known beforehand: a figure whose doubt is still more than that was told by nothing measured."""
OUT = 3.6
"""Standard deviations by which a reading is off that stands against all others."""
BETWEEN: Ratio = 0.006
"""Of a speed, standard uncertainty of reading resistance between curves (the virtual pond: 0.2 to 0.8 % at a hump)."""
LEAST_READ = 0.02
"""Of a pull, a current or a speed: nothing is read to a share of less."""
EVEN = 1 / math.sqrt(3)
"""Standard uncertainty over the half width of what lies evenly within it (JCGM 100:2008, 4.3.7)."""
COVERAGE = 1.96
DRIVEN = ("force", "speed", "current")
"""Kinds of readings that the drive has a part in."""
STEPS = np.array([3e-3, 1e-3, 5e-4, 3e-3, 7e-3, 9e-3, 5e-3, 1e-3])
"""Of each unknown, in its own size, for slopes: small enough for a straight line, large enough for what is solved."""
MASS_STEP, PLACE_STEP = 0.06, 0.02
"""Between the masses (as a share) and the places of G along the boat (of its length) that resistance is worked out at."""
MOST_NODES = 4
"""Steps either way."""


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
    """What it is a reading of: mass, bow, stern, heel, roll, shift, pull, pull_current, speed or run_current."""
    throttle: Ratio | None = None

    def sigma_at(self, shown: float) -> float:
        """Its standard uncertainty where it shows something else."""
        return self.sigma * abs(shown / self.measured) if self.is_share and self.measured else self.sigma


class Model:
    """The boat as a function of the unknowns: what it would show. Keeps the last floats and curves."""

    def __init__(self, craft: Craft, readings: Readings) -> None:
        self.craft, self.readings = craft, readings
        total = craft.total
        low, high = craft.hull.mesh.bounds
        self.size = np.array([total.mass, *(high - low), 1.0, 1.0, 1.0, 1.0])
        """What each unknown is counted in."""
        self.listed = np.array([total.mass, *total.centre, *(1.0 for _ in range(4))])
        self.around: tuple[float, ...] = (1.0, 0.0, 0.0, 0.0)
        """Mass over the listed one and shifts of the centre (in lengths, breadths, depths) that resistance is worked out near."""
        self._floats: dict[tuple[float, ...], Afloat] = {}

    @cached_property
    def before(self) -> tuple[Floats, Floats]:
        """What is known beforehand: values and standard uncertainties."""
        total, s = self.craft.total, self.size
        values, off = self.listed.copy(), np.zeros(len(UNKNOWNS))
        off[0] = math.hypot(MASS_OFF * total.mass, total.half_width / COVERAGE)
        for k, share in enumerate((LCG_OFF, TCG_OFF, VCG_OFF)):
            off[1 + k] = math.hypot(share * s[1 + k], total.centre_half_width[k] / COVERAGE)
        for k, name in enumerate(UNKNOWNS[4:], 4):
            values[k], off[k] = FACTORS[name]
        gyration = self.craft.aboard.gyration(0)
        if gyration is not None and gyration.radius > 0:
            off[7] = math.hypot(off[7], gyration_doubt(self.craft) / COVERAGE)
        return values, off

    @cached_property
    def kernel(self) -> Flotation | Laden:
        """What floated: with its tanks, and the water that came in."""
        litres = (self.readings.water_inside_kg or 0.0) / self.craft.density
        rooms = flooding.places(self.craft)
        if litres <= 0 or not rooms:
            return self.craft.kernel
        try:
            return flooding.with_water(self.craft, litres, rooms[-1])
        except InvalidInput:
            return self.craft.kernel

    def afloat(self, u: Floats, across: Metres = 0.0) -> Afloat:
        """At the unknowns, its centre moved to port by ``across``. Raises NoRest."""
        key = (*(float(v) for v in u[:4]), across)
        known = self._floats.get(key)
        if known is None:
            at: Point = (float(u[1]), float(u[2]) + across, float(u[3]))
            start = next(iter(self._floats.values())).attitude if self._floats else self.craft.settled.attitude
            known = float_boat(self.craft.hull, float(u[0]), at, self.craft.density, start, self.kernel)
            if len(self._floats) > 400:
                self._floats.clear()
            self._floats[key] = known
        return known

    def draft(self, u: Floats, bow: bool) -> Metres:
        """At a mark."""
        marks = self.craft.marks
        o = outputs_of(self.afloat(u), self.craft.hull, marks.bow_x_m, marks.stern_x_m)
        return o.draft_bow if bow else o.draft_stern

    def period(self, u: Floats) -> float:
        """Of one full roll."""
        gyration = self.craft.aboard.gyration(0)
        gm = self.afloat(u).judged_gm
        if gyration is None or gm <= 1e-6:
            raise NoRest("It has no period to roll with.")
        return roll_period(with_added(gyration.radius * float(u[7]), sum(ADDED) / 2), gm)

    def heel(self, u: Floats, weight: Kilograms = 0.0, moved: Metres = 0.0) -> float:
        """In degrees, a weight moved to starboard."""
        return math.degrees(self.afloat(u, -weight * moved / float(u[0])).attitude.heel)

    def push(self, throttle: Ratio, speed: Floats) -> tuple[Floats, Floats]:
        """The listed drive's thrust ahead and current at speeds."""
        return _push(self.craft, throttle, tuple(speed.tolist()))

    def holds(self, u: Floats) -> tuple[Floats, Floats]:
        """Speeds and the resistance there at the unknowns, straight between curves worked out at masses and trims some way apart. Raises
        NoRest for a boat that does not run level enough."""
        speeds = self._speeds
        mass = float(np.clip((u[0] / self.listed[0] - self.around[0]) / MASS_STEP, -MOST_NODES, MOST_NODES))
        place = float(np.clip(((u[1] - self.listed[1]) / self.size[1] - self.around[1]) / PLACE_STEP, -MOST_NODES, MOST_NODES))
        low_m, low_p = math.floor(mass), math.floor(place)
        drag, shares = np.zeros(speeds.shape), 0.0
        for i, share_m in ((low_m, low_m + 1 - mass), (low_m + 1, mass - low_m)):
            for j, share_p in ((low_p, low_p + 1 - place), (low_p + 1, place - low_p)):
                node = self._node(i, j) if share_m * share_p > 0 else None
                if node is not None:
                    drag, shares = drag + share_m * share_p * node, shares + share_m * share_p
        if shares <= 0:
            raise NoRest("It does not run level enough.")
        return speeds, drag / shares

    @cached_property
    def _speeds(self) -> Floats:
        holds = resistance_of(self.craft)
        if holds is None:
            raise NoRest("It does not run level enough.")
        return np.linspace(0.0, float(holds.speeds[-1]), 240)

    def _node(self, i: int, j: int) -> Floats | None:
        """Resistance at a mass and a place of G some steps from those that it is worked out near."""
        mass = float(self.listed[0]) * (self.around[0] + i * MASS_STEP)
        off = (self.around[1] + j * PLACE_STEP, *self.around[2:])
        at = [float(self.listed[1 + k] + off[k] * self.size[1 + k]) for k in range(3)]
        return _held(self.craft, mass, (at[0], at[1], at[2]), tuple(self._speeds.tolist()))

    def near(self, u: Floats) -> None:
        """Work resistance out near these unknowns, rounded so that fits of much the same boat share their curves."""
        shifts = (u[1:4] - self.listed[1:4]) / self.size[1:4]
        self.around = (round(float(u[0] / self.listed[0]), 2), *(round(float(v), 2) for v in shifts))

    def speed(self, u: Floats, throttle: Ratio) -> MetresPerSecond:
        """Where thrust and drag meet. Raises NoRest where they do not."""
        speeds, drag = self.holds(u)
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
        return float(u[6]) * float(self.push(throttle, at)[1][0])


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


def moved_list(design: Design, listed: tuple[Kilograms, Point], mass: Kilograms, centre: Point) -> Design:
    """The boat with every weight heavier by one factor and moved alike, so that together they weigh ``mass`` at ``centre``."""
    factor = mass / listed[0]
    by = [centre[k] - listed[1][k] for k in range(3)]
    lines = tuple(
        dataclasses.replace(
            w, mass_kg=w.mass_kg * factor, at_m=(w.at_m[0] + by[0], w.at_m[1] + by[1], w.at_m[2] + by[2]), recipe=None, pair=False
        )
        for w in design.weights
    )
    return dataclasses.replace(design, weights=lines)


SAME: Ratio = 1e-9
"""Of mass and depth: nearer to the list it is the boat as it is."""


@kept
def _held(craft: Craft, mass: Kilograms, centre: Point, speeds: tuple[float, ...]) -> Floats | None:
    """Resistance of the boat at another mass and centre, at speeds; None where it does not run level enough."""
    total = craft.total
    design = dataclasses.replace(craft.design, weights=craft.acting, cases=(), case="")
    as_listed = math.isclose(mass, total.mass, rel_tol=SAME) and math.dist(centre, total.centre) <= SAME * craft.hull.depth
    try:
        holds = resistance_of(craft if as_listed else Craft(moved_list(design, (total.mass, total.centre), mass, centre)))
    except YareKeelError:
        return None
    return None if holds is None else np.asarray(holds.at(np.array(speeds)))


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
    for k, run in enumerate(r.runs):
        at, drawn = f"{k + 1}, {100 * run.throttle:.0f} %", partial(Model.current, throttle=run.throttle, running=True)
        speed = _line(f"Speed of run {at}", "speed", run.speed_ms, to.speed_ms, SPEED_OFF, partial(Model.speed, throttle=run.throttle))
        made += [_of(dataclasses.replace(v, sigma=math.hypot(v.sigma, BETWEEN * v.measured)), "speed", run.throttle) for v in speed]
        current = _line(f"Current of run {at}", "current", run.current_a, to.current_a, CURRENT_OFF, drawn)
        made += [_of(v, "run_current", run.throttle) for v in current]
    return made


@dataclass(frozen=True, slots=True, eq=False)
class Fit:
    """Unknowns (8,) with their covariance (8, 8), what was known beforehand, the readings with what the fitted boat shows of each, the
    slopes of the readings (n, 8), how far each reading stands off all others (standard deviations), and the number of one that cannot be
    right, if one is."""

    values: Floats
    covariance: Floats
    before: tuple[Floats, Floats]
    lines: tuple[Line, ...]
    shown: Floats
    slopes: Floats
    off: Floats
    out: int | None
    around: tuple[float, ...]
    """Near which resistance was worked out (``Model.around``)."""

    def half(self, k: int) -> float:
        """Half the 95 % interval of an unknown."""
        return COVERAGE * math.sqrt(max(float(self.covariance[k, k]), 0.0))

    def is_told(self, k: int) -> bool:
        """Whether anything that was measured tells an unknown."""
        return math.sqrt(float(self.covariance[k, k])) < TELLS * float(self.before[1][k])


@kept
def fitted(craft: Craft, readings: Readings, leave_out: frozenset[int] = frozenset()) -> Fit:
    """The boat that the readings and what was known beforehand make most likely. Raises InvalidInput where there is nothing to go by, and
    NoRest for a boat that does not float."""
    model = Model(craft, readings)
    lines = tuple(line for k, line in enumerate(lines_of(craft, readings)) if k not in leave_out)
    if not lines:
        raise InvalidInput("readings", "Nothing was read that tells of this boat; read a mass, a draft, a heel, a pull or a speed.")
    before, doubt = model.before
    begin = _begin(model, readings, before, doubt)
    still = tuple(line for line in lines if line.kind not in DRIVEN)
    if 0 < len(still) < len(lines):  # what floats is found first, so that resistance is worked out near it
        begin, _, _ = _solved(model, still, begin)
        model.near(before + begin * doubt)
    found, jacobian, residuals = _solved(model, lines, begin)
    covariance: Floats = np.asarray(np.linalg.inv(jacobian.T @ jacobian))
    values = before + found * doubt
    sigma = np.array([line.sigma for line in lines])
    off = _standing_off(residuals, jacobian, covariance, len(lines))
    worst = int(np.argmax(np.abs(off)))
    return Fit(
        values=values,
        covariance=covariance * np.outer(doubt, doubt),
        before=(before, doubt),
        lines=lines,
        shown=np.array([_safe(line, model, values) for line in lines]),
        slopes=jacobian[: len(lines)] * sigma[:, None] / doubt,
        off=off,
        out=worst if abs(off[worst]) > OUT else None,
        around=model.around,
    )


def _solved(model: Model, lines: tuple[Line, ...], begin: Floats) -> tuple[Floats, Floats, Floats]:
    """Unknowns in standard uncertainties beforehand, the slopes of the residuals there (n + 8, 8), and the residuals (n + 8,)."""
    from scipy.optimize import least_squares  # a third of a second to load

    before, doubt = model.before
    measured, sigma = np.array([line.measured for line in lines]), np.array([line.sigma for line in lines])

    def residuals(w: Floats) -> Floats:
        told("fits the boat to its readings")
        u = before + w * doubt
        shown = np.array([_safe(line, model, u) for line in lines])
        return np.concatenate([(shown - measured) / sigma, w])

    steps = STEPS * model.size / doubt
    found = least_squares(residuals, begin, jac=lambda w: _jacobian(residuals, w, steps), method="lm", xtol=1e-6, ftol=1e-7, max_nfev=20)
    return found.x, _jacobian(residuals, found.x, steps), np.asarray(residuals(found.x))


def _begin(model: Model, r: Readings, before: Floats, doubt: Floats) -> Floats:
    """Where to begin, in standard uncertainties: the scale's mass where there is one."""
    start = np.zeros(len(before))
    if r.mass_kg is not None:
        start[0] = np.clip((r.mass_kg - model.craft.liquid_mass - before[0]) / doubt[0], -3, 3)
    return start


def _safe(line: Line, model: Model, u: Floats) -> float:
    """What a model boat shows; one that does not float shows what no reading is near."""
    try:
        return line.of(model, u)
    except NoRest:
        return line.measured + 1e3 * line.sigma


def _jacobian(of: Callable[[Floats], Floats], w: Floats, steps: Floats) -> Floats:
    """Slopes by one step up and one down in each unknown, in standard uncertainties."""
    columns = []
    for k, size in enumerate(steps.tolist()):
        step = np.zeros(len(w))
        step[k] = size
        columns.append((of(w + step) - of(w - step)) / (2 * size))
    return np.column_stack(columns)


def _standing_off(residuals: Floats, jacobian: Floats, covariance: Floats, count: int) -> Floats:
    """How far each reading lies from where all others put it, in standard deviations of that difference."""
    hat = np.einsum("ij,jk,ik->i", jacobian, covariance, jacobian)[:count]
    return np.asarray(residuals[:count] / np.sqrt(np.maximum(1 - hat, 1e-4)))
