"""Bent bars: shapes, lengths, masses and cutting from stock."""
