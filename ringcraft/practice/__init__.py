"""Practice: the same thing done in rounds and read at each, never mixed with customers' rings."""
