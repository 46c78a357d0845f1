"""The document: model, validation, file, edits and their history."""
