"""What Under way shows: one module a tab, found by itself; see ``tab.tabs_of``."""
