"""Fixes: each candidate solved on this boat and priced."""
