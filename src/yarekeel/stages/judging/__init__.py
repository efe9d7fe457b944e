"""The boat's figures against the brief's limits."""
