"""What pushing does to it."""
