"""``yare-keel speed`` and ``yare-keel run``: what a boat does under way."""

import json
import math
from pathlib import Path
from typing import Annotated, Any

import numpy as np
import typer

from yarekeel.core.errors import InvalidInput
from yarekeel.core.running.following import Leg
from yarekeel.exchange import bundle, gpx
from yarekeel.stages.design.craft import Craft
from yarekeel.stages.drive import match
from yarekeel.stages.running.resistance import PARTS
from yarekeel.stages.underway import flip, run, speed
from yarekeel.stages.underway.run import RunAssessment

EVERY = 1.0


def speeds(craft_file: Path, asked: list[float], as_json: bool) -> None:
    """Print resistance, its parts, trim and thrust at the speeds asked."""
    craft = bundle.load(craft_file)
    points = speed.points(craft, np.array(asked))
    found = match.assess(craft)
    top = _top(craft, found)
    if as_json:
        print(json.dumps({"points": [_point(p) for p in points], **top}, ensure_ascii=False, indent=1, allow_nan=False))
        return
    print("   speed      resistance   friction     wave  planing      air     trim    thrust")
    for p in points:
        if p.resistance is None or p.trim is None or p.band is None:
            print(f"{p.speed:6.2f} m/s  no attitude balances it")
            continue
        parts = "".join(f"{p.parts[n]:9.2f}" for n in ("friction", "wave", "planing", "air"))
        thrust = "" if p.thrust is None else f"{p.thrust:8.2f} N"
        print(f"{p.speed:6.2f} m/s{p.resistance:9.2f} ±{p.band:.2f} N{parts}{math.degrees(p.trim):8.2f}°{thrust}")
    said = (
        "top speed {top_speed_ms:.2f} m/s (at least {low:.2f})"
        if top["top_speed_ms"] and top["high"] is None
        else SAID[top["top_speed_is"]]
    )
    print(said.format(**{k: v for k, v in top.items() if isinstance(v, float)}))


SAID = {
    "balance": "top speed {top_speed_ms:.2f} m/s ({low:.2f} to {high:.2f})",
    "beyond_law": "faster than {low:.2f} m/s; no law here holds beyond",
    "no_attitude": "no attitude balances it beyond {low:.2f} m/s",
    "flips": "it can flip from {high:.2f} m/s",
    "no_drive": "top speed not known: no drive whose thrust is known at speed",
}


def _top(craft: Craft, found: match.Match | None) -> dict[str, Any]:
    """The top speed, the ends of its band, and what it is; null for what there is none of."""
    if found is None:
        return {"top_speed_ms": None, "low": None, "high": None, "top_speed_is": "no_drive"}
    flips = flip.assess(craft)
    if flips is not None and math.isfinite(flips.calm) and flips.calm < found.top.speed:
        return {"top_speed_ms": None, "low": None, "high": flips.calm, "top_speed_is": "flips"}
    if found.top_is != "balance":
        return {"top_speed_ms": None, "low": found.top.speed, "high": None, "top_speed_is": found.top_is}
    high = found.top_high if math.isfinite(found.top_high) else None
    return {"top_speed_ms": found.top.speed, "low": found.top_low, "high": high, "top_speed_is": "balance"}


def _point(p: speed.SpeedPoint) -> dict[str, Any]:
    rounded = {f"{name}_n": p.parts[name] for name in PARTS}
    return {
        "speed_ms": p.speed,
        "resistance_n": p.resistance,
        "band_n": p.band,
        "parts": rounded,
        "trim_deg": None if p.trim is None else math.degrees(p.trim),
        "sinkage_m": None if p.rise is None else -p.rise,
        "thrust_n": p.thrust,
        "findings": [f.code for f in p.findings],
    }


def course_of(path: Path) -> tuple[Leg, ...]:
    """Legs from a course file: {"legs": [{"seconds": 10, "throttle": 1.0, "wind_ms": 0, "back": false}]}. Raises InvalidInput."""
    try:
        data = json.loads(path.read_text(encoding="utf-8-sig"))
        legs = [
            (float(leg["seconds"]), float(leg["throttle"]), float(leg.get("wind_ms", 0.0)), leg.get("back", False) is True)
            for leg in data["legs"]
        ]
    except OSError as error:
        raise InvalidInput("course", f"{path} cannot be read: {error.strerror or error}.") from None
    except (ValueError, TypeError, KeyError, AttributeError, RecursionError):
        raise InvalidInput("course", 'A course is {"legs": [{"seconds": 10, "throttle": 1.0, "wind_ms": 0}, …]}.') from None
    return run.checked_course(tuple(run.checked_leg(Leg(*leg)) for leg in legs))


def followed(craft_file: Path, course: Path, seed: int | None, gpx_file: Path | None, as_json: bool) -> None:
    """Print a run second by second; with a seed the virtual pond's noisy log of it, as GPX too."""
    craft = bundle.load(craft_file)
    found = run.assess(craft, course_of(course))
    if found is None:
        raise InvalidInput("boat", "This boat does not float level enough to run, or its drive is not known at speed.")
    rows = _rows(found, seed)
    if gpx_file is not None:
        log = run.logged(found, seed or 0)
        gpx_file.write_text(gpx.write(craft.design.name, log), encoding="utf-8")
    if as_json:
        print(json.dumps({"points": rows, "stand_in": seed is not None}, indent=1, allow_nan=False))
        return
    print("    time     speed  distance   current     trim")
    for r in rows:
        print(f"{r['time_s']:7.1f} s{r['speed_ms']:7.2f} m/s{r['distance_m']:8.1f} m{r['current_a']:8.1f} A{r['trim_deg']:8.2f}°")


def _rows(found: RunAssessment, seed: int | None) -> list[dict[str, float]]:
    motion = found.motion
    if seed is not None:
        return [
            {
                "time_s": r.time,
                "speed_ms": r.speed,
                "distance_m": math.hypot(r.north, r.east),
                "current_a": r.current,
                "trim_deg": r.trim_deg,
            }
            for r in run.logged(found, seed, EVERY)
        ]
    rows = []
    for t in np.arange(0.0, float(motion.time[-1]) + 1e-9, EVERY).tolist():
        v, x, i, trim = (float(np.interp(t, motion.time, a)) for a in (motion.speed, motion.distance, motion.current, found.trim))
        rows.append(_row(t, v, x, i, math.degrees(trim)))
    return rows


def _row(time: float, speed: float, distance: float, current: float, trim: float) -> dict[str, float]:
    return {"time_s": time, "speed_ms": speed, "distance_m": distance, "current_a": current, "trim_deg": trim}


SeedOption = Annotated[int | None, typer.Option("--seed", min=0, help="A seeded stand-in for the water: a noisy log of the run.")]
GpxOption = Annotated[Path | None, typer.Option("--gpx", dir_okay=False, help="Write the log as a GPX track.")]
CourseArgument = Annotated[Path, typer.Argument(metavar="COURSE.json", help="Legs of seconds and throttle.")]
