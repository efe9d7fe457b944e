"""A day's track: what of it can be used, how fast the boat ran and for how long, its best five seconds, and both ways averaged."""

import math
from dataclasses import dataclass

import numpy as np

from yarekeel.core.errors import InvalidInput
from yarekeel.core.geometry.mesh import Floats
from yarekeel.core.quantities import Degrees, Metres, MetresPerSecond, Seconds

FASTEST: MetresPerSecond = 60.0
"""Beyond which a step is a jump of the receiver, not of the boat."""
LONGEST_GAP: Seconds = 5.0
"""Between two points, beyond which nothing is known of what was between (or ten times the usual step, where that is longer)."""
FEWEST = 3
"""Points of a stretch."""
SMOOTH: Seconds = 1.0
"""Over which places are averaged: a receiver's noise makes a way longer."""
WINDOW: Seconds = 2.0
"""Over which a speed is read."""
BEST: Seconds = 5.0
RUN_SHARE, RUN_LEAST = 0.3, 0.15
"""Of the track's usual top speed, and metres a second: faster than both is a run."""
SHORTEST_RUN: Seconds = 4.0
STEADY, STEADY_WINDOW = 0.1, 5.0
"""Of a run's middle speed: it is steady from where it first comes so near to where it last is, read over so many seconds."""
TURNING = 0.02
"""Of a speed, standard uncertainty of reading it along a way that turns: corners are cut by averaging places."""
OPPOSITE: Degrees = 35.0
"""By which two courses may miss being opposite."""
EARTH: Metres = 6_371_008.8
"""Mean radius of the Earth (IUGG, from memory)."""
DETRENDED = 1.6
"""By which the noise left beside a fitted line seems to wander less than it does (seeded tracks: what says 95 % then holds)."""
COVERAGE = 1.96
MOST_RUNS = 100


@dataclass(frozen=True, slots=True, eq=False)
class Stretch:
    """A piece of track without gaps: seconds from the track's first point, and metres east and north of it, each (n,)."""

    times: Floats
    east: Floats
    north: Floats


@dataclass(frozen=True, slots=True, eq=False)
class Track:
    """Stretches that can be used, and of how many points how many could not: times that do not go on, jumps, places that are none."""

    stretches: tuple[Stretch, ...]
    points: int
    bad_times: int
    jumps: int
    gaps: int
    has_places: bool = True
    """Whether courses are known: not where only speeds were read."""


@dataclass(frozen=True, slots=True)
class RunFound:
    """A run: from when to when, its way, its steady speed with half the 95 % band, and its course (degrees from north by east)."""

    begins: Seconds
    ends: Seconds
    way: Metres
    speed: MetresPerSecond
    half: MetresPerSecond
    course: Degrees


@dataclass(frozen=True, slots=True)
class BothWays:
    """Runs on opposite courses, averaged so that a steady wind or current falls out: speed, half the 95 % band, and how many each way."""

    speed: MetresPerSecond
    half: MetresPerSecond
    there: int
    back: int


@dataclass(frozen=True, slots=True, eq=False)
class TrackRead:
    """What a track tells. ``times`` and ``speeds`` (m,) are for a chart; stops are (begins, ends)."""

    runs: tuple[RunFound, ...]
    stops: tuple[tuple[Seconds, Seconds], ...]
    best: MetresPerSecond | None
    best_at: Seconds
    average: MetresPerSecond
    both_ways: BothWays | None
    times: Floats
    speeds: Floats


def track_of(times: Floats, latitude: Floats, longitude: Floats) -> Track:
    """A track from times in seconds and places in degrees, each (n,); what cannot be used is dropped and counted. Places are laid on the
    plane that touches at the first of them (within 0.01 % over some kilometres). Raises InvalidInput where nothing is left."""
    usable = np.isfinite(times) & np.isfinite(latitude) & np.isfinite(longitude)
    usable &= (np.abs(latitude) <= 90) & (np.abs(longitude) <= 180)
    if usable.sum() < FEWEST:
        raise InvalidInput("track", "This track has no points with a time and a place, so it tells no speed.")
    t, lat, lon = times[usable], np.radians(latitude[usable]), np.radians(longitude[usable])
    around = (lon - lon[0] + math.pi) % (2 * math.pi) - math.pi  # over the date line it goes on
    return laid_out(t, EARTH * around * math.cos(lat[0]), EARTH * (lat - lat[0]), points=len(times))


