"""The only SQL. Rows are private to this room; others get records, and errors of the core's tree.

A boat has revisions A, B, C; a revision has snapshots, each a whole boat file. Every confirmed edit appends a snapshot
and moves the revision's head to it; undo and redo only move the head; a revision with a trial on it is sealed.
"""
