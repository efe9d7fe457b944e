"""Two revisions side by side."""
