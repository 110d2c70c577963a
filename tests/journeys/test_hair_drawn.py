"""Drawn hair has its colour: a lock, a slip, a printed lock and a head, each as a whole, as the browser paints it.

The judge is the colour-science library: IEC 61966-2-1 for the screen's light, CIE 142-2001 (CIEDE2000) for what is off.
"""

import io
import warnings
from collections.abc import Callable, Sequence
from pathlib import Path
from unittest.mock import patch

import numpy as np
from django.contrib.staticfiles import finders
from django.template.loader import render_to_string
from PIL import Image

from studio.formats.templatetags.paper import printed_svg
from studio.ui.locks import LOCK_SHARES, SLIP_SHARES, Lock, lock_of, lock_of_colour
from studio.ui.templatetags.ui import lock, slip
from studio.visits.head import HeadColours, head_views
from studio.visits.models import Consult, Visit, Zone
from tests.journeys.base import PAINTED, JourneyCase

with warnings.catch_warnings():
    warnings.simplefilter("ignore")  # of what it would like to have installed beside it
    import colour

# L*, a*, b*: dark to pale, muted to vivid, round the hues. The first and the last meet the ends of what can be drawn.
HAIR = (
    *((12, 3, 4), (20, 8, 8), (28, 30, 12), (40, 10, 20), (45, 40, -20), (52, 14, 34)),
    *((60, 25, 50), (66, 45, 0), (78, 18, -6), (78, 5, 30), (88, 3, 14), (95, 1, 4)),
)
APART, WIDE, HIGH = 100, 96, 320
TONES = len(LOCK_SHARES)
WITHIN, AT_THE_ENDS = 1.5, 2.1  # delta E00 of the whole drawing from its colour


class DrawnHair(JourneyCase):
    flags = PAINTED

    def drawn(
        self,
        draw: Callable[[Lock, str], str],
        wide: int,
        high: int,
        locks: Sequence[Lock] = tuple(map(lock_of_colour, HAIR)),
    ) -> np.ndarray:
        """The screen's pixels of one drawing a lock, side by side (rows, columns, 3), encoded 0-1."""
        places = "".join(
            f'<div style="position:absolute;top:0;left:{at * APART}px">{draw(each, f"lock-{at}")}</div>'
            for at, each in enumerate(locks)
        )
        style = f"body {{ margin: 0; background: #9e9e9e }} svg:not(.strands) {{ width: {wide}px; height: {high}px }}"
        strands, css = render_to_string("ui/_strands.html"), Path(str(finders.find("ui/app.css")))
        self.page.set_viewport_size({"width": APART * len(HAIR), "height": HIGH})
        self.page.set_content(f"<style>{css.read_text(encoding='utf-8')}{style}</style>{strands}{places}")
        return np.array(Image.open(io.BytesIO(self.page.screenshot())).convert("RGB")) / 255

    def assert_has_its_colour(self, seen: np.ndarray, rows: slice, columns: slice) -> None:
        """The light of the hair itself, without clip, tips and ground, is that of the colour."""
        for at, lab in enumerate(HAIR):
            hair = seen[rows, columns.start + at * APART : columns.stop + at * APART]
            light = colour.cctf_decoding(hair, function="sRGB").mean(axis=(0, 1))
            whole = colour.XYZ_to_Lab(colour.sRGB_to_XYZ(light, apply_cctf_decoding=False))
            off = float(colour.delta_E(np.array(lab, dtype=float), whole, method="CIE 2000"))
            with self.subTest(lab=lab, whole=np.round(whole, 1).tolist()):
                self.assertLess(off, WITHIN if 20 <= lab[0] <= 90 else AT_THE_ENDS)

    def test_the_tones_share_the_light_as_the_app_reckons(self) -> None:
        """One tone white, the others black: what comes back, to all that comes back, and to an even grey's."""
        with patch("studio.ui.locks.evened", lambda tones, shares: tones):
            one = [lock_of(np.repeat(row[:, None], 3, axis=1), np.zeros(3)) for row in np.eye(TONES)]
            even = lock_of(np.full((TONES, 3), 0.5), np.zeros(3))
        for draw, wide, high, rows, columns, shares in (
            (lock, WIDE, HIGH, slice(20, 270), slice(18, 78), LOCK_SHARES),
            (slip, 48, 96, slice(10, 80), slice(10, 38), SLIP_SHARES),
        ):
            seen = self.drawn(draw, wide, high, [*one, even])
            pieces = [seen[rows, columns.start + at * APART : columns.stop + at * APART] for at in range(TONES + 1)]
            back = np.array([colour.cctf_decoding(piece, function="sRGB").mean() for piece in pieces])
            flanks = back[-1] / float(colour.cctf_decoding(np.array(0.5), function="sRGB"))
            np.testing.assert_allclose(back[:-1] / back[:-1].sum() * flanks, shares, atol=0.01)

    def test_a_lock(self) -> None:
        self.assert_has_its_colour(self.drawn(lock, WIDE, HIGH), slice(20, 270), slice(18, 78))

    def test_a_slip(self) -> None:
        self.assert_has_its_colour(self.drawn(slip, 48, 96), slice(10, 80), slice(10, 38))

    def test_a_printed_lock(self) -> None:
        seen = self.drawn(lambda each, _name: printed_svg(each), 90, 220)
        self.assert_has_its_colour(seen, slice(25, 110), slice(20, 70))

    def test_a_head_from_behind(self) -> None:
        """Of a head all of one colour, the hair between crown and tips, parting and flanks."""
        head = Zone(pk=1, visit=Visit(), part=Zone.Part.WHOLE)
        head.visit.consult = Consult(length=Consult.Length.LONG)

        def drawn(each: Lock, _name: str) -> str:
            views = head_views([head], head, HeadColours(zones={1: each.lab}, between={}), taps=False)
            page = render_to_string("visits/_head.html", {"views": [views[-1]], "label": ""})
            return page[page.index("<svg") : page.index("</svg>") + len("</svg>")]

        seen = self.drawn(drawn, 86, 118)
        for half in (slice(20, 37), slice(43, 60)):
            self.assert_has_its_colour(seen, slice(30, 72), half)
