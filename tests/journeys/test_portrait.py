"""A forecast on a photo of the head: drawn over by a finger and by keys alone, and looked at."""

import io

import numpy as np
from PIL import Image
from playwright.sync_api import Locator, expect

from studio.portrait.models import Portrait
from studio.visits.models import Visit
from tests.engine.made_portrait import OVER_HAIR, head_photo
from tests.journeys.base import PAINTED, JourneyCase
from tests.journeys.states import Studio


class OnAPhoto(JourneyCase):
    flags = PAINTED

    def open_photo(self) -> Visit:
        """The page of a visit with a photo of its head, paper next."""
        visit = Studio(self.person).poured()
        self.sign_in()
        self.page.goto(f"{self.live_server_url}/visits/{visit.pk}/bench/?heads=1")
        self.page.get_by_role("link", name="On a photo").click()
        photo = {"name": "head.png", "mimeType": "image/png", "buffer": head_photo(480, 600)}
        self.page.get_by_label("A photo of the head").set_input_files(photo)
        self.page.get_by_role("button", name="Take this photo").click()
        return visit

    def canvas(self, hint: str) -> Locator:
        expect(self.page.get_by_text(hint)).to_be_visible()
        canvas = self.page.locator("canvas[data-strokes]")
        expect(canvas).to_be_visible()
        return canvas

    def shown(self) -> np.ndarray:
        """The picture in the page, encoded (rows, columns, 3)."""
        picture = self.page.locator(".portrait-over")
        self.page.wait_for_function(
            "() => [...document.querySelectorAll('.portrait-over img')].every((i) => i.complete)"
        )
        return np.asarray(Image.open(io.BytesIO(picture.screenshot())).convert("RGB")).astype(int)

    def test_a_finger_draws_and_the_forecast_is_slid_over_the_photo(self) -> None:
        self.open_photo()
        box = self.canvas("Tap the white paper").bounding_box() or {}

        def at(x: float, y: float) -> tuple[float, float]:
            return box["x"] + x * box["width"], box["y"] + y * box["height"]

        self.page.mouse.click(*at(0.075, 0.075))
        self.canvas("Draw along the hair")
        self.page.mouse.move(*at(*OVER_HAIR[0]))
        self.page.mouse.down()
        for place in OVER_HAIR[1:]:
            self.page.mouse.move(*at(*place), steps=6)
        self.page.mouse.up()
        self.page.get_by_role("link", name="Look →").click()
        expect(self.page.get_by_role("link", name="Likely")).to_be_visible()
        slider = self.page.get_by_label("How much of the photo as it was taken is seen")
        seen = self.shown()
        slider.press("End")
        taken = self.shown()
        changed = np.abs(seen - taken).max(axis=-1) > 25
        high, wide = changed.shape
        self.assertTrue(changed[int(0.13 * high), wide // 2])
        self.assertFalse(changed[int(0.5 * high), wide // 2], "a face stays")
        for _ in range(50):
            slider.press("ArrowLeft")
        half = self.shown()
        left, right = slice(0, wide // 2 - 8), slice(wide // 2 + 8, wide)
        self.assertLess(np.abs(half[:, left] - taken[:, left]).mean(), np.abs(half[:, left] - seen[:, left]).mean())
        self.assertLess(np.abs(half[:, right] - seen[:, right]).mean(), np.abs(half[:, right] - taken[:, right]).mean())

    def test_keys_alone_draw_and_look(self) -> None:
        self.open_photo()
        canvas = self.canvas("Tap the white paper")
        box = canvas.bounding_box() or {}
        canvas.focus()

        def go(x: float, y: float) -> None:
            """From the middle, in whole steps of the arrows."""
            for share, size, keys in (
                (x, "width", ("ArrowLeft", "ArrowRight")),
                (y, "height", ("ArrowUp", "ArrowDown")),
            ):
                steps = round((share - 0.5) * box[size] / 8)
                for _ in range(abs(steps)):
                    self.page.keyboard.press(keys[steps > 0])

        go(0.075, 0.075)
        self.page.keyboard.press("Space")
        canvas = self.canvas("Draw along the hair")
        canvas.focus()
        go(0.33, 0.5)
        self.page.keyboard.press("Space")
        for key, times in (("ArrowDown", 18), ("ArrowUp", 36)):
            for _ in range(times):
                self.page.keyboard.press(key)
        self.page.keyboard.press("Space")
        expect(self.page.get_by_role("link", name="Look →")).to_be_visible()
        stroke = Portrait.objects.get().strokes[-1]
        self.assertEqual(stroke["of"], "hair")
        self.assertAlmostEqual(stroke["points"][0][0], 0.33, delta=0.02)
        self.page.get_by_role("link", name="Look →").press("Enter")
        expect(self.page.get_by_role("link", name="Likely")).to_be_visible()
