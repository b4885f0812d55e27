"""The ring in the flame: what a set-up takes, what stays short of flow, what else it reaches.

One sober model (:mod:`~ringcraft.heat.model`) is worked over bands of what nobody knows at a bench
(:mod:`~ringcraft.heat.bands`); whatever is said of it is a ratio or a word, never a promise in degrees.
"""
