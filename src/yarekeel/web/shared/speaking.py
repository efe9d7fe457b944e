"""In which units a boat is spoken of: what is refused, in those that it is read in; a pull as it was typed."""

import re
from functools import partial

from fastapi import Request
from fastapi.concurrency import run_in_threadpool

from yarekeel.core.errors import SPEAKER
from yarekeel.units import MINUS, NBSP, SYSTEMS, System, plain, unit_for
from yarekeel.web.shared.access import YardDep


async def in_readers_units(request: Request, yard: YardDep) -> None:
    """For every address of a boat: its units are those of all sentences of this request."""
    boat = request.path_params.get("boat_id")
    if not isinstance(boat, int):
        return
    units = yard.units_known.get(boat)
    if units is None:
        units = await run_in_threadpool(yard.units_of, boat)
    if units is not None:
        SPEAKER.set(partial(_said, SYSTEMS[units]))


def _said(system: System, value: float, kind: str) -> str:
    unit = unit_for(value, kind, system)
    shown = value / unit.si
    text = f"{shown:.4g}".replace("-", MINUS) if abs(shown) < MANY else plain(shown, 0)
    return f"{text}{NBSP}{unit.label}"


MANY = 1e4
"""From there on a limit is said in whole units."""
PULLS = {("mm_g", "g"): "mm_gf", ("mm_gf", "N"): "mm_g"}
"""The units that a boat is shown in once a pull was typed in a unit."""


def shown_after(text: str, system: System) -> str:
    """The code of the units that a boat is shown in after a pull was typed so: as it was typed, it comes back."""
    unit = re.sub(r"^[\d\s.,*/+()\-]*", "", text.strip())
    return PULLS.get((system.code, unit), system.code)
