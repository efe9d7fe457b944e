"""Named quantities, so that a signature tells its unit. All are SI floats; angles are radians."""

from typing import Annotated

import numpy as np
from numpy.typing import NDArray

Metres = Annotated[float, "m"]
SquareMetres = Annotated[float, "m2"]
CubicMetres = Annotated[float, "m3"]
MetresFourth = Annotated[float, "m4"]
Kilograms = Annotated[float, "kg"]
KilogramsPerCubicMetre = Annotated[float, "kg/m3"]
KilogramsPerSquareMetre = Annotated[float, "kg/m2"]
Newtons = Annotated[float, "N"]
NewtonMetres = Annotated[float, "N m"]
Radians = Annotated[float, "rad"]
MetreRadians = Annotated[float, "m rad"]
MetresPerSecond = Annotated[float, "m/s"]
Seconds = Annotated[float, "s"]
Hertz = Annotated[float, "1/s"]
Watts = Annotated[float, "W"]
NewtonSeconds = Annotated[float, "N s"]
Joules = Annotated[float, "J"]
Volts = Annotated[float, "V"]
Amperes = Annotated[float, "A"]
Ohms = Annotated[float, "ohm"]
Degrees = Annotated[float, "deg"]
"""The boat file's unit of an angle; the sums work in radians."""
AmpereHours = Annotated[float, "Ah"]
Celsius = Annotated[float, "degC"]
SquareMetresPerSecond = Annotated[float, "m2/s"]
Scalar = Annotated[float, "any"]
"""A number in whatever unit its caller counts."""
Horsepower = Annotated[float, "hp"]
GramsPerKilogram = Annotated[float, "g/kg"]
SquareFeet = Annotated[float, "ft2"]
Ratio = Annotated[float, "1"]
Point = tuple[Metres, Metres, Metres]
Floats = NDArray[np.float64]
Ints = NDArray[np.intp]
