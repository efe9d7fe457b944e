"""Thrust, battery and thrust line."""
