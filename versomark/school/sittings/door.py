"""The way to a sitting as a picture for the board."""

import io

import segno


def door_code(address: str) -> bytes:
    """An address as a QR code in SVG, with the quiet margin of four modules that ISO/IEC 18004 asks for."""
    out = io.BytesIO()
    segno.make(address, error="m", micro=False).save(
        out, kind="svg", border=4, omitsize=True, svgclass=None, lineclass=None
    )
    return out.getvalue()
