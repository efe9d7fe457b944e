"""What every page shares: the frame, the ladder, fields, readouts and findings."""
