"""Tracks in: GPX 1.0 and 1.1 (topografix.com), and tables of times and places, or times and speeds, as CSV."""

import csv
import io
import re
from collections.abc import Sequence
from dataclasses import replace
from datetime import UTC, datetime

import numpy as np
from lxml import etree

from yarekeel.core.errors import InvalidInput
from yarekeel.core.geometry.mesh import Floats
from yarekeel.core.trials.track import Track, laid_out, track_of

LARGEST_FILE = 40_000_000
"""Bytes: a day at ten points a second."""
MOST_POINTS = 500_000
_COLUMNS = (
    ("time", re.compile(r"time|clock|date|seconds|^t$", re.IGNORECASE)),
    ("lat", re.compile(r"lat", re.IGNORECASE)),
    ("lon", re.compile(r"lon|lng", re.IGNORECASE)),
    ("speed", re.compile(r"speed|velocity", re.IGNORECASE)),
)
_SPEED_UNITS = (("km/h", 1 / 3.6), ("kmh", 1 / 3.6), ("kn", 1852 / 3600), ("mph", 0.44704), ("ft/s", 0.3048))
"""In a header; metres a second for none."""


def read(data: bytes, name: str) -> tuple[Track, datetime | None]:
    """A track and when it begins (None where its times are no clock's). Raises InvalidInput for what is no track."""
    if len(data) > LARGEST_FILE:
        raise InvalidInput("track", f"A track is at most {LARGEST_FILE // 1_000_000} MB.")
    is_table = name.lower().endswith((".csv", ".txt", ".tsv")) or not data.lstrip().startswith(b"<")
    times, first, places = _table(data) if is_table else _gpx(data)
    if len(times) > MOST_POINTS:
        raise InvalidInput("track", f"A track has at most {MOST_POINTS} points; this has {len(times)}.")
    if len(places) == 2:
        return track_of(times, *places), first
    speed = np.where(np.isfinite(places[0]) & (np.abs(places[0]) < 1e3), places[0], np.nan)
    usable = np.isfinite(times) & np.isfinite(speed)
    if usable.sum() < 3:
        raise InvalidInput("track", "This table has no rows with a time and a speed.")
    t, v = times[usable], speed[usable]
    steps = np.maximum(np.diff(t), 0.0)
    way = np.concatenate([[0.0], np.cumsum((v[1:] + v[:-1]) / 2 * steps)])
    return replace(laid_out(t, np.zeros(len(t)), way, points=len(times)), has_places=False), first


def _gpx(data: bytes) -> tuple[Floats, datetime | None, tuple[Floats, ...]]:
    parser = etree.XMLParser(resolve_entities=False, no_network=True, load_dtd=False, huge_tree=True, collect_ids=False)
    try:
        root = etree.fromstring(data, parser)
    except (etree.XMLSyntaxError, ValueError):
        raise InvalidInput("track", "This is not a track: it is not whole XML.") from None
    if root is None or etree.QName(root).localname != "gpx":
        raise InvalidInput("track", "This is not a track: its file is not GPX.")
    names = {"g": etree.QName(root).namespace or ""}
    point, stamp = ("//g:trkpt", "g:time") if names["g"] else ("//trkpt", "time")

    def each(path: str) -> list[str]:
        return list(etree.XPath(path, namespaces=names if names["g"] else None, smart_strings=False)(root))

    lat, lon, texts = each(f"{point}/@lat"), each(f"{point}/@lon"), each(f"{point}/{stamp}/text()")
    count = int(float(str(root.xpath(f"count({point})", namespaces=names if names["g"] else None))))
    if not count:
        raise InvalidInput("track", "This GPX file has no track in it (routes and waypoints tell no speed).")
    if not texts:
        raise InvalidInput("track", "This track has no times, so it tells no speed.")
    if not len(lat) == len(lon) == len(texts) == count:  # some points lack something: one by one
        points = root.xpath(point, namespaces=names if names["g"] else None)
        lat, lon = [p.get("lat", "") for p in points], [p.get("lon", "") for p in points]
        texts = [next((c.text or "" for c in p if etree.QName(c).localname == "time"), "") for p in points]
    times, first = _clock(texts)
    return times, first, (_numbers(lat), _numbers(lon))


def _table(data: bytes) -> tuple[Floats, datetime | None, tuple[Floats, ...]]:
    try:
        text = data.decode("utf-8-sig")
    except UnicodeDecodeError:
        raise InvalidInput("track", "This is not a track: it is neither GPX nor a table of text.") from None
    head = text[:2000].splitlines()[0] if text.strip() else ""
    mark = next((m for m in ("\t", ";", ",") if m in head), ",")
    try:
        rows = [r for r in csv.reader(io.StringIO(text), delimiter=mark) if r]
    except csv.Error:
        raise InvalidInput("track", "This table cannot be read: a cell in it does not end.") from None
    if len(rows) < 2:
        raise InvalidInput("track", "This table has no rows; its first row names the columns: time, latitude, longitude.")
    found = {name: next((k for k, cell in enumerate(rows[0]) if shape.search(cell)), None) for name, shape in _COLUMNS}
    wanted = ("lat", "lon") if found["lat"] is not None and found["lon"] is not None else ("speed",)
    if found["time"] is None or found[wanted[0]] is None:
        raise InvalidInput("track", "The first row names the columns: time, and latitude and longitude, or speed.")

    def column(name: str) -> list[str]:
        k = found[name]
        assert k is not None
        return [r[k] if k < len(r) else "" for r in rows[1:]]

    times, first = _clock(column("time"))
    values = tuple(_numbers(column(name)) for name in wanted)
    if wanted == ("speed",):
        title = rows[0][found["speed"] or 0].lower()
        values = (values[0] * next((share for unit, share in _SPEED_UNITS if unit in title), 1.0),)
    return times, first, values


def _numbers(texts: Sequence[str | None]) -> Floats:
    def number(text: str | None) -> float:
        try:
            return float((text or "").strip().replace(",", ".")[:40])
        except ValueError:
            return float("nan")

    try:
        return np.array(texts, dtype=np.float64)
    except (ValueError, TypeError):
        return np.array([number(t) for t in texts])


def _clock(texts: list[str]) -> tuple[Floats, datetime | None]:
    """Seconds from the first time that is one, and that moment, where times are a clock's; plain seconds else."""

    def moment(text: str) -> float:
        try:
            when = datetime.fromisoformat(text.strip()[:40])
            return (when if when.tzinfo else when.replace(tzinfo=UTC)).timestamp()
        except (ValueError, OverflowError, OSError):
            return float("nan")

    sample = next((t for t in texts if t.strip()), "")
    if re.fullmatch(r"\s*[\d.,]+(e\d+)?\s*", sample, re.IGNORECASE):
        times = _numbers(texts)
        return times, None
    try:  # all written alike, in UTC: at once
        times = np.array([t[:-1] if t[-1] == "Z" else "?" for t in texts], "datetime64[us]").astype(np.int64) / 1e6
    except (ValueError, IndexError):
        times = np.array([moment(t) if t else float("nan") for t in texts])
    known = times[np.isfinite(times)]
    if not len(known):
        return times, None
    first = float(known[0])
    try:
        return times - first, datetime.fromtimestamp(first, UTC)
    except (ValueError, OverflowError, OSError):
        return times - first, None
