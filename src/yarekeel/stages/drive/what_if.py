"""What another pitch, another size or other cells would do, beside what is fitted now."""

import dataclasses
import math
from dataclasses import dataclass
from typing import Any, Literal

from yarekeel.core.errors import InvalidInput
from yarekeel.core.findings import Finding, Severity
from yarekeel.core.propulsion.drive import Motor
from yarekeel.core.propulsion.parts import KINDS
from yarekeel.core.quantities import Amperes, Kilograms, Ratio
from yarekeel.stages.afloat import afloat
from yarekeel.stages.design import fittings
from yarekeel.stages.design.craft import Craft
from yarekeel.stages.design.design import Design, with_value
from yarekeel.stages.design.fitted import sums_of
from yarekeel.stages.design.fittings import Keyed
from yarekeel.stages.drive import drive, match, pack_verdicts, packs

SAME: Ratio = 1e-3
"""Of a figure, by which two of them are one."""
Word = Severity | Literal[""]
RANK: dict[Severity, int] = {"note": 0, "holds": 1, "near": 2, "fails": 3}
MOST_LIGHTER, MOST_HEAVIER = 0.9, 2.0
"""Of what is typed in the list."""
LEAST, MOST = 0.5, 2.0
"""Of pitch and size: beyond, it is another propeller."""
SIZES = ("diameter_m", "exit_m")
"""Fields that say how large a propulsor is across."""


@dataclass(frozen=True, slots=True)
class WhatIf:
    """Pitch and size as shares of what is fitted, how many cells (None: as fitted), what is left ashore, and other parts."""

    pitch: Ratio = 1.0
    size: Ratio = 1.0
    cells: int | None = None
    lighter: Kilograms = 0.0
    """So much less aboard; less than 0: more."""
    parts: tuple[Keyed, ...] = ()
    """Parts of the bin in place of what every motor has of their kind."""

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
    changed = packs.with_cells(changed, what.cells) if what.cells is not None else changed
    for keyed in what.parts:
        of_motor = KINDS[keyed.part.kind].of_motor
        for name in [m.name for m in changed.drive.motors] if of_motor else [""]:
            changed = fittings.fit(Craft(changed), keyed, name)
    return _lighter(changed, what.lighter) if what.lighter else changed


def _lighter(design: Design, by: Kilograms) -> Design:
    """The boat with its typed weights together lighter by so much. Raises InvalidInput where they do not weigh that."""
    typed = math.fsum(w.mass_kg * w.quantity for w in design.weights if w.recipe is None and w.on)
    if not math.isfinite(by) or by >= MOST_LIGHTER * typed or by < -MOST_HEAVIER * typed:
        raise InvalidInput("what_lighter", "So much cannot be left ashore: it is more than most of what is aboard.")
    share = 1 - by / typed
    weights = tuple(dataclasses.replace(w, mass_kg=w.mass_kg * share) if w.recipe is None and w.on else w for w in design.weights)
    return with_value(design, "weights", weights)


@dataclass(frozen=True, slots=True)
class Changed:
    """A verdict that becomes another, with the finding that says it now, or said it; "" where it is not said."""

    finding: Finding
    was: Word
    now: Word


def verdicts(craft: Craft, what: WhatIf) -> tuple[Changed, ...]:
    """Every verdict of the drive and of the float that changes, the worse ones first; notes are none."""
    other = Craft(altered(craft.design, what))
    heavier = other.design.weights != craft.design.weights  # else it floats as it does
    before, after = (_verdicts(c, floats=heavier) for c in (craft, other))
    rows = []
    for code in {*before, *after}:
        old, new = before.get(code), after.get(code)
        was: Word = old.severity if old else ""
        now: Word = new.severity if new else ""
        said = new or old
        if was != now and said is not None:
            rows.append(Changed(said, was, now))
    rank = ("fails", "near", "holds", "")
    return tuple(sorted(rows, key=lambda r: (rank.index(r.now), r.finding.code)))


def _verdicts(craft: Craft, *, floats: bool) -> dict[str, Finding]:
    found = (*drive.judged(craft), *pack_verdicts.wired(craft.design), *(afloat.assess(craft).findings if floats else ()))
    worst: dict[str, Finding] = {}
    for f in found:
        if f.severity != "note" and (f.code not in worst or RANK[f.severity] > RANK[worst[f.code].severity]):
            worst[f.code] = f
    return worst


def _altered(motor: Motor, what: WhatIf) -> Motor:
    part: Any = motor.propulsor
    if part is None:
        return motor
    sizes = {name: getattr(part, name) * what.size for name in SIZES if hasattr(part, name)}
    pitch = {"pitch_m": part.pitch_m * what.pitch * what.size} if hasattr(part, "pitch_m") else {}
    return dataclasses.replace(motor, propulsor=dataclasses.replace(part, **sizes, **pitch))


def side_by_side(craft: Craft, what: WhatIf, beside: Amperes = match.BESIDE) -> tuple[Row, ...]:
    """What is fitted beside what would be: pull, ratio, current, speed, range; with so much drawn besides the motors."""
    design = craft.design
    other = altered(design, what)
    before, after = (_figures(craft, d, beside) for d in (design, other))
    return tuple(
        Row(name=name, kind=kind, was=was, now=now, more_is_better=better)
        for (name, kind, better), was, now in zip(ROWS, before, after, strict=True)
    )


ROWS: tuple[tuple[str, str, bool], ...] = (
    ("All up", "mass", False),
    ("Pull from rest", "force", True),
    ("Thrust to weight", "ratio", True),
    ("Current", "current", False),
    ("of what the pack gives for long", "percent", False),
    ("Top speed, about", "speed", True),
    ("Flat out, turn back by", "distance", True),
    ("Goes farthest", "distance", True),
)


def other_match(craft: Craft, other: Craft, beside: Amperes = match.BESIDE) -> match.Match | None:
    """The match of a boat that differs from another by its drive, and perhaps its weights."""
    return match.assess(other, beside, craft if other.design.weights == craft.design.weights else None)


def _figures(craft: Craft, design: Design, beside: Amperes) -> tuple[float | None, ...]:
    boat = craft if design is craft.design else Craft(design)
    sums = sums_of(design, boat.mass)
    found = other_match(craft, boat, beside)
    lasting = packs.lasting_current(design.drive.battery) if design.drive.battery else None
    return (
        boat.mass,
        sums.thrust,
        sums.thrust_to_weight,
        sums.current,
        sums.current / lasting if lasting else None,
        found.top.speed if found else None,
        found.top.distance / 2 if found else None,
        found.economical.distance if found else None,
    )
