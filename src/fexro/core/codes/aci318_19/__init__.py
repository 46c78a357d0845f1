"""ACI 318-19, in its SI and inch-pound editions."""
