"""What Float shows beside the boat as it floats: one module a tab, found by itself; see ``tab.tabs_of``."""
