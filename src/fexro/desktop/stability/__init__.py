"""The stability stage: storeys, beams framing in, lifts, choices."""
