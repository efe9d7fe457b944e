"""What Drive shows beside what is fitted: one module a tab, found by itself; see ``tab.tabs_of``."""
