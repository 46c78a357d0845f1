"""The cross-section as data: outline with voids, bars, ties."""
