"""Float: its view value and templates."""
