"""What metal is worth: prices of pure metals as they were seen, good or asked about."""
