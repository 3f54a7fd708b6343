"""The plan as a vector file: SVG for any viewer, DXF for whoever draws the place."""

import io
from xml.sax.saxutils import escape

from moth.card import Line, Shape

_SCALE = 100.0
"""Units of the SVG a metre."""


def svg(drawing):
    """A plan as SVG text; a hundred units a metre, north up.

    Parameters
    ----------
    drawing : moth.card.Drawing

    Returns
    -------
    str
    """
    (x0, y0), (x1, y1) = drawing.low, drawing.high

    def put(place):
        return f"{(place[0] - x0) * _SCALE:.1f},{(y1 - place[1]) * _SCALE:.1f}"

    wide, high = (x1 - x0) * _SCALE, (y1 - y0) * _SCALE
    size = f'width="{1000 * (x1 - x0):.1f}mm" height="{1000 * (y1 - y0):.1f}mm"'
    out = [
        f'<svg xmlns="http://www.w3.org/2000/svg" {size} viewBox="0 0 {wide:.1f} {high:.1f}"'
        ' font-family="sans-serif" stroke="#000" stroke-width="1.5" fill="none">',
        f"<title>{escape(drawing.title)}</title>",
    ]
    for part in drawing.parts:
        kind = f'class="{part.layer}"'
        if isinstance(part, Line):
            (a, b), (c, d) = (put(p).split(",") for p in part.ends)
            dash = ' stroke-dasharray="8 6"' if part.dashed else ""
            tone = ' stroke="#bbb" stroke-width="0.5"' if part.layer == "grid" else ""
            out.append(f'<line {kind} x1="{a}" y1="{b}" x2="{c}" y2="{d}"{dash}{tone}/>')
        elif isinstance(part, Shape):
            corners = " ".join(put(c) for c in part.corners)
            fill = ' fill="#bbb"' if part.filled else ""
            out.append(f'<polygon {kind} points="{corners}"{fill}/>')
        else:
            x, y = put(part.at).split(",")
            out.append(
                f'<text {kind} x="{x}" y="{y}" font-size="{1.3 * part.height * _SCALE:.1f}" '
                f'stroke="none" fill="#000">{escape(part.text)}</text>'
            )
    return "\n".join([*out, "</svg>\n"])


def dxf(drawing):
    """A plan as DXF text (R2010), in metres, a layer a kind of thing.

    Parameters
    ----------
    drawing : moth.card.Drawing

    Returns
    -------
    str
    """
    # Loaded by whoever asks for a drawing: a server starts a third of a second sooner.
    import ezdxf

    document = ezdxf.new("R2010", setup=["linetypes"])
    document.units = ezdxf.units.M
    space = document.modelspace()
    for layer in dict.fromkeys(part.layer for part in drawing.parts):
        document.layers.add(layer.upper())
    for part in drawing.parts:
        style = {"layer": part.layer.upper()}
        if isinstance(part, Line):
            if part.dashed:
                style["linetype"] = "DASHED"
            space.add_line(*part.ends, dxfattribs=style)
        elif isinstance(part, Shape):
            space.add_lwpolyline(part.corners, close=True, dxfattribs=style)
        else:
            word = space.add_text(part.text, height=part.height, dxfattribs=style)
            word.set_placement(part.at)
    out = io.StringIO()
    document.write(out)
    return out.getvalue()
