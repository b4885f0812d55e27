"""The day of a workshop: its plan, what somebody took, timers, what minutes teach, the calendar; over the jobs."""
