"""One way a file. ``register`` finds those that end in a row ``CHANGE``."""
