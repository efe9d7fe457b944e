"""Drive: its view value and templates."""