def laid_out(times: Floats, east: Floats, north: Floats, points: int | None = None) -> Track:
    """A track from times in seconds and places in metres, each (n,). Raises InvalidInput where nothing is left."""
    points = len(times) if points is None else points
    later = np.concatenate([[True], times[1:] > np.maximum.accumulate(times)[:-1]])
    bad = points - int(later.sum())
    if later.sum() < FEWEST:
        raise InvalidInput("track", "The times of this track do not go on: they stand still, or run backwards.")
    t, x, y = times[later] - times[later][0], east[later], north[later]
    steps = np.hypot(np.diff(x), np.diff(y)) / np.diff(t)
    alone = np.zeros(len(t), bool)
    if len(t) > FEWEST:
        past = np.hypot(x[2:] - x[:-2], y[2:] - y[:-2]) / (t[2:] - t[:-2])
        alone[1:-1] = (steps[:-1] > FASTEST) & (steps[1:] > FASTEST) & (past <= FASTEST)
    t, x, y = t[~alone], x[~alone], y[~alone]
    pause = max(LONGEST_GAP, 10 * float(np.median(np.diff(t)))) if len(t) > 1 else LONGEST_GAP
    apart = np.flatnonzero((np.diff(t) > pause) | (np.hypot(np.diff(x), np.diff(y)) / np.diff(t) > FASTEST)) + 1
    pieces = np.split(np.arange(len(t)), apart)
    kept = tuple(Stretch(t[p], x[p], y[p]) for p in pieces if len(p) >= FEWEST)
    if not kept:
        raise InvalidInput("track", "No stretch of this track is long enough to tell a speed: its points lie too far apart.")
    return Track(kept, points, bad, int(alone.sum()), len(kept) - 1)


def read(track: Track) -> TrackRead:
    """Runs, stops, the best five seconds, and both ways averaged."""
    smooth = [_smoothed(s) for s in track.stretches]
    speeds = [_speeds(s) for s in smooth]
    everything = np.concatenate(speeds)
    bar = max(RUN_LEAST, RUN_SHARE * float(np.percentile(everything, 95)))
    runs, stops = [], []
    ways = [_way(s) for s in smooth]
    for raw, s, v, along in zip(track.stretches, smooth, speeds, ways, strict=True):
        for first, last, is_run in _spells(s.times, v > bar):
            if is_run:
                runs.append(_run(raw, s, along, slice(first, last + 1)))
            else:
                stops.append((float(s.times[first]), float(s.times[last])))
    found = tuple(r for r in runs if r is not None)[:MOST_RUNS]
    best = max((b for s, way in zip(smooth, ways, strict=True) if (b := best_of(s.times, way)) is not None), default=None)
    time = sum(float(s.times[-1] - s.times[0]) for s in smooth)
    return TrackRead(
        runs=found,
        stops=tuple(stops),
        best=best[0] if best else None,
        best_at=best[1] if best else 0.0,
        average=sum(float(way[-1]) for way in ways) / time,
        both_ways=_both_ways(found),
        times=np.concatenate([s.times for s in smooth]),
        speeds=everything,
    )


def best_of(times: Floats, way: Floats, over: Seconds = BEST) -> tuple[MetresPerSecond, Seconds] | None:
    """The fastest ``over`` seconds of a way (n,) at times (n,), straight between points, and when they begin; None for a shorter track.
    The way in a window is piecewise straight in when it begins, so it is greatest where the window begins or ends at a point."""
    if times[-1] - times[0] < over:
        return None
    begins = np.concatenate([times[times <= times[-1] - over], times[times >= times[0] + over] - over])
    gained = np.interp(begins + over, times, way) - np.interp(begins, times, way)
    at = int(np.argmax(gained))
    return float(gained[at] / over), float(begins[at])


def _smoothed(s: Stretch) -> Stretch:
    """Places averaged over SMOOTH about each point, in time: the mean of the straight lines between points."""
    if np.median(np.diff(s.times)) >= SMOOTH:
        return s
    return Stretch(s.times, _averaged(s.times, s.east, SMOOTH), _averaged(s.times, s.north, SMOOTH))


def _averaged(times: Floats, values: Floats, over: Seconds) -> Floats:
    area = np.concatenate([[0.0], np.cumsum((values[1:] + values[:-1]) / 2 * np.diff(times))])
    half = np.minimum(over / 2, np.minimum(times - times[0], times[-1] - times))  # even about the point, also at the ends
    half = np.maximum(half, 1e-9)
    mean = (_area_at(times, values, area, times + half) - _area_at(times, values, area, times - half)) / (2 * half)
    return np.where(half > 1e-6, mean, values)


def _area_at(times: Floats, values: Floats, area: Floats, at: Floats) -> Floats:
    k = np.clip(np.searchsorted(times, at, side="right") - 1, 0, len(times) - 2)
    step = at - times[k]
    slope = (values[k + 1] - values[k]) / (times[k + 1] - times[k])
    out: Floats = area[k] + values[k] * step + slope * step**2 / 2
    return out


def _way(s: Stretch) -> Floats:
    return np.concatenate([[0.0], np.cumsum(np.hypot(np.diff(s.east), np.diff(s.north)))])


