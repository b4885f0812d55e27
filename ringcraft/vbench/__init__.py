"""The virtual bench: pieces of metal as they stand, and what each deed needs of them and does to them."""
