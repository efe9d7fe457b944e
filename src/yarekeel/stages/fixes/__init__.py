"""What to change after a trial, each candidate priced."""
