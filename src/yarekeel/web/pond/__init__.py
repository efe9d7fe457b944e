"""The pond sheet: what is read at the water, on a phone, with or without a connection."""
