"""What can be altered by an amount: each way a file in ``ways``, one search for the least that meets the limits, one price list.

``change`` says what a way is, ``least`` searches, ``prices`` says what material and work a way takes; ``cures`` sets the ways to
steady a boat side by side, ``lightening`` those to make it lighter, ``loading`` answers what it carries and what levels it.
"""
