"""EN 1991-1-1: reduction of imposed loads."""
