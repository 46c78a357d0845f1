"""The documents stage: what is issued, what stands on sheets, bars and quantities."""
