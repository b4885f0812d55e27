"""The logbook: how each ring came out, what that teaches, and why one came out wrong."""
