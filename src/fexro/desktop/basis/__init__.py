"""The basis: what the whole project rests on, and where its parts differ."""
