"""The demo workshop: invented people and jobs, as readable data, and its loader."""
