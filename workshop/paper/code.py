"""The code on a paper: the address of its job, for a scanner or a telephone."""

from __future__ import annotations

from reportlab.graphics import renderPDF
from reportlab.graphics.barcode.qr import QrCodeWidget
from reportlab.graphics.shapes import Drawing
from reportlab.lib.units import mm
from reportlab.pdfgen.canvas import Canvas


def draw_code(canvas: Canvas, text: str, x: float, y: float, size_mm: float) -> None:
    """Draw a QR code (ISO/IEC 18004, level M) with its lower left corner at x, y [pt]."""
    widget = QrCodeWidget(text, barLevel="M")
    left, bottom, right, top = widget.getBounds()
    size = size_mm * mm
    drawing = Drawing(size, size, transform=[size / (right - left), 0, 0, size / (top - bottom), 0, 0])
    drawing.add(widget)
    renderPDF.draw(drawing, canvas, x, y)
