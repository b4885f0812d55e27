"""Blank lengths: a finger, a stock and a rule go in, a ledger of named terms comes out.

Nothing here knows a style, a route or a screen.
"""
