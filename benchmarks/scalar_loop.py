"""The same surface as the engine's, point by point in plain Python: the yardstick of its speed."""

from __future__ import annotations

import math


def surface(vertices, bars, f_c, f_y, angles, depths):
    """Design N, Mx, My of every direction and neutral axis; `depths` are multiples of the height.

    Args:
        vertices: polygon about its centroid, mm; bars: x, y, area about the same point.
    """
    beta = 0.85 if f_c <= 28 else 0.65 if f_c >= 55 else 0.85 - 0.05 * (f_c - 28) / 7
    epsilon_ty = f_y / 200_000
    result = []
    for angle in angles:
        cos, sin = math.cos(angle), math.sin(angle)
        t = [x * cos + y * sin for x, y in vertices]
        top, height = max(t), max(t) - min(t)
        lowest_bar = min(x * cos + y * sin for x, y, _ in bars)
        row = []
        for depth in depths:
            c = depth * height
            level = top - beta * c
            area, mx, my = _clipped(vertices, t, level)
            n, mx, my = 0.85 * f_c * area, 0.85 * f_c * mx, 0.85 * f_c * my
            for x, y, bar_area in bars:
                along = x * cos + y * sin
                strain = 0.003 * (c - (top - along)) / c
                stress = max(-f_y, min(f_y, 200_000 * strain))
                if along >= level:
                    stress -= 0.85 * f_c
                n += stress * bar_area
                mx += stress * bar_area * y
                my += stress * bar_area * x
            tension = -0.003 * (c - (top - lowest_bar)) / c
            phi = 0.65 + 0.25 * max(0.0, min(1.0, (tension - epsilon_ty) / 0.003))
            row.append((phi * n, phi * mx, phi * my))
        result.append(row)
    return result


def _clipped(vertices, t, level):
    """Area and first moments (about x, about y) of the polygon above a level."""
    kept = []
    for i, (x, y) in enumerate(vertices):
        (u, v), a, b = vertices[i - 1], t[i - 1], t[i]
        if (a >= level) != (b >= level):
            share = (level - a) / (b - a)
            kept.append((u + share * (x - u), v + share * (y - v)))
        if b >= level:
            kept.append((x, y))
    area = mx = my = 0.0
    for i, (x, y) in enumerate(kept):
        u, v = kept[i - 1]
        cross = u * y - x * v
        area += cross / 2
        mx += cross * (v + y) / 6
        my += cross * (u + x) / 6
    return area, mx, my
