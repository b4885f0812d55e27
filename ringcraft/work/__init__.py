"""The seam: what everything that stands on a bench has, whatever kind of work it is.

Bench, card, papers, job file and scheduling know this folder and no kind of work behind it.
"""
