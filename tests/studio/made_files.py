"""Cards with files to send and to take in."""

import datetime
from collections.abc import Mapping
from decimal import Decimal

from django.core.files.uploadedfile import SimpleUploadedFile
from django.urls import reverse

from studio.cards.models import Formula
from studio.cards.services.home_care import keep_home_care
from studio.cards.services.judge import judge_zone, note_tweak
from tests.studio.made import StudioCase


class FilesCase(StudioCase):
    def setUp(self) -> None:
        super().setUp()
        self.send("aim", lightness="60", chroma="25", hue="0")
        self.send("pour", shade=self.shade("Orchil").pk, grams="3")
        self.send("pour", shade=self.shade("Clear").pk, grams="57")
        self.client.post(reverse("bench:save", args=[self.visit.pk]), {"version": self.bowl.version})
        self.formula = Formula.objects.get()

    def get(self, name: str, *args: object) -> bytes:
        answer = self.client.get(reverse(f"formats:{name}", args=args))
        self.assertEqual(answer.status_code, 200)
        return b"".join(answer.streaming_content) if answer.streaming else answer.content

    def take(self, text: str | bytes, answers: Mapping[str, str] | None = None, **ticked: bool):
        """Send a file, answer what is asked, and go on to its end: the last answer.

        answers: "here" or "file" by a part of the question's words, or who somebody is by her name.
        """
        fields = {"file": self.a_file(text)} | {name: "1" for name, on in ticked.items() if on}
        answer = self.client.post(reverse("formats:take"), fields, follow=True)
        if questions := answer.context and answer.context.get("questions"):
            said = {
                each.field: word for each in questions for part, word in (answers or {}).items() if part in each.where
            }
            answer = self.client.post(answer.request["PATH_INFO"], said, follow=True)
        while b"Go on" in answer.content:
            answer = self.client.post(answer.request["PATH_INFO"], follow=True)
        return answer

    @staticmethod
    def a_file(text: str | bytes) -> SimpleUploadedFile:
        """Something to send."""
        return SimpleUploadedFile("sent.csv", text.encode() if isinstance(text, str) else text)

    def judged(self) -> None:
        zone = self.visit.zones.get()
        lab = self.formula.forecast_l, self.formula.forecast_a, self.formula.forecast_b
        judge_zone(self.person, zone_id=zone.pk, lab=lab, forecast_lab=lab, source="eye", dry=True, two_lights=True)
        note_tweak(self.person, visit_id=self.visit.pk, zone_name=zone.name, words="a drop less", aim_lab=lab)
        keep_home_care(
            self.person,
            visit_id=self.visit.pk,
            washes_a_week=Decimal(2),
            hot_water=True,
            pool=False,
            sun=False,
            weekly_mask=True,
            given="a mask",
            next_on=self.visit.day + datetime.timedelta(days=30),
        )
