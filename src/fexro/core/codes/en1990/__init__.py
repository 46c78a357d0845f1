"""EN 1990: combinations of actions."""
