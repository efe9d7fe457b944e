"""The command line: the same sums as the pages, in text or JSON."""
