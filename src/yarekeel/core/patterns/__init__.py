"""Patterns: what is cut at full size to build a hull from."""
