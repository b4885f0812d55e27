"""The day: what to do when, over what waits. Pure and seeded: minutes from an origin that the caller knows."""
