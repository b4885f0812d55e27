"""What a piece of work costs, from the shop's own prices; no payment is handled."""
