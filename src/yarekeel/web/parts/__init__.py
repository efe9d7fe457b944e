"""The parts bin's own pages: the yard's parts, one being changed."""
