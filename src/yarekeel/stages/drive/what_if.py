"""What another pitch, another size or other cells would do, beside what is fitted now."""

import dataclasses
import math
from dataclasses import dataclass
from typing import Any

from yarekeel.core.errors import InvalidInput
from yarekeel.core.propulsion.drive import Motor
from yarekeel.core.quantities import Amperes, Kilograms, Ratio
from yarekeel.stages.design.craft import Craft
from yarekeel.stages.design.design import Design, with_value
from yarekeel.stages.design.fitted import sums_of
from yarekeel.stages.drive import match, packs

SAME: Ratio = 1e-3
"""Of a figure, by which two of them are one."""
LEAST, MOST = 0.5, 2.0
"""Of pitch and size: beyond, it is another propeller."""
SIZES = ("diameter_m", "exit_m")
"""Fields that say how large a propulsor is across."""


@dataclass(frozen=True, slots=True)
class WhatIf:
    """Pitch and size as shares of what is fitted, and how many cells (None: as fitted)."""

    pitch: Ratio = 1.0
    size: Ratio = 1.0
    cells: int | None = None

    @property
    def is_nothing(self) -> bool:
        """Whether all stays as it is."""
        return self == WhatIf()


@dataclass(frozen=True, slots=True)
class Row:
    """A figure as it is and as it would be; None where it is not known. ``kind`` is the units' word for it; ``more_is_better`` says which
    way is gain."""

    name: str
    kind: str
    was: float | None
    now: float | None
    more_is_better: bool

    @property
    def is_better(self) -> bool | None:
        """Whether it gains; None where it is the same or not known."""
        if self.was is None or self.now is None or math.isclose(self.was, self.now, rel_tol=SAME):
            return None
        return (self.now > self.was) == self.more_is_better


def altered(design: Design, what: WhatIf) -> Design:
    """The boat with it. Raises InvalidInput for shares beyond ``LEAST`` and ``MOST`` and for sizes that no part has."""
    for share in (what.pitch, what.size):
        if not LEAST <= share <= MOST:
            raise InvalidInput("drive", f"Pitch and size may be from {LEAST:g} to {MOST:g} times what is fitted.")
    motors = tuple(_altered(m, what) for m in design.drive.motors)
    changed = with_value(design, "drive.motors", motors)
    return packs.with_cells(changed, what.cells) if what.cells is not None else changed


def _altered(motor: Motor, what: WhatIf) -> Motor:
    part: Any = motor.propulsor
    if part is None:
        return motor
    sizes = {name: getattr(part, name) * what.size for name in SIZES if hasattr(part, name)}
    pitch = {"pitch_m": part.pitch_m * what.pitch * what.size} if hasattr(part, "pitch_m") else {}
    return dataclasses.replace(motor, propulsor=dataclasses.replace(part, **sizes, **pitch))


def side_by_side(craft: Craft, what: WhatIf, beside: Amperes = match.BESIDE) -> tuple[Row, ...]:
    """What is fitted beside what would be: pull, ratio, current, speed, range; with so much drawn besides the motors."""
    design, mass = craft.design, craft.mass
    other = altered(design, what)
    before, after = (_figures(craft, d, mass, beside) for d in (design, other))
    return tuple(
        Row(name=name, kind=kind, was=was, now=now, more_is_better=better)
        for (name, kind, better), was, now in zip(ROWS, before, after, strict=True)
    )


ROWS: tuple[tuple[str, str, bool], ...] = (
    ("Pull from rest", "force", True),
    ("Thrust to weight", "ratio", True),
    ("Current", "current", False),
    ("of what the pack gives for long", "percent", False),
    ("Top speed, about", "speed", True),
    ("Flat out, turn back by", "distance", True),
    ("Goes farthest", "distance", True),
)


def _figures(craft: Craft, design: Design, mass: Kilograms, beside: Amperes) -> tuple[float | None, ...]:
    sums = sums_of(design, mass)
    found = match.assess(craft if design is craft.design else Craft(design), beside)
    lasting = packs.lasting_current(design.drive.battery) if design.drive.battery else None
    return (
        sums.thrust,
        sums.thrust_to_weight,
        sums.current,
        sums.current / lasting if lasting else None,
        found.top.speed if found else None,
        found.top.distance / 2 if found else None,
        found.economical.distance if found else None,
    )
