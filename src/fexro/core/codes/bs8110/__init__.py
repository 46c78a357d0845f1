"""BS 8110: combinations of loads."""
