"""Usual sizes of rolled and hollow steel, by their dimensions alone. Lengths in mm."""

from __future__ import annotations

from fexro.core.section.profiles import (
    ChannelProfile,
    HollowProfile,
    IProfile,
    Profile,
    Tube,
)

__all__ = ["ROLLED"]

# Depth, width, web, flange, root radius; dimensions of EN 10365.
_WIDE = (
    (96, 100, 5, 8, 12),
    (100, 100, 6, 10, 12),
    (133, 140, 5.5, 8.5, 12),
    (140, 140, 7, 12, 12),
    (152, 160, 6, 9, 15),
    (160, 160, 8, 13, 15),
    (190, 200, 6.5, 10, 18),
    (200, 200, 9, 15, 18),
    (220, 206, 15, 25, 18),
    (230, 240, 7.5, 12, 21),
    (240, 240, 10, 17, 21),
    (270, 248, 18, 32, 21),
    (290, 300, 8.5, 14, 27),
    (300, 300, 11, 19, 27),
    (340, 310, 21, 39, 27),
    (360, 300, 12.5, 22.5, 27),
    (400, 300, 13.5, 24, 27),
    (500, 300, 14.5, 28, 27),
)
# Depth, width, web, flange, fillet radius in inches; dimensions of ASTM A6.
_WIDE_INCH = (
    (8.0, 8.0, 0.285, 0.435, 0.39),
    (8.5, 8.11, 0.40, 0.685, 0.39),
    (10.0, 10.0, 0.34, 0.56, 0.5),
    (10.6, 10.2, 0.53, 0.87, 0.5),
    (12.1, 12.0, 0.39, 0.605, 0.6),
    (12.7, 12.2, 0.55, 0.90, 0.6),
    (14.0, 14.5, 0.44, 0.71, 0.6),
    (14.7, 14.7, 0.645, 1.03, 0.6),
)
_CHANNELS = ((120, 55, 7, 9, 9), (160, 65, 7.5, 10.5, 10.5), (200, 75, 8.5, 11.5, 11.5))
_HOLLOW = ((100, 100, 6), (150, 150, 8), (200, 200, 10), (250, 250, 12), (200, 120, 8))
_TUBES = ((114.3, 6.3), (168.3, 8), (219.1, 8), (273, 10), (323.9, 10), (406.4, 12.5))
INCH = 25.4

ROLLED: tuple[Profile, ...] = (
    *(IProfile(*map(float, sizes)) for sizes in _WIDE),
    *(IProfile(*(round(size * INCH, 2) for size in sizes)) for sizes in _WIDE_INCH),
    *(ChannelProfile(*map(float, sizes)) for sizes in _CHANNELS),
    *(HollowProfile(*map(float, sizes)) for sizes in _HOLLOW),
    *(Tube(*map(float, sizes)) for sizes in _TUBES),
)
