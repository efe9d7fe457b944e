"""What the water does: the flotation kernel, the equilibrium, and the figures read off it."""
