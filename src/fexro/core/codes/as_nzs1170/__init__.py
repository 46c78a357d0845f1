"""AS/NZS 1170: combinations of actions, and reduction of imposed load by area."""
