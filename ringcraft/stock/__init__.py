"""Stock: what is in the drawer, what to cut it from, and metal made from scrap. One idea a module."""
