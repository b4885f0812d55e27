"""Metal made from scrap: how much to melt, what may go into one crucible, up and down in karat."""
