"""A hull from a table of offsets: stations with half-breadths and heights, and the changes a builder makes to an old plan."""

import dataclasses
import math
from dataclasses import MISSING, dataclass
from typing import ClassVar, Literal

import numpy as np

from yarekeel.core.errors import InvalidInput
from yarekeel.core.geometry.curves import fair
from yarekeel.core.geometry.families.loft import Run, lofted
from yarekeel.core.geometry.mesh import Floats, Mesh
from yarekeel.core.parameters import LONGEST, check_parameters, choice, described, flag
from yarekeel.core.quantities import Metres, Ratio

MOST_STATIONS, MOST_LINES, MOST_CHANGES = 60, 30, 40
ALONG, AROUND = 44, 18
"""About how many steps the drawn surface takes along the hull and around a smooth section at detail 1."""


@dataclass(frozen=True, slots=True)
class Station:
    """A station ``x_m`` from aft: for each line of the table its half-breadth and its height."""

    x_m: Metres = described(MISSING, "From aft", "length")
    half_breadths_m: tuple[Metres, ...] = described(MISSING, "Half-breadth", "length")
    heights_m: tuple[Metres, ...] = described(MISSING, "Height", "length")


@dataclass(frozen=True, slots=True)
class Change:
    """A change as builders say it. ``part`` is a share: 0.2 is 20 % more.

    ``higher``: everything above the line ``above`` (its number) stands higher over it. ``wider``: half-breadths grow, at
    one ``station`` or everywhere; with ``fade_to`` it dies out evenly towards that station. ``longer``: the same sections
    further apart. ``on`` false leaves it out without losing it.
    """

    what: Literal["higher", "wider", "longer"]
    part: Ratio = described(MISSING, "By", "percent", -0.9, 4.0)
    station: int | None = described(None, "Where", "station_or_none", meaning="everywhere")
    fade_to: int | None = described(None, "Fades to", "station_or_none", meaning="nowhere")
    above: int = described(0, "Above", "line")
    on: bool = flag(True, "On")

    def __post_init__(self) -> None:
        check_parameters(self)
        if self.station is None and self.fade_to is not None:
            raise InvalidInput("fade_to", "Only a change at one station can fade out.")


def _default() -> tuple[Station, ...]:
    """A small flat-bottomed skiff, drawn for this program."""
    rows = (
        (0.00, (0.0, 0.28, 0.36), (0.10, 0.10, 0.42)),
        (0.60, (0.0, 0.37, 0.46), (0.05, 0.05, 0.40)),
        (1.20, (0.0, 0.40, 0.50), (0.02, 0.02, 0.40)),
        (1.80, (0.0, 0.36, 0.47), (0.02, 0.02, 0.42)),
        (2.40, (0.0, 0.20, 0.32), (0.08, 0.08, 0.47)),
        (3.00, (0.0, 0.0, 0.0), (0.24, 0.24, 0.54)),
    )
    return tuple(Station(*row) for row in rows)


