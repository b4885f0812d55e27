"""Workshops and the people in them."""
