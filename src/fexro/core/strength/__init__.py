"""From strain planes to resultants, the strength surface and utilisation; knows no design code."""
