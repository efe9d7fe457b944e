"""The bodies of the boat and their measures."""
