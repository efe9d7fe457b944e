"""Closed triangle meshes: checks, measures, sections, outlines, the union of bodies, and the hull families."""
