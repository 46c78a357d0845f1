"""Members as a plan and as a table."""
