"""Eight people at work, as a ratio: this version beside one before it, in one run, over the same records."""
