"""Routes: the steps of a job as its tables list them, filled with the facts of a case and worked on the bench."""
