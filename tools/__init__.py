"""What starts, stops, photographs and measures the project."""
