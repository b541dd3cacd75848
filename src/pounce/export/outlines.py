"""The same outlines as files for a router, a laser or a drawing program: DXF and SVG in millimetres, and the cut
list as CSV.
"""

import csv
import io
import xml.etree.ElementTree as ET

import numpy as np

from pounce.export.drawing import Drawing
from pounce.pattern.making.values import Making

# Between two drawings laid side by side, mm.
GAP_MM = 20.0
STYLES = {"solid": "SAW", "dashed": "FACE", "fine": "FINE"}


def _placed(drawings: tuple[Drawing, ...]) -> list[tuple[Drawing, np.ndarray]]:
    """Drawings in a row, left to right, each with its shift (2,)."""
    out, x = [], 0.0
    for drawing in drawings:
        low, high = drawing.box
        out.append((drawing, np.array([x - float(low[0]), -float(low[1])])))
        x += float(high[0] - low[0]) + GAP_MM
    return out


def outlines_dxf(drawings: tuple[Drawing, ...]) -> bytes:
    """DXF (R2010, millimetres): outlines to saw, faces to carve to, holes and titles on layers of their own."""
    import ezdxf  # noqa: PLC0415  takes its time to load, and few builds draw

    document = ezdxf.new("R2010", units=ezdxf.units.MM)
    for name, colour in (("SAW", 7), ("FACE", 8), ("FINE", 9), ("HOLES", 5), ("TEXT", 3)):
        document.layers.add(name, color=colour)
    space = document.modelspace()
    for drawing, shift in _placed(drawings):
        for line in drawing.lines:
            space.add_lwpolyline(
                (line.points + shift).tolist(), close=line.closed, dxfattribs={"layer": STYLES[line.style]}
            )
        for x, y, thick in drawing.holes:
            if thick > 0.0:
                space.add_circle((x + shift[0], y + shift[1]), thick / 2.0, dxfattribs={"layer": "HOLES"})
        space.add_text(drawing.title, height=5.0, dxfattribs={"layer": "TEXT"}).set_placement(
            (float(drawing.box[0, 0] + shift[0]), -10.0)
        )
    stream = io.StringIO()
    document.write(stream)
    return stream.getvalue().encode()


def outlines_svg(drawings: tuple[Drawing, ...]) -> bytes:
    """SVG at 1:1 (one unit a millimetre)."""
    placed = _placed(drawings)
    high = max(float(d.box[1, 1] - d.box[0, 1]) for d in drawings)
    wide = max(float(d.box[1, 0] + s[0]) for d, s in placed)
    root = ET.Element(
        "svg",
        {
            "xmlns": "http://www.w3.org/2000/svg",
            "width": f"{wide:.3f}mm",
            "height": f"{high + 12.0:.3f}mm",
            "viewBox": f"0 0 {wide:.3f} {high + 12.0:.3f}",
        },
    )
    for drawing, shift in placed:
        group = ET.SubElement(root, "g", {"fill": "none", "stroke": "#22303C", "stroke-width": "0.3"})
        ET.SubElement(group, "title").text = drawing.title
        for line in drawing.lines:
            points = line.points + shift
            text = " ".join(f"{x:.4f},{high - y:.4f}" for x, y in points)
            dash = {"stroke-dasharray": "2 1.5"} if line.style == "dashed" else {}
            ET.SubElement(group, "polygon" if line.closed else "polyline", {"points": text, **dash})
        for x, y, thick in drawing.holes:
            if thick > 0.0:
                ET.SubElement(
                    group,
                    "circle",
                    {"cx": f"{x + shift[0]:.4f}", "cy": f"{high - y - shift[1]:.4f}", "r": f"{thick / 2.0:.4f}"},
                )
        label = ET.SubElement(
            group,
            "text",
            {
                "x": f"{drawing.box[0, 0] + shift[0]:.3f}",
                "y": f"{high + 8.0:.3f}",
                "font-size": "5",
                "fill": "#22303C",
                "stroke": "none",
            },
        )
        label.text = drawing.title
    drawn: bytes = ET.tostring(root, encoding="utf-8", xml_declaration=True)
    return drawn


def cut_list_csv(making: Making) -> bytes:
    """The cut list: piece, how many, sizes in mm, grain and where it lies on the boards."""
    stream = io.StringIO()
    writer = csv.writer(stream, lineterminator="\n")
    writer.writerow(
        ["piece", "count", "long_mm", "wide_mm", "thick_mm", "grain", "board", "from_left_mm", "from_edge_mm"]
    )
    for blank in making.blanks:
        at = ["", "", ""] if blank.board < 0 else [blank.board + 1, f"{blank.at_mm[0]:.1f}", f"{blank.at_mm[1]:.1f}"]
        writer.writerow(
            [
                blank.name,
                blank.count,
                f"{blank.long_mm:.1f}",
                f"{blank.wide_mm:.1f}",
                f"{blank.thick_mm:.2f}",
                blank.grain,
                *at,
            ]
        )
    for ring in making.segments:
        writer.writerow(
            [
                "Ring segment",
                ring.count,
                f"{ring.long_mm:.1f}",
                f"{ring.wide_mm:.1f}",
                "",
                f"mitre {ring.mitre_deg:.2f} deg",
                "",
                "",
                "",
            ]
        )
    return stream.getvalue().encode()
