"""Yare Keel: size, weigh, float, test and mend a small boat, with the sums done.

The rooms, from the ground up (an import may only point down this list):

``core``      the trade and its sums: SI units, no web, no database, no files
``units``     the edge where "9 in" becomes metres and metres become "52 mm"
``stages``    one use case for each stage of the work, each with one ``assess()``
``drawing``   values to a scene to SVG text
``exchange``  one file a format, in and out
``store``     the only SQL
``demo``      the demo boats and the story they tell
``web, cli``  the two ways in
"""

import os

# One thread a matrix product: matrices here are small, and threads that wait for each other take the time of other pages. Read by numpy.
os.environ.setdefault("OPENBLAS_NUM_THREADS", "1")

__version__ = "0.1.0"
