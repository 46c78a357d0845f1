"""ASCE 7: reduction of live loads."""
