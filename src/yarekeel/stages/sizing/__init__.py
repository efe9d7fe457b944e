"""How big the boat must be for what the brief asks."""
