"""Jobs: what was ordered, the plan as it was then, what was done and measured."""
