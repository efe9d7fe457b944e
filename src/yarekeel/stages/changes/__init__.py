"""What can be altered by an amount, and the least amount that meets the limits."""
