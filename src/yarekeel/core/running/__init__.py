"""A boat under way: every force on it at a speed and an attitude (``laws``, one file a law), the balance of all of them (``balance``), and
the same forces followed in time (``following``)."""
