"""The demo: two boats of our own, and the story of each from a first guess over a disappointing float test to a fix."""
