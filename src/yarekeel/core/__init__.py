"""The trade and its sums. Pure: numpy and the standard library (manifold3d where bodies are united).

SI units, radians, frozen values, read-only arrays. Axes: origin at the aftmost point of the hull on its
baseline and centreline, x forward, y to port, z up. Heel positive = starboard side down; trim positive = bow up.
"""
