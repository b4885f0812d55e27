"""Following what is on the bench: what a measure means, where a job stands, in which order the day is worked."""
