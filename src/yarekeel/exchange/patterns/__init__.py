"""Patterns at full size, written as DXF, SVG and PDF. All in millimetres."""
