"""The bench: one lift, worked on."""
