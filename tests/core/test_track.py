"""Tracks: made from boats of known speed, with what receivers and clocks do to them."""

import math
import time
from datetime import UTC, datetime, timedelta

import numpy as np
import pytest
from scipy.ndimage import gaussian_filter1d

from yarekeel.core.errors import InvalidInput
from yarekeel.core.trials.track import EARTH, best_of, laid_out, read
from yarekeel.exchange import gpx, tracks
from yarekeel.stages.underway.run import Logged

START = datetime(2026, 5, 14, 9, 0, tzinfo=UTC)


def day(seed: int, speed: float = 2.0, current: float = 0.0, hertz: float = 5.0, noise: float = 0.25) -> tuple:
    """There and back between stops: times, east, north, with a receiver's wandering noise (correlated over some seconds)."""
    rng = np.random.default_rng(seed)
    times = np.arange(0, 150, 1 / hertz)
    velocity = np.select([(times > 15) & (times < 55), (times > 75) & (times < 115)], [speed + current, -(speed - current)], 0.0)
    east = np.cumsum(velocity) / hertz

    def wander() -> np.ndarray:
        drawn = gaussian_filter1d(rng.normal(size=len(times)), 2 * hertz)
        return noise * drawn / drawn.std() + rng.normal(0, 0.02, len(times))

    return times, east + wander(), wander()


def as_gpx(times, east, north, *, clock=lambda k, t: t, without: str = "") -> bytes:
    points = []
    for k, (t, x, y) in enumerate(zip(times, east, north, strict=True)):
        lat, lon = 52 + math.degrees(y / EARTH), 5 + math.degrees(x / EARTH / math.cos(math.radians(52)))
        stamp = (START + timedelta(seconds=float(clock(k, t)))).isoformat(timespec="milliseconds")
        inside = "" if without == "time" else f"<time>{stamp.replace('+00:00', 'Z')}</time>"
        points.append(f'<trkpt lat="{lat:.9f}" lon="{lon:.9f}"><ele>3</ele>{inside}</trkpt>')
    return f'<gpx version="1.1" xmlns="http://www.topografix.com/GPX/1/1"><trk><trkseg>{"".join(points)}</trkseg></trk></gpx>'.encode()


def test_steady_speed_within_one_percent_and_as_often_as_its_band_says():
    off, held = [], 0
    for seed in range(60):
        found = read(laid_out(*day(seed)))
        assert len(found.runs) == 2
        assert len(found.stops) >= 2
        off += [r.speed / 2.0 - 1 for r in found.runs]
        held += sum(abs(r.speed - 2.0) <= r.half for r in found.runs)
    assert abs(np.mean(off)) < 0.003
    assert np.mean(np.abs(off)) < 0.01
    assert held / 120 >= 0.9


def test_both_ways_lose_the_current():
    found = read(laid_out(*day(3, current=0.4)))
    assert found.both_ways.speed == pytest.approx(2.0, rel=0.01)
    assert (found.both_ways.there, found.both_ways.back) == (1, 1)
    assert abs(found.runs[0].course - 90) < 3
    assert abs(found.runs[1].course - 270) < 3
    assert read(laid_out(*(v[:350] for v in day(3)))).both_ways is None


def test_best_five_seconds_against_a_search_over_every_moment():
    rng = np.random.default_rng(7)
    for _ in range(20):
        times = np.cumsum(rng.uniform(0.2, 1.5, 80))
        way = np.concatenate([[0.0], np.cumsum(rng.uniform(0, 3, 79))])
        best, at = best_of(times, way)
        tried = np.linspace(times[0], times[-1] - 5, 40_001)
        gained = np.interp(tried + 5, times, way) - np.interp(tried, times, way)
        assert best >= gained.max() / 5 - 1e-12
        assert best == pytest.approx(gained.max() / 5, rel=2e-4)
        assert np.interp(at + 5, times, way) - np.interp(at, times, way) == pytest.approx(5 * best)
    assert best_of(np.array([0.0, 4.0]), np.array([0.0, 9.0])) is None


