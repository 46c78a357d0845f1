"""BS 6399-1: reduction of imposed loads."""
