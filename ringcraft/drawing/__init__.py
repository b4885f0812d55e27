"""Drawings in millimetres: what screen, paper and cutting machine all draw from. No colour, no pixel."""
