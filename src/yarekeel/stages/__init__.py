"""One use case for each stage of the work, in the builder's order: each module has one ``assess()``.

A stage takes the frozen design (and the hull built from it), asks the core, and answers with numbers and findings.
Page, command line and print call the same ``assess()``.
"""
