"""What the water asks of the motor: friction line and hull speed."""
