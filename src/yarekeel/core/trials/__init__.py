"""What was measured, set beside what was predicted, and what would explain the difference."""
