"""How many examples the property tests try: the same ones at every run, or many new ones with ``make fuzz``."""

import os

from hypothesis import settings

MORE = int(os.environ.get("YAREKEEL_FUZZ", "1"))
"""Times the usual number of examples."""
settings.register_profile("same", derandomize=True)
settings.register_profile("new", derandomize=False, print_blob=True)
settings.load_profile("same" if MORE == 1 else "new")


def examples(usual: int) -> settings:
    """Settings for a property test that usually tries so many examples."""
    return settings(max_examples=usual * MORE, deadline=None)
