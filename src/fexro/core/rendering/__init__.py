"""Writing a derivation: plain text, Typst for screens and paper, data for other programs."""
