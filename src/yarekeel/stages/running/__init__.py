"""A boat under way for the stages that need it: its planing bottom read off the mesh, its waves, and its resistance over speed."""
