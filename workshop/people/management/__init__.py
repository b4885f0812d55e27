"""Commands of the people app."""
