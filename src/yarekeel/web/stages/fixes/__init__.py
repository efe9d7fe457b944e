"""Fixes: its view value and templates."""
