"""Brief: its view value and templates."""
