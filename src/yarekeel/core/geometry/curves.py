"""Curves through measured points that never go beyond them."""

import numpy as np

from yarekeel.core.geometry.mesh import Floats


def fair(at: Floats, values: Floats, wanted: Floats) -> Floats:
    """A cubic spline through ``values`` (n, k) at ``at`` (n,), read at ``wanted`` (m,), its slopes limited so that between
    two points it stays between their values (J. M. Hyman, SIAM J. Sci. Stat. Comput. 4, 1983, eq. 2.6).

    Where the data are those of a parabola that rises or falls all the way, the parabola is met exactly.
    """
    if len(at) == 2:
        part = ((wanted - at[0]) / (at[1] - at[0]))[:, None]
        return np.asarray(values[0] + part * (values[1] - values[0]))
    from scipy.interpolate import CubicHermiteSpline, CubicSpline  # a third of a second to load, so only for a table of offsets

    slopes = np.asarray(CubicSpline(at, values, axis=0)(at, 1))
    secants = np.diff(values, axis=0) / np.diff(at)[:, None]
    before, after = np.vstack([secants[:1], secants]), np.vstack([secants, secants[-1:]])
    sign = np.sign(before)
    most = 3 * np.minimum(np.abs(before), np.abs(after))
    limited = np.where(np.sign(after) == sign, sign * np.clip(sign * slopes, 0, most), 0.0)
    return np.asarray(CubicHermiteSpline(at, values, limited, axis=0)(wanted))
