"""Tracks as GPX 1.1 (topografix.com, 2004): the virtual pond's log, with speed, current and trim in each point's extensions."""

import math
from collections.abc import Sequence
from datetime import UTC, datetime, timedelta
from xml.etree import ElementTree

from yarekeel.stages.underway.run import Logged

POND = (52.0, 5.0)
"""Latitude and longitude of the made-up pond's jetty, in degrees."""
EARTH = 6_371_000.0
START = datetime(2026, 5, 1, 9, 0, tzinfo=UTC)


def write(name: str, rows: Sequence[Logged]) -> str:
    """A track of the rows, each place turned into degrees about the pond's jetty."""
    root = ElementTree.Element("gpx", {"version": "1.1", "creator": "Yare Keel", "xmlns": "http://www.topografix.com/GPX/1/1"})
    track = ElementTree.SubElement(root, "trk")
    ElementTree.SubElement(track, "name").text = name
    segment = ElementTree.SubElement(track, "trkseg")
    for row in rows:
        lat = POND[0] + math.degrees(row.north / EARTH)
        lon = POND[1] + math.degrees(row.east / EARTH / math.cos(math.radians(POND[0])))
        point = ElementTree.SubElement(segment, "trkpt", {"lat": f"{lat:.8f}", "lon": f"{lon:.8f}"})
        moment = START + timedelta(seconds=row.time)
        ElementTree.SubElement(point, "time").text = moment.isoformat(timespec="milliseconds").replace("+00:00", "Z")
        extras = ElementTree.SubElement(point, "extensions")
        for key, value in (("speed", row.speed), ("current_a", row.current), ("trim_deg", row.trim_deg)):
            ElementTree.SubElement(extras, key).text = f"{value:.3f}"
    ElementTree.indent(root)
    return ElementTree.tostring(root, encoding="unicode", xml_declaration=True)
