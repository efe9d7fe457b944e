"""Further sums that a family or an estimate can give of itself."""

from dataclasses import dataclass


@dataclass(frozen=True, slots=True)
class Fact:
    """A named value in SI units; ``units_kind`` is the units' word for it."""

    label: str
    value: float
    units_kind: str
    note: str
