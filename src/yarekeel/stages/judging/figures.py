"""One record of a boat's figures, of all stages, each worked out when it is first asked for.

Whatever judges, compares, searches or reports reads them here, so that a draft or a GM is the same wherever it is said. A new
figure is a row of ``FIGURES``.
"""

import math
from collections.abc import Callable, Sequence
from dataclasses import dataclass
from typing import Self

import numpy as np

from yarekeel.core.errors import NoRest
from yarekeel.core.geometry.attitude import Attitude
from yarekeel.core.geometry.wetted import waterline_length, wetted_surface
from yarekeel.core.hydrostatics.afloat import Afloat, Outputs, float_boat, spread_of
from yarekeel.core.once import cached_property
from yarekeel.core.propulsion.pulls import DriveSums
from yarekeel.core.quantities import Kilograms, Metres, Radians
from yarekeel.core.resistance.friction import friction, hull_speed
from yarekeel.stages.afloat import swamped
from yarekeel.stages.afloat.afloat import FloatAssessment
from yarekeel.stages.afloat.forced import rail_at
from yarekeel.stages.design.craft import Craft
from yarekeel.stages.design.fitted import sums_of
from yarekeel.stages.stability import plain_tests, stability
from yarekeel.stages.stability.plain_tests import Tested
from yarekeel.stages.stability.rolling import period_of
from yarekeel.stages.stability.stability import HEELS, StabilityAssessment


class Figures:
    """A boat's figures by their names. ``start`` is where its attitude is looked for first, ``heels`` those of its righting arm."""

    def __init__(self, craft: Craft, start: Attitude | None = None, heels: Sequence[Radians] = HEELS) -> None:
        self.craft, self.start, self.heels = craft, start, heels
        self._known: dict[str, float | None] = {}

    @classmethod
    def found(cls, craft: Craft, stability: StabilityAssessment, tests: tuple[Tested, ...]) -> Self:
        """Those of a boat that was heeled and tested already, with water in its bilge perhaps."""
        figures = cls(craft)
        figures.__dict__ |= {"rest": stability.afloat, "curves": stability, "stability": stability, "tests": tests}
        return figures

    def __getitem__(self, name: str) -> float | None:
        """A figure in SI (angles in radians); None where the boat has none: it sinks, it has no motor."""
        if name not in self._known:
            try:
                self._known[name] = BY_NAME[name].of(self)
            except NoRest:
                self._known[name] = None
        return self._known[name]

    def half_width(self, name: str) -> float:
        """Half the band of a figure, from the weights' own; 0 where no band is known."""
        of = BY_NAME[name].half_width
        return of(self) if of is not None and self.rest is not None else 0.0

    @classmethod
    def floated(cls, craft: Craft, result: FloatAssessment) -> Self:
        """Those of a boat that was floated already, with its bands."""
        figures = cls(craft)
        figures.__dict__ |= {"rest": result.afloat, "spread": result.spread}
        return figures

    @cached_property
    def rest(self) -> Afloat | None:
        """Where it floats; None where it comes to no rest. Raises InvalidInput where nothing is aboard, or the hull cannot be built."""
        try:
            return self.craft.rest(self.start) if self.start else self.craft.settled
        except NoRest:
            return None

    @cached_property
    def spread(self) -> Outputs | None:
        """Half widths of the figures of the rest; None where a small change tips it elsewhere."""
        if self.rest is None:
            return None
        marks = self.craft.marks
        return spread_of(
            hull=self.craft.hull,
            items=self.craft.acting,
            afloat=self.rest,
            bow_x=marks.bow_x_m,
            stern_x=marks.stern_x_m,
            kernel=self.craft.kernel,
        )

    @cached_property
    def curves(self) -> StabilityAssessment:
        """Its righting arms and what meets the water, without verdicts."""
        return stability.swept(self.craft, self.heels)

    @cached_property
    def stability(self) -> StabilityAssessment:
        """The same with its verdicts."""
        return stability.judged(self.craft, self.curves)

    @cached_property
    def tests(self) -> tuple[Tested, ...]:
        """The plain tests it is put to."""
        return plain_tests.assess(self.craft, self.curves)

    @cached_property
    def drive(self) -> DriveSums:
        """The sums of its motors, for all that it carries, liquids too."""
        return sums_of(self.craft.design, self.craft.mass)

    def extent(self, axis: int) -> Metres:
        """Length, beam or depth over all."""
        low, high = self.craft.hull.mesh.bounds
        return float(high[axis] - low[axis])

    def test(self, code: str) -> Tested | None:
        """A plain test by its code, such as ``test.wind``; None where it is not done."""
        return next((t for t in self.tests if t.code == code), None)


