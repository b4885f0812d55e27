"""Measuring: sizes on their scales, gauges as they really are, printed charts, one finger on all of them."""
