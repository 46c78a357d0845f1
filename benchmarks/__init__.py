"""Speed, measured by hand: pytest benchmarks --benchmark-only."""
