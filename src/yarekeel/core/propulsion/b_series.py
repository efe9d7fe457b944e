"""Thrust and torque of the Wageningen B series of water propellers, from the polynomials fitted to its tank tests.

K_T = sum C J^s (P/D)^t (A_E/A_0)^u Z^v, and K_Q likewise, at a Reynolds number near 2e6 at three quarters of the radius.
"""

import numpy as np

from yarekeel.core.findings import Finding
from yarekeel.core.formulas import formula
from yarekeel.core.quantities import Floats, Ratio
from yarekeel.core.sources import B_SERIES

BLADES = (2, 7)
AREA: tuple[Ratio, Ratio] = (0.30, 1.05)
PITCH: tuple[Ratio, Ratio] = (0.5, 1.4)
"""Expanded area over disk area and pitch over diameter between which the series was tested."""
REYNOLDS: Ratio = 2e6
"""At three quarters of the radius, to which the polynomials were reduced."""
# Each row: C, and the powers of J, P/D, A_E/A_0 and Z.
THRUST = np.array(
    [
        (0.00880496, 0, 0, 0, 0), (-0.204554, 1, 0, 0, 0), (0.166351, 0, 1, 0, 0), (0.158114, 0, 2, 0, 0),
        (-0.147581, 2, 0, 1, 0), (-0.481497, 1, 1, 1, 0), (0.415437, 0, 2, 1, 0), (0.0144043, 0, 0, 0, 1),
        (-0.0530054, 2, 0, 0, 1), (0.0143481, 0, 1, 0, 1), (0.0606826, 1, 1, 0, 1), (-0.0125894, 0, 0, 1, 1),
        (0.0109689, 1, 0, 1, 1), (-0.133698, 0, 3, 0, 0), (0.00638407, 0, 6, 0, 0), (-0.00132718, 2, 6, 0, 0),
        (0.168496, 3, 0, 1, 0), (-0.0507214, 0, 0, 2, 0), (0.0854559, 2, 0, 2, 0), (-0.0504475, 3, 0, 2, 0),
        (0.010465, 1, 6, 2, 0), (-0.00648272, 2, 6, 2, 0), (-0.00841728, 0, 3, 0, 1), (0.0168424, 1, 3, 0, 1),
        (-0.00102296, 3, 3, 0, 1), (-0.0317791, 0, 3, 1, 1), (0.018604, 1, 0, 2, 1), (-0.00410798, 0, 2, 2, 1),
        (-0.000606848, 0, 0, 0, 2), (-0.0049819, 1, 0, 0, 2), (0.0025983, 2, 0, 0, 2), (-0.000560528, 3, 0, 0, 2),
        (-0.00163652, 1, 2, 0, 2), (-0.000328787, 1, 6, 0, 2), (0.000116502, 2, 6, 0, 2), (0.000690904, 0, 0, 1, 2),
        (0.00421749, 0, 3, 1, 2), (0.0000565229, 3, 6, 1, 2), (-0.00146564, 0, 3, 2, 2),
    ]
)  # fmt: skip
TORQUE = np.array(
    [
        (0.00379368, 0, 0, 0, 0), (0.00886523, 2, 0, 0, 0), (-0.032241, 1, 1, 0, 0), (0.00344778, 0, 2, 0, 0),
        (-0.0408811, 0, 1, 1, 0), (-0.108009, 1, 1, 1, 0), (-0.0885381, 2, 1, 1, 0), (0.188561, 0, 2, 1, 0),
        (-0.00370871, 1, 0, 0, 1), (0.00513696, 0, 1, 0, 1), (0.0209449, 1, 1, 0, 1), (0.00474319, 2, 1, 0, 1),
        (-0.00723408, 2, 0, 1, 1), (0.00438388, 1, 1, 1, 1), (-0.0269403, 0, 2, 1, 1), (0.0558082, 3, 0, 1, 0),
        (0.0161886, 0, 3, 1, 0), (0.00318086, 1, 3, 1, 0), (0.015896, 0, 0, 2, 0), (0.0471729, 1, 0, 2, 0),
        (0.0196283, 3, 0, 2, 0), (-0.0502782, 0, 1, 2, 0), (-0.030055, 3, 1, 2, 0), (0.0417122, 2, 2, 2, 0),
        (-0.0397722, 0, 3, 2, 0), (-0.00350024, 0, 6, 2, 0), (-0.0106854, 3, 0, 0, 1), (0.00110903, 3, 3, 0, 1),
        (-0.000313912, 0, 6, 0, 1), (0.0035985, 3, 0, 1, 1), (-0.00142121, 0, 6, 1, 1), (-0.00383637, 1, 0, 2, 1),
        (0.0126803, 0, 2, 2, 1), (-0.00318278, 2, 3, 2, 1), (0.00334268, 0, 6, 2, 1), (-0.00183491, 1, 1, 0, 2),
        (0.000112451, 3, 2, 0, 2), (-0.0000297228, 3, 6, 0, 2), (0.000269551, 1, 0, 1, 2), (0.00083265, 2, 0, 1, 2),
        (0.00155334, 0, 2, 1, 2), (0.000302683, 0, 6, 1, 2), (-0.0001843, 0, 0, 2, 2), (-0.000425399, 0, 3, 2, 2),
        (0.0000869243, 3, 3, 2, 2), (-0.0004659, 0, 6, 2, 2), (0.0000554194, 1, 6, 2, 2),
    ]
)  # fmt: skip


