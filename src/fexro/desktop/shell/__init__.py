"""The window: stages, commands, files, notices, palette. It knows nothing inside a stage."""
