"""What Float shows beside the boat as it floats: one module and its templates a tab. Each has ``view(asked)``."""
