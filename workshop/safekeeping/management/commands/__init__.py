"""What backing up, restoring and upgrading ask of the application."""
