"""Photographs of a workshop: read, made harmless, kept through Django's storage."""