@dataclass(frozen=True, slots=True)
class Offsets:
    """The table; its lines run from the keel to the sheer. Numbers are metres; station 0 is the aftermost."""

    kind: ClassVar[Literal["offsets"]] = "offsets"
    title: ClassVar[str] = "Table of offsets"
    group: ClassVar[str] = "Tables and meshes"
    rank: ClassVar[int] = 1
    role: ClassVar[str] = "hull"
    opens: ClassVar[str] = "people"
    sections: str = choice("chine", "Sections", "between the lines", (("chine", "straight, with chines"), ("smooth", "a smooth curve")))
    lines: tuple[str, ...] = ("keel", "chine", "sheer")
    stations: tuple[Station, ...] = dataclasses.field(default_factory=_default)
    changes: tuple[Change, ...] = ()

    def __post_init__(self) -> None:
        check_parameters(self)
        n = len(self.lines)
        if not 2 <= n <= MOST_LINES or not 2 <= len(self.stations) <= MOST_STATIONS:
            raise InvalidInput("stations", f"A table needs 2 to {MOST_STATIONS} stations and 2 to {MOST_LINES} lines.")
        if any(not 1 <= len(name.strip()) <= 30 for name in self.lines):
            raise InvalidInput("lines", "Each line of the table needs a name of 1 to 30 characters.")
        for k, station in enumerate(self.stations):
            self._check(k, station, n)
        if len(self.changes) > MOST_CHANGES:
            raise InvalidInput("changes", f"A table takes at most {MOST_CHANGES} changes.")
        for k, change in enumerate(self.changes):
            for at in (change.station, change.fade_to):
                if at is not None and not 0 <= at < len(self.stations):
                    raise InvalidInput(f"changes.{k}.station", f"Stations run from 0 to {len(self.stations) - 1}.")
            if change.fade_to is not None and change.fade_to == change.station:
                raise InvalidInput(f"changes.{k}.fade_to", "A change must fade out at another station than its own.")
            if not 0 <= change.above < n - 1:
                raise InvalidInput(f"changes.{k}.above", "Choose a line below the sheer.")

    def _check(self, k: int, station: Station, n: int) -> None:
        y, z = station.half_breadths_m, station.heights_m
        if len(y) != n or len(z) != n:
            raise InvalidInput(f"stations.{k}", f"Station {k} must have {n} half-breadths and {n} heights, one for each line.")
        numbers = (station.x_m, *y, *z)
        if not all(math.isfinite(v) and abs(v) <= 10 * LONGEST for v in numbers):
            raise InvalidInput(f"stations.{k}", f"Every number of station {k} must lie within {{most:length}}.", most=10 * LONGEST)
        if k and station.x_m <= self.stations[k - 1].x_m:
            raise InvalidInput(f"stations.{k}.x_m", f"Station {k} must lie ahead of station {k - 1}.")
        for j in range(n):
            if y[j] < 0:
                raise InvalidInput(
                    f"stations.{k}.half_breadths_m.{j}", "A half-breadth is measured from the centreline and cannot be negative."
                )
            if j and z[j] < z[j - 1]:
                raise InvalidInput(
                    f"stations.{k}.heights_m.{j}",
                    f"At station {k} {self.lines[j]} lies below {self.lines[j - 1]}; heights must rise from line to line.",
                )
        if 0 < k < len(self.stations) - 1 and (max(y) <= 0 or z[-1] - z[0] <= 0):
            raise InvalidInput(f"stations.{k}", f"Station {k} has no width or no height; only the ends may close.")

    def changed(self) -> "Offsets":
        """The table with every change that is on worked into its numbers, in their order."""
        x, y, z = self._arrays()
        for change in self.changes:
            if not change.on:
                continue
            grown = 1 + change.part * _share(change, x)
            if change.what == "higher":
                foot = z[:, [change.above]]
                rest = np.maximum(z - foot, 0.0)
                z = np.minimum(z, foot) + rest * grown[:, None]
            elif change.what == "wider":
                y = y * grown[:, None]
            else:
                x = x[0] + (x - x[0]) * (1 + change.part)
        rows = zip(x.tolist(), y.tolist(), z.tolist(), strict=True)
        return Offsets(self.sections, self.lines, tuple(Station(a, tuple(b), tuple(c)) for a, b, c in rows))

    def _arrays(self) -> tuple[Floats, Floats, Floats]:
        return (
            np.array([s.x_m for s in self.stations]),
            np.array([s.half_breadths_m for s in self.stations]),
            np.array([s.heights_m for s in self.stations]),
        )

    def build(self, detail: Ratio = 1) -> Mesh:
        """The closed mesh: fair along its length, straight or smooth around. Raises InvalidInput when it encloses nothing."""
        x, y, z = self.changed()._arrays()
        per = max(1, round(ALONG * detail / (len(x) - 1)))
        dense = np.interp(np.arange(per * (len(x) - 1) + 1) / per, np.arange(len(x)), x)
        y, z = np.maximum(fair(x, y, dense), 0.0), fair(x, z, dense)
        n = len(self.lines)
        step = np.hypot(np.diff(y, axis=1), np.diff(z, axis=1)).mean(axis=0)
        t = np.concatenate([[0.0], np.cumsum(np.maximum(step, 1e-6 * max(step.max(), 1e-9)))])
        smooth = self.sections == "smooth" and n > 2
        around = max(2, round(AROUND * detail / (n - 1))) if smooth else max(1, round(2 * detail))
        fine = np.interp(np.arange(around * (n - 1) + 1) / around, np.arange(n), t)
        if smooth:
            y, z = np.maximum(fair(t, y.T, fine).T, 0.0), fair(t, z.T, fine).T
        else:
            y, z = (np.array([np.interp(fine, t, row) for row in a]) for a in (y, z))
        z = np.maximum.accumulate(z, axis=1)
        run = Run(x=dense, half_beam=y[:, -1], keel=z[:, 0], sheer=np.maximum(z[:, -1], z[:, 0] + 1e-9), rake=np.zeros(len(dense)))
        mesh = lofted(run, y, z)
        low, high = mesh.bounds if len(mesh.faces) else (np.zeros(3), np.zeros(3))
        size = high - low
        if mesh.volume <= max(1e-6 * float(np.prod(size)), 1e-9 * float(size.max()) ** 3):
            raise InvalidInput("stations", "This table encloses no volume; a hull needs width and height between its ends.")
        return mesh


def _share(change: Change, x: Floats) -> Floats:
    """How much of a change each station gets, (n,)."""
    if change.station is None:
        return np.ones(len(x))
    at = x[change.station]
    if change.fade_to is None:
        return np.asarray((np.arange(len(x)) == change.station).astype(float))
    part = (x - at) / (x[change.fade_to] - at)
    return np.asarray(np.where(part >= -1e-12, np.clip(1 - part, 0, 1), 0.0))


def say(change: Change, lines: tuple[str, ...]) -> str:
    """The change in words, as listed."""
    size = f"{abs(change.part) * 100:.4g} %"
    if change.what == "longer":
        return f"{size} {'longer' if change.part >= 0 else 'shorter'}, same sections"
    more, less = {"higher": ("higher", "lower"), "wider": ("wider", "narrower")}[change.what]
    word = more if change.part >= 0 else less
    way = "forward" if (change.fade_to or 0) > (change.station or 0) else "aft"
    last = "" if change.fade_to is None else f", fading out {way} to station {change.fade_to}"
    where = "everywhere" if change.station is None else f"at station {change.station}"
    if change.what == "higher":
        return f"sides {size} {word} {where}{last}, above the {lines[change.above]}"
    return f"{size} {word} {where}{last}"
