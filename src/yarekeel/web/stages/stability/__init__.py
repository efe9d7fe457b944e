"""Stability: its view value and templates."""
