"""What the water was like that a boat ran in, as far as it changes how fast it is."""

import math
from dataclasses import dataclass

from yarekeel.core.quantities import Metres, MetresPerSecond


@dataclass(frozen=True, slots=True)
class Weather:
    """Wind that runs were made up and down in, evenly, and how deep the water was."""

    wind: MetresPerSecond = 0.0
    depth: Metres = math.inf

    @property
    def winds(self) -> tuple[MetresPerSecond, ...]:
        """Against and with it."""
        return (self.wind, -self.wind) if self.wind else (0.0,)


CALM = Weather()