def test_gaps_bad_times_and_jumps_are_left_out_and_counted():
    times, east, north = (np.array(v) for v in day(1, noise=0.05))
    plain = read(laid_out(times, east, north))
    jumped = east.copy()
    jumped[190] += 5000
    back = times.copy()
    back[300] = 3.0
    keep = (times < 40) | (times > 49)
    track = laid_out(back[keep], jumped[keep], north[keep])
    assert (track.jumps, track.bad_times, track.gaps) == (1, 1, 1)
    found = read(track)
    assert max(found.speeds) < 3
    assert found.best == pytest.approx(plain.best, rel=0.05)
    with pytest.raises(InvalidInput, match="too far apart"):
        laid_out(np.array([0.0, 1.0, 900.0, 901.0]), np.zeros(4), np.zeros(4))


def test_a_file_goes_in_as_it_was():
    times, east, north = day(2)
    track, first = tracks.read(as_gpx(times, east, north), "day.gpx")
    assert first == START
    assert read(track).runs[0].speed == pytest.approx(read(laid_out(times, east, north)).runs[0].speed, rel=1e-4)
    rows = [
        Logged(time=float(t), east=float(x), north=float(y), speed=0, current=0, trim_deg=0, used=0)
        for t, x, y in zip(times, east, north, strict=True)
    ]
    ours, _ = tracks.read(gpx.write("a run", rows).encode(), "run.gpx")
    assert read(ours).runs[0].speed == pytest.approx(read(track).runs[0].speed, rel=1e-3)


def test_points_without_a_time_are_left_out():
    times, east, north = day(2)
    whole = as_gpx(times, east, north)
    first = whole.index(b"<time>")
    some = whole[:first] + whole[whole.index(b"</time>") + 7 :]
    assert tracks.read(some, "some.gpx")[0].bad_times == 1
    assert sum(len(s.times) for s in tracks.read(some, "some.gpx")[0].stretches) == len(times) - 1


def test_tables_of_places_and_of_speeds():
    times, east, north = day(4)
    lat, lon = 52 + np.degrees(north / EARTH), 5 + np.degrees(east / EARTH / math.cos(math.radians(52)))
    rows = "\n".join(f"{t:.2f},{a:.9f},{o:.9f}" for t, a, o in zip(times, lat, lon, strict=True))
    track, first = tracks.read(f"Time (s),Latitude,Longitude\n{rows}".encode(), "a.csv")
    assert first is None
    assert read(track).runs[0].speed == pytest.approx(read(laid_out(times, east, north)).runs[0].speed, rel=1e-4)
    steady = "\n".join(f"{k};7.2" for k in range(60))
    assert read(tracks.read(f"time;speed km/h\n{steady}".encode(), "b.csv")[0]).runs[0].speed == pytest.approx(2.0)


def test_six_hours_at_ten_points_a_second_in_time():
    times = np.arange(0, 6 * 3600, 0.1)
    east = np.cumsum(np.where(times % 240 < 120, 2.0, -2.0)) * 0.1
    data = as_gpx(times, east, np.zeros(len(times)))
    begun = time.process_time()
    track, _ = tracks.read(data, "long.gpx")
    found = read(track)
    assert time.process_time() - begun < 3.5  # 1.6 s alone on the machine
    assert len(found.runs) == 100  # as many as are shown
    assert found.best == pytest.approx(2.0, rel=1e-3)


@pytest.mark.parametrize(
    ("data", "name", "said"),
    [
        (b"<gpx", "a.gpx", "not whole XML"),
        (b"<kml></kml>", "a.gpx", "not GPX"),
        (b"<gpx></gpx>", "a.gpx", "no track in it"),
        (as_gpx(*(v[:9] for v in day(0)), without="time"), "a.gpx", "no times"),
        (as_gpx(*(v[:50] for v in day(0)), clock=lambda k, t: -t), "a.gpx", "run backwards"),
        (as_gpx(*(v[:9] for v in day(0))).replace(b"T09:00:0", b"at "), "a.gpx", "no points with a time"),
        (b"\xff\xfe\x00", "a.csv", "neither GPX nor a table"),
        (b"", "a.csv", "no rows"),
        (b"a,b\n1,2\n", "a.csv", "names the columns"),
        (b"time,speed\nx,y\n1,z\n", "a.csv", "no rows with a time"),
        (b"time,lat,lon\n1,95,3\n2,95,3\n3,95,3\n", "a.csv", "no points"),
        (b'<!DOCTYPE gpx [<!ENTITY a "b">]><gpx>&a;</gpx>', "a.gpx", "no track in it"),
    ],
)
def test_what_is_no_track_is_one_sentence(data, name, said):
    with pytest.raises(InvalidInput, match=said):
        tracks.read(data, name)
