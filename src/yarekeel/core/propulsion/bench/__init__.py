"""The thrust bench: a rig with its arms (``rig``), a sheet of readings (``sheet``), what is wrong with them and the curves through
the rest (``reading``, ``curves``)."""
