"""What the water said, beside what was predicted."""
