"""What hangs together: the pieces of a graph."""

import numpy as np

from yarekeel.core.geometry.mesh import Ints


def pieces(count: int, one: Ints, other: Ints) -> Ints:
    """The number of the connected piece that each of ``count`` things belongs to, (count,), where ``one`` and ``other`` (n,) are joined."""
    from scipy.sparse import coo_array  # long to load
    from scipy.sparse.csgraph import connected_components

    links = coo_array((np.ones(len(one), dtype=np.int8), (one, other)), shape=(count, count))
    return np.asarray(connected_components(links, directed=False)[1], dtype=np.intp)
