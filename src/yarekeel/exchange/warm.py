"""Loaded once by the process that the reading ones are copied from: whatever takes long to load is at hand in every copy."""

import manifold3d
import scipy.sparse.csgraph
import trimesh

from yarekeel.exchange import boat_file, reading

boat_file.loads(
    '{"format": "yare-keel-boat", "version": 8, "name": "x", "water": {}, "weights": [], "bodies": [{"name": "x", "shape": '
    '{"kind": "box", "length_m": 1, "beam_m": 1, "depth_m": 1}}]}'
)

__all__ = ["manifold3d", "reading", "scipy", "trimesh"]
