"""The one judge: a boat's figures against the brief's limits."""

from collections.abc import Callable
from dataclasses import dataclass
from typing import TypeVar

from yarekeel.core.errors import InvalidInput
from yarekeel.core.findings import Severity
from yarekeel.core.hydrostatics.afloat import Afloat
from yarekeel.core.quantities import CubicMetres, Kilograms, Ratio
from yarekeel.stages.design.craft import Craft
from yarekeel.stages.design.limits import Limit, asked_of
from yarekeel.stages.judging.figures import Figures

SINKING: Ratio = -10.0
"""Margin of every limit of a boat that sinks, less what it is too heavy by: a solver then still sees which way is up."""
T = TypeVar("T")


@dataclass(frozen=True, slots=True)
class Judged:
    """A boat against limits: its figures and margins by the limits' codes; ``afloat`` None where it comes to no rest, ``under`` where
    an opening of it lies under the water."""

    limits: tuple[Limit, ...]
    values: dict[str, float]
    margins: dict[str, Ratio]
    unsure: dict[str, float]
    afloat: Afloat | None
    mass: Kilograms
    volume: CubicMetres
    under: bool = False

    @property
    def least(self) -> tuple[Ratio, str]:
        """The limit that is kept by least or missed by most."""
        return min((m, code) for code, m in self.margins.items())

    def standing(self, code: str) -> Severity:
        """How one limit stands."""
        limit = next(row for row in self.limits if row.code == code)
        return limit.severity(self.values.get(code), self.unsure.get(code))

    def _words(self, wanted: Severity) -> tuple[str, ...]:
        return tuple(dict.fromkeys(row.word for row in self.limits if self.standing(row.code) == wanted))

    @property
    def misses(self) -> tuple[str, ...]:
        """The limits that it misses, as they are called."""
        if self.afloat is None:
            return ("floating at all",)
        first = ("staying upright",) if self.afloat.is_unsteady else ()
        return (*first, *self._words("fails"), *(("openings",) if self.under else ()))

    @property
    def nearly(self) -> tuple[str, ...]:
        """Those that it keeps by less than the figure is unsure."""
        return self._words("near")


def judge(figures: Figures, limits: tuple[Limit, ...], *, unsure: bool = False) -> Judged:
    """A boat against limits; with ``unsure`` the bands of its figures are worked out too. Limits that have nothing to judge on this
    boat are left out. Raises InvalidInput where nothing is aboard or the hull cannot be built."""
    craft = figures.craft
    mass, volume = craft.mass, craft.hull.kernel.total_volume
    sinking = SINKING - mass / (volume * craft.density)
    values: dict[str, float] = {}
    margins: dict[str, Ratio] = {}
    kept = []
    for limit in limits:
        value = figures[limit.figure]
        if value is None and figures.rest is not None:
            continue
        kept.append(limit)
        if value is not None:
            values[limit.code] = value
        margins[limit.code] = sinking if value is None else limit.margin(value)
    bands = {row.code: figures.half_width(row.figure) for row in kept} if unsure else {}
    rest = figures.rest
    under = rest is not None and any(rest.attitude.height_of(at) <= 0 for _, at in craft.openings)
    return Judged(limits=tuple(kept), values=values, margins=margins, unsure=bands, afloat=rest, mass=mass, volume=volume, under=under)


def at_rest(craft: Craft) -> tuple[Limit, ...]:
    """What the brief asks of the boat as it lies in the water, and of its motors: all but how it behaves when it is tipped."""
    limits = asked_of(craft.design.brief)
    return tuple(row for row in limits if row.figure not in ("greatest_arm", "range") and not row.code.startswith("test."))


def tried(act: Callable[[], T]) -> T | None:
    """What is worked out; None where the boat cannot be built."""
    try:
        return act()
    except InvalidInput:
        return None


def try_judge(craft: Craft, limits: tuple[Limit, ...]) -> Judged | None:
    """As ``judge``; None where the boat cannot be built."""
    return tried(lambda: judge(Figures(craft), limits))
