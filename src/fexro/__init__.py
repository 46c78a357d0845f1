"""Fexro: reinforced concrete columns and walls under axial load with biaxial bending."""

__version__ = "0.1.0"
