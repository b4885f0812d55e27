"""The workshop's own gauges: mandrels, finger gauges, rulers, calipers, adopted charts, and their calibrations."""