@formula("K_T = sum C J^s (P/D)^t (A_E/A_0)^u Z^v", B_SERIES, "2 to 7 blades, A_E/A_0 0.30 to 1.05, P/D 0.5 to 1.4, Re 2e6")
def thrust_coefficient(advance: Floats, pitch_ratio: Ratio, area_ratio: Ratio, blades: int) -> Floats:
    """K_T at advance ratios J (n,)."""
    return _polynomial(THRUST, advance, pitch_ratio, area_ratio, blades)


@formula("K_Q = sum C J^s (P/D)^t (A_E/A_0)^u Z^v", B_SERIES, "2 to 7 blades, A_E/A_0 0.30 to 1.05, P/D 0.5 to 1.4, Re 2e6")
def torque_coefficient(advance: Floats, pitch_ratio: Ratio, area_ratio: Ratio, blades: int) -> Floats:
    """K_Q at advance ratios J (n,)."""
    return _polynomial(TORQUE, advance, pitch_ratio, area_ratio, blades)


def range_findings(pitch_ratio: Ratio, area_ratio: Ratio, blades: int) -> tuple[Finding, ...]:
    """What of a propeller lies outside the series, each as a finding."""
    parts: tuple[tuple[str, Ratio, tuple[Ratio, Ratio]], ...] = (
        ("pitch over diameter", pitch_ratio, PITCH),
        ("blade area over disk area", area_ratio, AREA),
        ("blades", blades, BLADES),
    )
    return tuple(
        Finding(
            "drive.outside_series",
            "near",
            "{what} of {got:ratio} is outside the tested series",
            "It was tested from {low:ratio} to {high:ratio}; the pull is taken from the series' edge and its band is wider.",
            source=B_SERIES,
            values={"what": what.capitalize(), "got": got, "low": low, "high": high},
        )
        for what, got, (low, high) in parts
        if not low <= got <= high
    )


def _polynomial(terms: Floats, advance: Floats, pitch_ratio: Ratio, area_ratio: Ratio, blades: int) -> Floats:
    fixed = terms[:, 0] * pitch_ratio ** terms[:, 2] * area_ratio ** terms[:, 3] * float(blades) ** terms[:, 4]
    by_power = np.bincount(terms[:, 1].astype(int), weights=fixed)
    return np.asarray(np.polynomial.polynomial.polyval(advance, by_power), dtype=np.float64)
