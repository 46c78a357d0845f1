"""Edits: from a project to another. A project never changes; what is refused leaves it."""
