"""What the boat must do."""
