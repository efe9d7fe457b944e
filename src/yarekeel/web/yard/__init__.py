"""The yard: the list of boats, and what can be done with a whole boat."""
