"""Instruments on the bench: what reads a real one's text, and seeded stand-ins that give the same readings a real one would."""
