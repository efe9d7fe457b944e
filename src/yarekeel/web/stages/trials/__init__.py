"""Trials: its view value and templates."""
