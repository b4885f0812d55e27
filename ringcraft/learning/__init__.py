"""The record: what a shop's rings teach of its own neutral line, and why one of them came out wrong."""
