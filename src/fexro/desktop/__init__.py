"""The window: views of the document, which send edits and compute nothing."""