@dataclass(frozen=True, slots=True)
class Figure:
    """A row: the figure's name and its stage, the unit's word for it, how it is worked out, and half its band where one is known."""

    name: str
    stage: str
    kind: str
    of: Callable[[Figures], float | None]
    half_width: Callable[[Figures], float] | None = None


def _rest(of: Callable[[Afloat], float]) -> Callable[[Figures], float | None]:
    return lambda f: None if f.rest is None else of(f.rest)


def _spread(name: str) -> Callable[[Figures], float]:
    return lambda f: 0.0 if f.spread is None else float(getattr(f.spread, name))


def draft_of(craft: Craft, attitude: Attitude) -> Metres:
    """How deep the deepest point of all lies: so much water it needs under the surface."""
    return -float((craft.hull.mesh.vertices @ attitude.up).min()) - attitude.origin_height


def _part(f: Figures, axis: int) -> Metres:
    """The largest body's extent along an axis; of a mirrored pair, one."""
    return max(float(np.ptp(f.craft.one(n).vertices[:, axis])) for n in range(len(f.craft.design.bodies)))


def _rail_lean(f: Figures) -> Radians | None:
    """The heel with the brief's weight on its rail amidships; upside down where it goes over, or leans by itself already."""
    weight, craft = f.craft.design.brief.rail_mass_kg, f.craft
    if not weight or f.rest is None:
        return None
    if f.rest.is_unsteady:
        return math.pi
    total, at = craft.total, rail_at(craft, -1.0)
    whole = total.mass + weight
    x, y, z = ((total.mass * total.centre[k] + weight * at[k]) / whole for k in range(3))
    try:
        return abs(
            float_boat(hull=craft.hull, mass=whole, gravity=(x, y, z), density=craft.density, start=None, kernel=craft.kernel).attitude.heel
        )
    except NoRest:
        return math.pi


def _swamped_carries(f: Figures) -> Kilograms | None:
    return swamped.assess(f.craft).carries if f.craft.hull.open else None


def _greatest_arm(f: Figures) -> Metres | None:
    worse = f.curves.worse
    return None if worse is None else worse.righting_arm(worse.peak) if worse.rights else 0.0


def _range(f: Figures) -> Radians | None:
    return None if f.curves.worse is None else f.curves.safe_range


def _downflooding(f: Figures) -> Radians | None:
    worse = f.curves.worse
    wet = None if worse is None else f.curves.water_in(worse.side)
    return None if wet is None else abs(wet.heel)


def _roll(f: Figures, half: bool = False) -> float | None:
    if f.rest is None:
        return None
    found = period_of(f.craft, f.rest)
    return None if found is None else found.half_width if half else found.value


def _thrust_to_weight(f: Figures) -> float | None:
    return f.drive.thrust_to_weight if f.craft.design.drive.motors else None


def _thrust_line(f: Figures) -> Metres | None:
    line = f.drive.line_height
    return None if line is None else line - f.craft.gravity[2]


def _friction(f: Figures) -> float | None:
    if f.rest is None:
        return None
    mesh, a, water = f.craft.hull.mesh, f.rest.attitude, f.craft.design.water
    line = waterline_length(mesh, a)
    return friction(hull_speed(line), line, wetted_surface(mesh, a), water.density, water.viscosity)


