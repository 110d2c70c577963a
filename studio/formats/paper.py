"""A card and a hand-out as PDF, on A4."""

import io
from collections.abc import Sequence
from pathlib import Path
from typing import Final
from xml.sax.saxutils import escape

from reportlab.lib.colors import HexColor
from reportlab.lib.pagesizes import A4
from reportlab.lib.styles import ParagraphStyle, getSampleStyleSheet
from reportlab.lib.units import mm
from reportlab.pdfbase import pdfmetrics
from reportlab.pdfbase.ttfonts import TTFont
from reportlab.platypus import Flowable, KeepTogether, Paragraph, SimpleDocTemplate, Spacer, Table

from studio.cards.models import Tweak
from studio.cards.selectors import KeptFormula
from studio.clients.models import Client
from studio.result.care_page import CarePage
from studio.ui.locks import Lock
from studio.ui.numbers import shown_grams

FONTS: Final = Path(__file__).with_name("fonts")  # with letters that the fonts built into PDF lack
for name in ("DejaVuSans", "DejaVuSans-Bold"):
    pdfmetrics.registerFont(TTFont(name, FONTS / f"{name}.ttf"))
STYLES: Final = getSampleStyleSheet()
BODY: Final = ParagraphStyle("body", parent=STYLES["BodyText"], fontName="DejaVuSans", fontSize=10.5, leading=14)
HEAD: Final = ParagraphStyle("head", parent=STYLES["Heading2"], fontName="DejaVuSans-Bold", fontSize=13, spaceBefore=8)
TITLE: Final = ParagraphStyle("title", parent=STYLES["Title"], fontName="DejaVuSans-Bold", alignment=0, fontSize=20)
# Where strands lie in a drawn lock, as shares of its width, and which of its tones each has.
STRANDS: Final = tuple((0.08 + 0.84 * place / 13, (place * 5) % 7) for place in range(14))


class DrawnLock(Flowable):  # type: ignore[misc] # reportlab is not typed
    """A lock of hair: strands in the engine's tones, hanging from a clip."""

    def __init__(self, lock: Lock, width: float, height: float) -> None:
        super().__init__()
        self.lock = lock
        self.width, self.height = width, height

    def draw(self) -> None:
        """Draw it from the clip down, drawn together towards its end."""
        canvas, tones = self.canv, self.lock.hexes
        canvas.setLineWidth(self.width / 12)
        canvas.setLineCap(1)
        for share, tone in STRANDS:
            canvas.setStrokeColor(HexColor(tones[min(tone, len(tones) - 1)]))
            x = share * self.width
            end = self.width / 2 + (x - self.width / 2) * 0.45
            path = canvas.beginPath()
            path.moveTo(x, self.height - 4)
            path.curveTo(x, self.height * 0.5, x, self.height * 0.25, end, abs(share - 0.5) * self.height * 0.25 + 2)
            canvas.drawPath(path, stroke=1, fill=0)
        canvas.setFillColor(HexColor("#111111"))
        canvas.rect(0, self.height - 7, self.width, 7, stroke=0, fill=1)


def card_pdf(client: Client, formulas: Sequence[KeptFormula], tweaks: Sequence[Tweak]) -> bytes:
    """A client's card with its formulas, newest first."""
    story: list[Flowable] = [_text(client.name, TITLE), _text(client.about)]
    if client.notes:
        story.append(_text(client.notes))
    story += [_text(f"Change next time: {tweak.words}", HEAD) for tweak in tweaks]
    for kept in formulas:
        locks = [DrawnLock(kept.lock, 14 * mm, 34 * mm)]
        if kept.result_lock:
            locks.append(DrawnLock(kept.result_lock, 14 * mm, 34 * mm))
        row = Table([[*locks, _formula(kept)]], colWidths=[*(18 * mm for _ in locks), None], hAlign="LEFT")
        story += [Spacer(0, 5 * mm), KeepTogether(row)]
    return _document(story, f"Card of {client.name}")


def _formula(kept: KeptFormula) -> list[Flowable]:
    formula = kept.formula
    lines = [f"{kept.lock.words.capitalize()}, {formula.saved_at:%d %b %Y}, {formula.zone_name}, {formula.line}"]
    lines.append(", ".join(f"{shown_grams(pour.grams)} g {pour.shade_name}" for pour in kept.pours))
    if formula.developer_g:
        lines.append(f"developer {float(formula.developer_g):g} g")
    lines.append(f"on level {float(formula.level):g}, warmth {float(formula.warmth):g}, porosity {formula.porosity}")
    if formula.process_min is not None:
        lines.append(f"{formula.process_min:.0f} minutes on {'damp' if formula.damp else 'dry'} hair")
    if kept.turned_out:
        lines.append(f"turned out {kept.turned_out}")
    if formula.note:
        lines.append(formula.note)
    return [_text(line, HEAD if place == 0 else BODY) for place, line in enumerate(lines)]


def handout_pdf(page: CarePage) -> bytes:
    """What the client takes home: the colour with its range, how it goes, cautions, the mask, the next visit."""
    visit = page.bench.visit
    story: list[Flowable] = [
        _text(f"Your colour, {visit.client.name}", TITLE),
        _text(f"{visit.client.studio.name}, {visit.day:%d %B %Y}"),
    ]
    if page.lock:
        story += [
            _text(page.lock.words.capitalize(), HEAD),
            _locks([page.lock, *page.range_locks]),
            _text("Hair is no paint chart: on you it may look like any of these."),
            _text("How it goes from week to week, with the way you wash it", HEAD),
            _locks([week.lock for week in page.weeks]),
        ]
    story += [_text(f"• {caution}") for caution in page.cautions]
    story.append(
        _text("• An estimate, not a promise. If your skin itches, burns or swells, rinse it off and see a doctor.")
    )
    if page.mask:
        pours = ", ".join(f"{grams} g {name}" for name, grams in page.mask.pours)
        story += [
            _text("Weekly mask: direct dye in conditioner", HEAD),
            _text(f"{pours}. Made {page.mask.made_on:%d %b %Y}, good until {page.mask.good_until:%d %b %Y}."),
            _text("Once a week on damp hair, 3 to 10 minutes, gloves on. Away from eyes and children."),
        ]
    if page.care.next_on:
        story.append(_text(f"See you on {page.care.next_on:%A %d %B %Y}.", HEAD))
    elif page.come_on:
        story.append(_text(f"Best seen again about {page.come_on:%d %B}.", HEAD))
    return _document(story, f"Hand-out for {visit.client.name}")


def _locks(locks: Sequence[Lock]) -> Table:
    return Table(
        [[DrawnLock(lock, 13 * mm, 30 * mm) for lock in locks]], colWidths=[18 * mm] * len(locks), hAlign="LEFT"
    )


def _text(words: str, style: ParagraphStyle = BODY) -> Paragraph:
    return Paragraph(escape(words), style)


def _document(story: list[Flowable], title: str) -> bytes:
    kept = io.BytesIO()
    margins = dict.fromkeys(("leftMargin", "rightMargin", "topMargin", "bottomMargin"), 18 * mm)
    SimpleDocTemplate(kept, pagesize=A4, title=title, author="Rainshade", **margins).build(story)
    return kept.getvalue()
