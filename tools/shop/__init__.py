"""Running a shop's own for real: installed, started, backed up, restored."""
