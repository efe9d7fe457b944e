"""One revision of one boat: the aggregate that travels through the stages, and what is built from it."""
