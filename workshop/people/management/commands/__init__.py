"""What makes shops and people from the command line."""
