"""Wings in water and in air: lift and drag of a foil, near the surface from below or from above, and of a surface that is deflected."""
