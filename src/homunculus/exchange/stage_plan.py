"""The stage plan as SVG and DXF: in millimetres at full size in both; what prints it says at which scale."""

from __future__ import annotations

import io
from xml.etree import ElementTree

from homunculus.core.floor.marks import LAYERS, Drawing, Point

PAPER_SCALE = 20
"""An SVG lies on paper at 1:20, which fits a stage of 12 × 8 m on A2."""
_COLOURS = {"outline": 7, "mark": 1, "camera": 5, "stage": 8, "text": 7}
"""Numbers of the drawing format's own colours."""
_WIDTHS = {"outline": 0.35, "mark": 0.5, "camera": 0.18, "stage": 0.7}


def as_svg(drawing: Drawing) -> bytes:
    """Write a ``drawing`` as SVG on paper at 1:20, millimetres of paper being its units."""
    (left, low), (right, high) = drawing.bounds()
    k, edge = 1000 / PAPER_SCALE, 15.0
    wide, tall = (right - left) * k + 2 * edge + 60, (high - low) * k + 2 * edge + 10

    def on(point: Point) -> Point:
        return (point[0] - left) * k + edge, (high - point[1]) * k + edge

    root = ElementTree.Element("svg", xmlns="http://www.w3.org/2000/svg", width=f"{wide:.2f}mm", height=f"{tall:.2f}mm", viewBox=f"0 0 {wide:.2f} {tall:.2f}")  # fmt: skip
    ElementTree.SubElement(root, "title").text = drawing.title
    for layer in LAYERS[:-1]:
        group = ElementTree.SubElement(root, "g", id=layer, fill="none", stroke="#222", attrib={"stroke-width": f"{_WIDTHS[layer]:g}"})  # fmt: skip
        for line in (one for one in drawing.lines if one.layer == layer):
            points = " ".join(f"{x:.3f},{y:.3f}" for x, y in map(on, line.points))
            ElementTree.SubElement(group, "polygon" if line.closed else "polyline", points=points)
    group = ElementTree.SubElement(root, "g", id="text", fill="#222", attrib={"font-family": "sans-serif"})
    for words in drawing.words:
        x, y = on(words.at)
        element = ElementTree.SubElement(
            group, "text", x=f"{x:.3f}", y=f"{y:.3f}", attrib={"font-size": f"{words.height * k:.2f}"}
        )
        element.text = words.words
    foot = ElementTree.SubElement(group, "text", x=f"{edge:g}", y=f"{tall - 5:.2f}", attrib={"font-size": "4"})
    foot.text = f"{drawing.title}, 1:{PAPER_SCALE} on paper; distances from the eye of the first camera"
    out = io.BytesIO()
    ElementTree.ElementTree(root).write(out, encoding="utf-8", xml_declaration=True)
    return out.getvalue()


def as_dxf(drawing: Drawing) -> bytes:
    """Write a ``drawing`` as DXF in millimetres at full size, a layer for each kind of line."""
    from ezdxf import units
    from ezdxf.document import Drawing as Document

    document = Document.new("AC1024")
    document.units = units.MM
    for layer in LAYERS:
        document.layers.add(layer, color=_COLOURS[layer])
    space = document.modelspace()
    for line in drawing.lines:
        space.add_lwpolyline(
            [(x * 1000, y * 1000) for x, y in line.points], close=line.closed, dxfattribs={"layer": line.layer}
        )
    for words in drawing.words:
        text = space.add_text(words.words, height=words.height * 1000, dxfattribs={"layer": "text"})
        text.set_placement((words.at[0] * 1000, words.at[1] * 1000))
    out = io.StringIO()
    document.write(out)
    return out.getvalue().encode("utf-8")