def _lean(code: str) -> Callable[[Figures], float | None]:
    def lean(f: Figures) -> float | None:
        test = f.test(code)
        return None if test is None else test.lean

    return lean


FIGURES: tuple[Figure, ...] = (
    Figure("length", "shape", "length", lambda f: f.extent(0)),
    Figure("beam", "shape", "length", lambda f: f.extent(1)),
    Figure("depth", "shape", "length", lambda f: f.extent(2)),
    Figure("volume", "shape", "volume", lambda f: f.craft.hull.kernel.total_volume),
    Figure("surface", "shape", "area", lambda f: f.craft.hull.mesh.area),
    Figure("part_length", "shape", "length", lambda f: _part(f, 0)),
    Figure("part_width", "shape", "length", lambda f: _part(f, 1)),
    Figure("part_height", "shape", "length", lambda f: _part(f, 2)),
    Figure("mass", "weights", "mass", lambda f: f.craft.mass, lambda f: f.craft.total.half_width),
    Figure("lcg", "weights", "length", lambda f: f.craft.total.centre[0], lambda f: f.craft.total.centre_half_width[0]),
    Figure("tcg", "weights", "length", lambda f: f.craft.total.centre[1], lambda f: f.craft.total.centre_half_width[1]),
    Figure("vcg", "weights", "length", lambda f: f.craft.total.centre[2], lambda f: f.craft.total.centre_half_width[2]),
    Figure("weighed_share", "weights", "ratio", lambda f: f.craft.total.weighed_share),
    Figure("freeboard_min", "float", "length", _rest(lambda a: a.freeboard), _spread("freeboard")),
    Figure("trim", "float", "angle", _rest(lambda a: a.attitude.trim), _spread("trim")),
    Figure("heel", "float", "angle", _rest(lambda a: a.attitude.heel), _spread("heel")),
    Figure("draft", "float", "length", lambda f: None if f.rest is None else draft_of(f.craft, f.rest.attitude)),
    Figure("reserve", "float", "ratio", _rest(lambda a: a.reserve)),
    Figure("adds_to_rim", "float", "mass", _rest(lambda a: a.to_rim)),
    Figure("wetted", "float", "area", lambda f: None if f.rest is None else wetted_surface(f.craft.hull.mesh, f.rest.attitude)),
    Figure("rail_lean", "float", "angle", _rail_lean),
    Figure("swamped_carries", "float", "mass", _swamped_carries),
    Figure("gm", "stability", "length", _rest(lambda a: a.judged_gm), _spread("gm")),
    Figure("greatest_arm", "stability", "length", _greatest_arm),
    Figure("range", "stability", "angle", _range),
    Figure("downflooding", "stability", "angle", _downflooding),
    Figure("roll_period", "stability", "seconds", _roll, lambda f: _roll(f, half=True) or 0.0),
    *(
        Figure(f"lean_{word}", "stability", "angle", _lean(f"test.{word}"))
        for word in ("rail", "lean", "stand", "move", "catch", "wind", "gust", "turn", "tow", "wake")
    ),
    Figure("thrust", "drive", "force", lambda f: f.drive.thrust),
    Figure(
        "thrust_to_weight",
        "drive",
        "ratio",
        _thrust_to_weight,
        lambda f: f.drive.thrust_to_weight * f.craft.total.half_width / f.craft.mass,
    ),
    Figure("thrust_line_above_cg", "drive", "length", _thrust_line),
    Figure("current", "drive", "current", lambda f: f.drive.current if f.craft.design.drive.motors else None),
    Figure("run_time", "drive", "seconds", lambda f: f.drive.run_time),
    Figure(
        "waterline",
        "underway",
        "length",
        lambda f: None if f.rest is None else waterline_length(f.craft.hull.mesh, f.rest.attitude),
    ),
    Figure(
        "hull_speed",
        "underway",
        "speed",
        lambda f: None if f.rest is None else hull_speed(waterline_length(f.craft.hull.mesh, f.rest.attitude)),
    ),
    Figure("friction", "underway", "force", _friction),
)
BY_NAME = {row.name: row for row in FIGURES}
