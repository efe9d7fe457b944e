"""Weights: its view value and templates."""
