"""Drawings as SVG, in mm, and from there as PDF."""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from xml.sax.saxutils import escape, quoteattr

from fexro.documents.drawing import (
    LAYERS,
    Area,
    Circle,
    Dimension,
    Drawing,
    Item,
    Layer,
    Line,
    Point,
    Text,
)
from fexro.documents.typesetting import picture_source, quoted, set_pdf

__all__ = ["drawings_pdf", "svg_of"]

CAPITALS = 0.727  # height of capitals over the size of the type
TICK = 1.1  # mm, half of the stroke at the end of a dimension
BEYOND = 1.2  # mm, by which extension lines go beyond it
GAP = 1.0  # mm, from what is measured to its extension line


def svg_of(drawing: Drawing) -> bytes:
    """Return a drawing as SVG."""
    width, height = drawing.width, drawing.height
    body = "\n".join(part for item in drawing.items for part in _item(item, height))
    head = (
        f'<svg xmlns="http://www.w3.org/2000/svg" width="{width:g}mm" height="{height:g}mm"'
        f' viewBox="0 0 {width:g} {height:g}" font-family="Inter, sans-serif">'
    )
    return f"{head}\n<title>{escape(drawing.title)}</title>\n{body}\n</svg>\n".encode()


def drawings_pdf(drawings: Sequence[Drawing], title: str) -> bytes:
    """Return drawings as PDF, each a page of its own size.

    Raises:
        FexroError: if they cannot be set.
    """
    pages = [
        f"#page(width: {one.width}mm, height: {one.height}mm, margin: 0pt)["
        f"#place(hide(heading({quoted(one.title)})))"
        f"#image({picture_source(svg_of(one))}, width: 100%)]"
        for one in drawings
    ]
    head = f'#set document(title: {quoted(title)})\n#set text(font: "Inter")\n'
    return set_pdf(head + "\n".join(pages))


def _item(item: Item, height: float) -> Iterator[str]:
    def at(point: Point) -> str:
        return f"{point[0]:.3f} {height - point[1]:.3f}"

    match item:
        case Line(points=points, layer=layer, closed=closed):
            path = "M" + " L".join(map(at, points)) + ("Z" if closed else "")
            yield f'<path d="{path}" fill="none" {_stroke(layer, item.weight, item.dash)}/>'
        case Area(rings=rings, layer=layer):
            path = " ".join("M" + " L".join(map(at, ring)) + "Z" for ring in rings)
            yield f'<path d="{path}" fill="{LAYERS[layer].colour}" fill-rule="evenodd"/>'
        case Circle(centre=(x, y), radius=radius, layer=layer, filled=filled):
            colour = LAYERS[layer].colour
            paint = f'fill="{colour}"' if filled else f'fill="none" {_stroke(layer)}'
            yield f'<circle cx="{x:.3f}" cy="{height - y:.3f}" r="{radius:.3f}" {paint}/>'
        case Text():
            yield _text(item, height)
        case Dimension():
            for part in dimension_parts(item):
                yield from _item(part, height)


def _stroke(layer: Layer, weight: float | None = None, dash: tuple[float, ...] = ()) -> str:
    style = LAYERS[layer]
    lengths = dash or style.dash
    dashes = f' stroke-dasharray="{" ".join(f"{d:g}" for d in lengths)}"' if lengths else ""
    wide = style.weight if weight is None else weight
    return f'stroke="{style.colour}" stroke-width="{wide:g}" stroke-linejoin="round"{dashes}'


def _text(item: Text, height: float) -> str:
    x, y = item.at[0], height - item.at[1]
    down = item.height / 2 if item.upright == "middle" else 0.0
    turned = f' transform="rotate({-item.angle:g} {x:.3f} {y:.3f})"' if item.angle else ""
    weight = ' font-weight="600"' if item.strong else ""
    colour = LAYERS[item.layer].colour
    return (
        f'<text x="{x:.3f}" y="{y + down:.3f}" font-size="{item.height / CAPITALS:.3f}"'
        f" text-anchor={quoteattr(item.anchor)} fill={quoteattr(colour)}{weight}{turned}"
        f' xml:space="preserve">{escape(item.text)}</text>'
    )


def dimension_parts(item: Dimension) -> list[Item]:
    """Return the lines and the text that a dimension is drawn of."""
    (x0, y0), (x1, y1), at = item.start, item.end, item.at
    parts: list[Item] = []
    if item.along == "x":
        ends = ((x0, at), (x1, at))
        far = [(x0, y0), (x1, y1)]
        sign = [1.0 if at > y else -1.0 for _, y in far]
        lines = [
            ((x, y + s * GAP), (x, at + s * BEYOND)) for (x, y), s in zip(far, sign, strict=True)
        ]
        text = Text(item.written, ((x0 + x1) / 2, at + 0.8), 1.8, "dimensions", "middle")
    else:
        ends = ((at, y0), (at, y1))
        far = [(x0, y0), (x1, y1)]
        sign = [1.0 if at > x else -1.0 for x, _ in far]
        lines = [
            ((x + s * GAP, y), (at + s * BEYOND, y)) for (x, y), s in zip(far, sign, strict=True)
        ]
        text = Text(item.written, (at - 0.8, (y0 + y1) / 2), 1.8, "dimensions", "middle", angle=90)
    parts += [Line(line, "dimensions") for line in lines]
    parts.append(Line(ends, "dimensions"))
    parts += [
        Line(((x - TICK, y - TICK), (x + TICK, y + TICK)), "dimensions", weight=0.25)
        for x, y in ends
    ]
    return [*parts, text]
