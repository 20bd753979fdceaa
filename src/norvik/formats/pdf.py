"""A sheet of paper as PDF: headings, text, lists, pictures and tables that keep together."""

from __future__ import annotations

import io
from collections.abc import Callable, Sequence
from pathlib import Path

from fpdf import FPDF
from fpdf.enums import XPos, YPos

_INK, _MUTED, _NOW, _TILE = (11, 42, 47), (75, 100, 104), (245, 174, 32), (226, 236, 236)
_MARGIN_MM = 16.0


class Sheet:
    """A4, written from top to bottom. A block that does not fit goes to the next page whole.

    fonts: folder with the regular and the bold font. title, author: of the file.
    """

    def __init__(self, fonts: Path, title: str, author: str) -> None:
        self._pdf = pdf = FPDF(format="A4")
        pdf.set_title(title)
        pdf.set_author(author)
        pdf.set_creator("Norvik")
        pdf.set_lang("en")
        pdf.set_margins(_MARGIN_MM, _MARGIN_MM)
        pdf.set_auto_page_break(True, _MARGIN_MM)
        for style, name in (("", "regular"), ("B", "bold")):
            pdf.add_font("text", style, fonts / f"atkinson-hyperlegible-next-{name}.ttf")
        pdf.set_fallback_fonts(["text"])
        pdf.add_page()

    @property
    def pages(self) -> int:
        return int(self._pdf.pages_count)

    def keep(self, write: Callable[[], None]) -> None:
        """What `write` writes stays on one page, where one page has room for it."""
        pdf = self._pdf
        with pdf.offset_rendering() as tried:
            write()
        if tried.page_break_triggered and pdf.get_y() > _MARGIN_MM + 1:
            pdf.add_page()
        write()

    def text(
        self, words: str, size: float = 11, bold: bool = False, muted: bool = False,
        gap: float = 1.5,
    ) -> None:  # fmt: skip
        """One paragraph. size: points. gap: millimetres below it."""
        pdf = self._pdf
        pdf.set_font("text", "B" if bold else "", size)
        pdf.set_text_color(*(_MUTED if muted else _INK))
        pdf.multi_cell(0, size * 0.47, words, new_x=XPos.LMARGIN, new_y=YPos.NEXT, align="L")
        pdf.ln(gap)

    def drawing(self, svg: str, height_mm: float) -> None:
        """A drawing as an SVG document, as wide as its height asks for."""
        pdf = self._pdf
        if pdf.get_y() + height_mm > pdf.h - _MARGIN_MM:
            pdf.add_page()
        top = pdf.get_y()
        pdf.image(io.BytesIO(svg.encode("utf-8")), x=_MARGIN_MM, y=top, h=height_mm)
        pdf.set_y(top + height_mm + 1)

    def heading(self, words: str, size: float = 15) -> None:
        self._pdf.ln(3)
        self.text(words, size, bold=True, gap=1)

    def cue(self, words: str, size: float = 17) -> None:
        """The one sentence to think of, set apart."""
        pdf = self._pdf
        pdf.ln(1)
        pdf.set_font("text", "B", size)
        pdf.set_text_color(*_INK)
        pdf.set_fill_color(*_TILE)
        top, page = pdf.get_y(), pdf.page
        pdf.set_x(_MARGIN_MM + 3)
        pdf.multi_cell(
            pdf.epw - 3, size * 0.55, words, fill=True, padding=(2, 3), new_x=XPos.LMARGIN,
            new_y=YPos.NEXT, align="L",
        )  # fmt: skip
        if pdf.page == page:
            pdf.set_fill_color(*_NOW)
            pdf.rect(_MARGIN_MM, top, 2, pdf.get_y() - top, style="F")
        pdf.ln(2)

    def bullets(self, lines: Sequence[str], size: float = 11, numbered: bool = False) -> None:
        pdf = self._pdf
        pdf.set_text_color(*_INK)
        for n, line in enumerate(lines, 1):
            pdf.set_font("text", "", size)
            pdf.set_x(_MARGIN_MM + 2)
            pdf.cell(6, size * 0.47, f"{n}." if numbered else "•")
            pdf.multi_cell(
                pdf.epw - 8, size * 0.47, line, new_x=XPos.LMARGIN, new_y=YPos.NEXT, align="L"
            )
        pdf.ln(1.5)

    def pictures(self, jpegs: Sequence[tuple[bytes, str]]) -> None:
        """One or two beside each other, each with the words below it."""
        pdf = self._pdf
        if not jpegs:
            return
        gap = 4.0
        wide = (pdf.epw - gap) / 2 if len(jpegs) > 1 else pdf.epw * 0.62
        top, lowest = pdf.get_y(), pdf.get_y()
        for n, (data, words) in enumerate(jpegs[:2]):
            x = _MARGIN_MM + n * (wide + gap)
            made = pdf.image(io.BytesIO(data), x=x, y=top, w=wide, alt_text=words)
            pdf.set_xy(x, top + made.rendered_height + 1)
            pdf.set_font("text", "", 8.5)
            pdf.set_text_color(*_MUTED)
            pdf.multi_cell(wide, 4, words, new_x=XPos.LMARGIN, new_y=YPos.NEXT, align="L")
            lowest = max(lowest, pdf.get_y())
        pdf.set_y(lowest + 2)

    def table(self, rows: Sequence[Sequence[str]], widths: Sequence[float], size: float = 10,
              head: bool = False) -> None:  # fmt: skip
        """widths: shares of the page. head: the first row names the columns, on every page."""
        pdf = self._pdf
        pdf.set_font("text", "", size)
        pdf.set_text_color(*_INK)
        pdf.set_draw_color(*_TILE)
        pdf.set_fill_color(255, 255, 255)
        with pdf.table(
            col_widths=tuple(widths), line_height=size * 0.5, first_row_as_headings=head,
            borders_layout="HORIZONTAL_LINES", padding=(0.6, 1), text_align="LEFT",
        ) as made:  # fmt: skip
            for row in rows:
                line = made.row()
                for cell in row:
                    line.cell(cell)
        pdf.ln(2)

    def new_page(self) -> None:
        self._pdf.add_page()

    def data(self) -> bytes:
        return bytes(self._pdf.output())
