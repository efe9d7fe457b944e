"""How many examples the property tests try: the same ones at every run, or many new ones with ``make fuzz``."""

import os

from hypothesis import settings

MORE = int(os.environ.get("YAREKEEL_FUZZ", "1"))
"""Times the usual number of examples."""
WHOLE = bool(os.environ.get("YAREKEEL_ALL"))
"""Whether every test goes over all that it could (``make whole``); else some of it, so that a run takes minutes."""
settings.register_profile("same", derandomize=True, deadline=None)  # a busy machine is no fault of what is tried
settings.register_profile("new", derandomize=False, print_blob=True, deadline=None)
settings.load_profile("same" if MORE == 1 else "new")


def examples(usual: int) -> settings:
    """Settings for a property test that tries so many examples when it goes over all."""
    return settings(max_examples=some(usual) * MORE)


def some(whole: int) -> int:
    """How many of so many a test goes over."""
    return whole if WHOLE else max(1, whole // 3)
