"""Which blanks from which pieces: everything is reckoned in whole thousandths of a millimetre, bounds included."""
