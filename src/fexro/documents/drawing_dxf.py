"""Drawings as DXF of real size: layers, blocks, hatches, dimensions that measure."""

from __future__ import annotations

import io
from collections.abc import Sequence
from typing import TYPE_CHECKING, Any

from fexro.core.errors import FexroError
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

if TYPE_CHECKING:
    from ezdxf.document import Drawing as DxfDrawing
    from ezdxf.layouts.layout import Modelspace

__all__ = ["dxf_of"]

STYLE, DIMENSIONS = "FEXRO", "FEXRO"
ANCHORS = {
    ("start", "base"): "LEFT",
    ("middle", "base"): "CENTER",
    ("end", "base"): "RIGHT",
    ("start", "middle"): "MIDDLE_LEFT",
    ("middle", "middle"): "MIDDLE_CENTER",
    ("end", "middle"): "MIDDLE_RIGHT",
}
WEIGHTS = (5, 9, 13, 15, 18, 20, 25, 30, 35, 40, 50, 53, 60, 70)  # of a hundredth of a mm
GAP = 12.0  # mm on paper between drawings of one file


def dxf_of(drawings: Sequence[Drawing]) -> str:
    """Return drawings as one DXF file, side by side, each real size by its own scale.

    Raises:
        FexroError: if the file would have errors.
    """
    from ezdxf import units  # only needed once a drawing is written
    from ezdxf.filemanagement import new

    document = new("R2010", setup=["linetypes"], units=units.MM)
    document.header["$INSUNITS"] = units.MM
    document.styles.add(STYLE, font="Inter.ttf")
    for name, style in LAYERS.items():
        weight = min(WEIGHTS, key=lambda one: abs(one - 100 * style.weight))
        layer = document.layers.add(_layer(name), color=style.number, lineweight=weight)
        if style.dash:
            layer.dxf.linetype = "DASHDOT"
    across = 0.0
    for number, drawing in enumerate(drawings):
        # Each drawing is a block, so that a sheet can be moved as a whole.
        called = f"DRAWING_{number + 1}"
        _dimension_style(document, drawing.scale)
        block = document.blocks.new(called)
        for item in drawing.items:
            if not isinstance(item, Dimension):
                _add(block, item, drawing.scale)
        space = document.modelspace()
        space.add_blockref(called, (across, 0.0), dxfattribs={"layer": _layer("frame")})
        for item in drawing.items:
            # Dimensions inside of blocks would not measure anew when they are stretched.
            if isinstance(item, Dimension):
                _dimension(space, item, drawing.scale, across)
        across += (drawing.width + GAP) * drawing.scale
    auditor = document.audit()
    if auditor.has_errors:
        raise FexroError(f"The drawing file has {len(auditor.errors)} errors.")
    out = io.StringIO()
    document.write(out)
    return out.getvalue()


def _layer(name: Layer) -> str:
    return name.upper()


def _dimension_style(document: DxfDrawing, scale: float) -> str:
    """Return the name of the style of dimensions on paper of a scale."""
    name = f"{DIMENSIONS}_{scale:g}".replace(".", "_")
    if name not in document.dimstyles:
        style = document.dimstyles.new(name)
        style.dxf.dimtxsty = STYLE
        style.dxf.dimscale = scale
        style.dxf.dimtxt, style.dxf.dimexo, style.dxf.dimexe = 1.8, 1.0, 1.2
        style.dxf.dimtsz, style.dxf.dimgap, style.dxf.dimtad = 1.1, 0.6, 1
        style.dxf.dimdec, style.dxf.dimzin = 0, 8
    return name


def _add(space: Any, item: Item, scale: float) -> None:
    def at(point: Point) -> Point:
        return point[0] * scale, point[1] * scale

    match item:
        case Line(points=points, layer=layer, closed=closed):
            style = {"layer": _layer(layer)}
            if item.dash:
                style["linetype"] = "DASHED"
            space.add_lwpolyline([at(p) for p in points], close=closed, dxfattribs=style)
        case Area(rings=rings, layer=layer):
            hatch = space.add_hatch(color=LAYERS[layer].number, dxfattribs={"layer": _layer(layer)})
            for number, ring in enumerate(rings):
                hatch.paths.add_polyline_path(
                    [at(p) for p in ring], is_closed=True, flags=1 if number == 0 else 16
                )
        case Circle(centre=centre, radius=radius, layer=layer, filled=filled):
            style = {"layer": _layer(layer)}
            space.add_circle(at(centre), radius * scale, dxfattribs=style)
            if filled:
                hatch = space.add_hatch(color=LAYERS[layer].number, dxfattribs=style)
                path = hatch.paths.add_edge_path()
                path.add_arc(at(centre), radius * scale, 0, 360)
        case Text():
            _text(space, item, at(item.at), scale)


def _text(space: Any, item: Text, at: Point, scale: float) -> None:
    from ezdxf.enums import TextEntityAlignment

    # A percent sign twice begins a code of the format.
    shown = item.text.replace("%%", "% %")
    style = {"layer": _layer(item.layer), "style": STYLE, "rotation": item.angle}
    text = space.add_text(shown, height=item.height * scale, dxfattribs=style)
    text.set_placement(at, align=TextEntityAlignment[ANCHORS[item.anchor, item.upright]])


def _dimension(space: Modelspace, item: Dimension, scale: float, across: float) -> None:
    (x0, y0), (x1, y1) = ((across + x * scale, y * scale) for x, y in (item.start, item.end))
    along_x = item.along == "x"
    base = (across, item.at * scale) if along_x else (across + item.at * scale, 0.0)
    size, decimals = item.unit
    override = {"dimlfac": item.real / scale / size, "dimdec": decimals}
    dimension = space.add_linear_dim(
        base=base,
        p1=(x0, y0),
        p2=(x1, y1),
        angle=0 if along_x else 90,
        text=item.text or "<>",
        dimstyle=f"{DIMENSIONS}_{scale:g}".replace(".", "_"),
        override=override,
        dxfattribs={"layer": _layer("dimensions")},
    )
    dimension.render()
