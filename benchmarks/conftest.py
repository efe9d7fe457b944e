"""The tests' yard, server and browser, for the benchmarks too."""

from tests.conftest import browser_context_args, browser_type_launch_args, demo_file, demo_yard, served, yard

__all__ = ["browser_context_args", "browser_type_launch_args", "demo_file", "demo_yard", "served", "yard"]
