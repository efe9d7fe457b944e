"""A figure that was found from readings, with its band."""

from dataclasses import dataclass


@dataclass(frozen=True, slots=True)
class Found:
    """A figure and the half width of the band that holds it 19 times in 20.

    ``parts`` say what standard uncertainty each reading makes of that, with its sign, where figures that share readings go on to
    be combined; a figure without any stands by itself, and counts as normal.
    """

    value: float
    half_width: float
    parts: tuple[tuple[str, float], ...] = ()
