"""How hard the boat comes back, from how far over, and from what."""