def _speeds(s: Stretch, over: Seconds = WINDOW) -> Floats:
    """At each point, the way straight across ``over`` about it."""
    early = np.clip(s.times - over / 2, s.times[0], s.times[-1])
    late = np.clip(s.times + over / 2, s.times[0], s.times[-1])
    x, y = ((np.interp(late, s.times, v) - np.interp(early, s.times, v)) for v in (s.east, s.north))
    out: Floats = np.hypot(x, y) / (late - early)
    return out


def _spells(times: Floats, fast: np.ndarray) -> list[tuple[int, int, bool]]:
    """First and last point of each spell of moving, or not, that lasts. A boat that turns about on the spot stops for a moment between
    two runs; a push that is over at once is none."""
    edges = np.flatnonzero(np.diff(fast.astype(int))) + 1
    spells = [(int(p[0]), int(p[-1]), bool(fast[p[0]])) for p in np.split(np.arange(len(times)), edges)]
    return [(a, b, is_run) for a, b, is_run in spells if times[b] - times[a] >= SHORTEST_RUN]


def _run(raw: Stretch, s: Stretch, way: Floats, part: slice) -> RunFound | None:
    """A run of a stretch, from where it has come to its speed to where it leaves it; None where that is over at once."""
    times = s.times[part]
    v = _speeds(Stretch(times, s.east[part], s.north[part]), STEADY_WINDOW)
    middle = float(np.median(v))
    steady = np.flatnonzero(np.abs(v - middle) <= STEADY * middle)
    inside = slice(part.start + int(steady[0]), part.start + int(steady[-1]) + 1) if len(steady) else part
    t, east, north = raw.times[inside], raw.east[inside], raw.north[inside]
    if len(t) < FEWEST or t[-1] - t[0] < SHORTEST_RUN / 2:
        return None
    (ve, vn), off = _straight(t, east, north)
    speed, course = math.hypot(ve, vn), math.degrees(math.atan2(ve, vn)) % 360
    along = float(way[inside.stop - 1] - way[inside.start]) / float(t[-1] - t[0])
    if _turns(t, east, north):
        speed, off = along, math.hypot(off, TURNING * along)
    return RunFound(
        begins=float(times[0]),
        ends=float(times[-1]),
        way=float(way[part.stop - 1] - way[part.start]),
        speed=speed,
        half=COVERAGE * max(off, 0.002 * speed),
        course=course,
    )


def _turns(t: Floats, east: Floats, north: Floats) -> bool:
    """Whether a run's first and last third go different ways."""
    third = len(t) // 3
    if third < FEWEST:
        return False
    courses = [_straight(t[p], east[p], north[p])[0] for p in (slice(None, third), slice(-third, None))]
    first, last = (math.degrees(math.atan2(*c)) for c in courses)
    return _between(first, last) > OPPOSITE


def _straight(t: Floats, east: Floats, north: Floats) -> tuple[tuple[float, float], float]:
    """Velocity east and north by least squares, and its standard uncertainty."""
    mid = t - t.mean()
    spread = float((mid**2).sum())
    ve, vn = float((mid * east).sum()) / spread, float((mid * north).sum()) / spread
    off = np.concatenate([east - east.mean() - ve * mid, north - north.mean() - vn * mid])
    slack = math.sqrt(float((off**2).sum()) / max(len(off) - 4, 1))
    each = max(_together(part) for part in (off[: len(t)], off[len(t) :]))
    return (ve, vn), slack * math.sqrt(each / spread)


def _together(off: Floats) -> float:
    """Of how many points in a row a receiver's noise, which wanders, makes no more than one: one and twice the sum of its
    autocorrelations down to the first that is none (common practice in the statistics of time series)."""
    off = off - off.mean()
    power = float((off**2).sum())
    if power <= 0:
        return 1.0
    n = len(off)
    turned = np.fft.rfft(off, 2 * n)
    share = np.fft.irfft(turned * np.conj(turned))[:n] / power
    below = np.flatnonzero(share <= 0)
    return max(1.0, DETRENDED * float(1 + 2 * share[1 : below[0] if len(below) else n].sum()))


def _both_ways(runs: tuple[RunFound, ...]) -> BothWays | None:
    """The mean of the means of the two courses that most way was made on."""
    if len(runs) < 2:
        return None
    lead = max(runs, key=lambda r: r.way)
    there = [r for r in runs if _between(r.course, lead.course) <= OPPOSITE]
    back = [r for r in runs if _between(r.course, lead.course + 180) <= OPPOSITE]
    if not back:
        return None
    means = [sum(r.speed for r in g) / len(g) for g in (there, back)]
    half = 0.5 * math.hypot(*(math.sqrt(sum(r.half**2 for r in g)) / len(g) for g in (there, back)))
    return BothWays(sum(means) / 2, half, len(there), len(back))


def _between(one: Degrees, other: Degrees) -> Degrees:
    return abs((one - other + 180) % 360 - 180)
