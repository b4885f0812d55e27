"""Commands of the worth app."""
