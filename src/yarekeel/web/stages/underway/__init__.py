"""Under way: its view value and templates."""
