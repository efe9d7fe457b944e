"""A sheet of readings from the thrust bench."""

from dataclasses import dataclass
from typing import Literal

from yarekeel.core.constants import AIR_DENSITY
from yarekeel.core.errors import InvalidInput
from yarekeel.core.parameters import check_parameters, choice, count, described, flag, text, words
from yarekeel.core.propulsion.bench.rig import Rig
from yarekeel.core.quantities import Amperes, KilogramsPerCubicMetre, Metres, MetresPerSecond, Newtons, Ratio, Seconds, Volts

MOST_POINTS = 400
MOST_TESTS = 12
Keep = Literal["judged", "in", "out"]
Stream = Literal["water", "air", "duct", "jet"]
STREAMS = (("water", "propeller in water"), ("air", "propeller in air"), ("duct", "ducted fan"), ("jet", "water jet"))
OVERLOAD = "overload"
"""What a note says of a reading that the scale could not give."""


@dataclass(frozen=True, slots=True)
class BenchPoint:
    """A reading at a throttle (less than 0: astern) with the tare off; None where the scale read past its end. ``at_s`` is since the
    first, ``spread_n`` the standard deviation of the readings that it is the mean of, and ``step_n`` by how much the later half of
    them differs from the earlier. ``keep`` is the builder's word; ``judged`` leaves it to what the sheet says of it."""

    throttle: Ratio = described(0.0, "Throttle", "percent", -1, 1, "less than 0: astern", ("full astern", "full ahead"))
    reading_n: Newtons | None = described(None, "Reading", "force", -1e5, 1e5)
    volts: Volts | None = described(None, "Volts", "voltage", 0, 1000)
    amps: Amperes | None = described(None, "Amps", "current", 0, 2000)
    rpm: Ratio | None = described(None, "Turns a minute", "ratio", 0, 300_000)
    at_s: Seconds | None = described(None, "After", "seconds", 0, 1e5)
    spread_n: Newtons | None = described(None, "Scatter", "force", 0, 1e5)
    step_n: Newtons | None = described(None, "Step", "force", -1e5, 1e5)
    keep: Keep = choice("judged", "Counts", "", (("judged", "as judged"), ("in", "keep"), ("out", "leave out")))
    note: str = words("Note")
    practice: bool = flag(False, "Practice: read off a stand-in")

    def __post_init__(self) -> None:
        check_parameters(self)


@dataclass(frozen=True, slots=True)
class BenchTest:
    """A unit on the bench: what was fitted, on which rig, and the readings in the order they were taken. ``across_m`` is the size of the
    propeller, or of the exit of a duct or jet; 0 if not known. ``units`` equal ones pulled together."""

    name: str = text("Thrust test", "Test")
    fitted: str = words("What was fitted")
    units: int = count(1, "Units on the rig", "equal ones, pulling together", 1, 8, ("it needs one", "more than a rig holds"))
    stream: Stream = choice("water", "It is", "", STREAMS)
    across_m: Metres = described(0.0, "Across", "length", 0, 5, "the tips, or the exit; 0 if not known", moves="stays")
    ends_ms: MetresPerSecond = described(0.0, "Stops pushing at", "speed", 0, 200, "pitch or jet speed; 0 if not known")
    tip_depth_m: Metres | None = described(None, "Tips under", "length", -2, 20, "at the top of their turn", moves="stays")
    tub_m: Metres | None = described(None, "Tub, least width", "length", 0.01, 100, "a pond: leave it open", moves="stays")
    rig: Rig = Rig()
    points: tuple[BenchPoint, ...] = ()

    def __post_init__(self) -> None:
        if len(self.points) > MOST_POINTS:
            raise InvalidInput("points", f"A thrust test has at most {MOST_POINTS} readings.")
        check_parameters(self)

    @property
    def is_practice(self) -> bool:
        """Whether any of it is from a stand-in."""
        return any(p.practice for p in self.points)

    def density(self, water: KilogramsPerCubicMetre) -> KilogramsPerCubicMetre:
        """Of what it pushes."""
        return AIR_DENSITY if self.stream in ("air", "duct") else water
