"""One file a tab of Stability: what it shows and the answers to its questions."""
