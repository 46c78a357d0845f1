"""The forces: load cases and combinations, tables that are taken, what a new analysis changed."""
