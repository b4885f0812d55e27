"""Keeping the records safe: what a backup is checked by, what follows a restore, what the owner is told."""
