"""The pictures of a bench, one module each, behind one interface."""
