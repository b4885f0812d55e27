"""Resizing a customer's ring: what can be done to it, what it takes or needs, and how it is done.

One way of resizing is one module of :mod:`ringcraft.resize.methods`; what speaks against a way is a row of a table.
"""
