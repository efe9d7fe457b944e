"""What is aboard, and the weigh-in."""
