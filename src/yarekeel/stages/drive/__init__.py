"""What pushes the boat."""
