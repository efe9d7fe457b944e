"""Shape: its view value and templates."""
