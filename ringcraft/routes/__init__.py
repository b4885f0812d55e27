"""Routes: the steps of a job, where it stands on them, what its measures say of it, and the order of a day."""
