"""Masses, their places, how they are known, and what that uncertainty does."""
