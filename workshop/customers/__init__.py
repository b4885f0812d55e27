"""Customers and their fingers."""
