"""What every app of the workshop shares: who does it, what was done, saves that see each other, pages of a list."""
