"""The set-up and the cutting list as tables."""

from collections.abc import Sequence

from yarekeel.core.patterns.frames import SetUp
from yarekeel.exchange import tables
from yarekeel.exchange.patterns.sheet import MILLIMETRES
from yarekeel.exchange.patterns.sheets import CutList


def _mm(metres: float) -> str:
    return f"{MILLIMETRES * metres:.1f}"


def set_up(rows: Sequence[SetUp]) -> bytes:
    """Where each frame stands, as CSV in millimetres."""
    heads = ["frame", "from_aft_mm", "spacing_mm", "keel_over_strongback_mm", "sheer_over_strongback_mm"]
    return tables.write(heads, [[s.name, *(_mm(v) for v in (s.x, s.spacing, s.keel, s.sheer))] for s in rows]).encode()


def cutting(made: CutList) -> bytes:
    """What is cut from what, as CSV in millimetres: parts by sheet, scarfs, timber."""
    heads = ["what", "from", "turned_deg", "length_mm", "width_mm", "note"]
    rows = []
    for one in made.nested.laid:
        size = one.outline.max(axis=0) - one.outline.min(axis=0)
        rows.append([one.name, f"sheet {one.sheet + 1}", f"{one.turn:.0f}", _mm(float(size[0])), _mm(float(size[1])), ""])
    rows += [[f"scarf in {s.part}", "", "", _mm(s.length), "", f"its middle {_mm(s.at)} mm from the after end"] for s in made.scarfs]
    for s in made.sticks:
        rows.append(
            [s.name, "timber", "", _mm(s.length), "", f"{s.lengths} length{'s' if s.lengths > 1 else ''}, {_mm(s.to_cut)} mm to cut"]
        )
    return tables.write(heads, rows).encode()
