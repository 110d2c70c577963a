"""What is asked of the house and of its lines."""

from collections.abc import Iterable
from typing import Any, Final, cast

from django import forms

from engine.language import later, say
from studio.accounts.house import SCHOOLS
from studio.accounts.models import Studio
from studio.shelf.list_in import read_letters
from studio.shelf.models import LIGHTENER, Shade, ShadeLine
from studio.ui.fields import UNIT, WeightField

GROUPS: Final = (
    (
        later("How the house works"),
        tuple(SCHOOLS),
    ),
    (
        later("Where it is stricter than the trade"),
        ("colour_from_years", "test_hours", "scalp_vol", "minors_stop", "health_stops", "lines_apart"),
    ),
    (
        later("What it keeps, and how it shows"),
        (
            "lock_min",
            "consent_first",
            "photos_months",
            "traces_months",
            "signed_years",
            "currency",
            "unit",
            "paper",
            "language",
        ),
    ),
)
LIST_LONGEST: Final = 200_000
FILE_MOST_BYTES: Final = 2_000_000


class HouseForm(forms.ModelForm):  # type: ignore[type-arg]
    """The studio's schools, and where it is stricter than the trade."""

    class Meta:
        model = Studio
        fields = [name for _, names in GROUPS for name in names]
        labels = {
            **SCHOOLS,
            "colour_from_years": later("Nothing with peroxide before the age of"),
            "consent_first": later("no photo and no health fact without consent noted"),
            "photos_months": later("Photos go after, months (0: never)"),
            "traces_months": later("What tells who changed what goes after, months (0: never)"),
            "signed_years": later("Signatures and tests of who is forgotten stay, years (0: not)"),
            "currency": later("Prices are in"),
            "unit": later("Weights are in"),
            "paper": later("Paper"),
            "language": later("Language"),
            "lock_min": later("A tablet of somebody with a PIN locks itself"),
            "test_hours": later("A sensitivity test counts after"),
            "scalp_vol": later("Developer on the scalp, at most"),
            "minors_stop": later("a minor without a guardian's consent stops the work"),
            "lines_apart": later("a second line on one head stops the work"),
            "health_stops": later("pregnancy, illness and a doctor's note stop the work"),
        }

    def clean_school(self) -> str:
        """Its own ladder needs rungs first."""
        school = str(self.cleaned_data["school"])
        if school not in dict(self.instance.schools):
            raise forms.ValidationError(say("Keep a ladder of your own first: see “Our own ladder”."))
        return school

    @property
    def groups(self) -> list[tuple[str, list[forms.BoundField]]]:
        """Its fields under their titles."""
        return [(str(title), [self[name] for name in names]) for title, names in GROUPS]


class LineForm(forms.ModelForm):  # type: ignore[type-arg]
    """What a line's pack says."""

    empty_tube_g = WeightField(label=later("An empty tube weighs, {unit}", unit=UNIT), most_g=200)

    class Meta:
        model = ShadeLine
        fields = [
            "developer_vol",
            "pack_usual_min",
            "pack_most_min",
            "asks_test",
            "test_lasts_days",
            "declares",
            "empty_tube_g",
        ]
        labels = {
            "developer_vol": later("Its developer, vol"),
            "pack_usual_min": later("Its pack asks for, min (empty: as usual)"),
            "pack_most_min": later("It allows at most, min (empty: as usual)"),
            "asks_test": later("asks for a sensitivity test"),
            "test_lasts_days": later("A test counts for, days"),
            "declares": later("It declares, between commas"),
        }


class ListForm(forms.Form):
    """A list of tubes, and the line that they belong to: one of the studio's, or a new one."""

    line = forms.ChoiceField(label=later("Line"), required=False)
    line_name = forms.CharField(label=later("Name of the new line"), max_length=60, required=False)
    kind = forms.ChoiceField(
        label=later("What it is"),
        choices=[each for each in ShadeLine.KindChoice.choices if each[0] != LIGHTENER],
        required=False,
    )
    developer_parts = forms.DecimalField(
        label=later("Developer, parts to one"), min_value=0, max_value=10, required=False
    )
    developer_vol = forms.DecimalField(label=later("Its strength, vol"), min_value=0, max_value=40, required=False)
    tube_g = WeightField(
        label=later("A tube holds, {unit}", unit=UNIT), least_g=1, most_g=2000, required=False, initial=60
    )
    tone_letters = forms.CharField(
        label=later("What letters or digits stand for"),
        max_length=300,
        required=False,
        widget=forms.TextInput(attrs={"placeholder": later("1 ash, 3 gold, 4 copper")}),
    )
    tubes = forms.CharField(
        label=later("Tubes, one to a row: name, code, level, tone, size, price"),
        max_length=LIST_LONGEST,
        widget=forms.Textarea(attrs={"rows": 12, "spellcheck": "false"}),
        error_messages={"required": later("Type or paste at least one tube.")},
    )

    def __init__(self, *args: Any, lines: Iterable[ShadeLine], **more: Any) -> None:
        """lines: of the studio, to choose among."""
        super().__init__(*args, **more)
        self.lines = {str(line.pk): line for line in lines}
        names = [(pk, f"{line.name}, {line.get_kind_display()}") for pk, line in self.lines.items()]
        cast(forms.ChoiceField, self.fields["line"]).choices = [("", say("a new line")), *names]

    def clean_tone_letters(self) -> str:
        """The table must be readable; it is kept as it was typed."""
        typed: str = self.cleaned_data["tone_letters"]
        try:
            read_letters(typed)
        except ValueError as error:
            raise forms.ValidationError(str(error)) from None
        return typed

    def clean(self) -> dict[str, Any]:
        """A new line needs its name and size."""
        given = super().clean() or self.cleaned_data
        if not given.get("line") and "line" in given:
            for name, words in (
                ("line_name", say("A new line needs a name.")),
                ("tube_g", say("How much a tube holds?")),
            ):
                if not given.get(name) and name not in self.errors:
                    self.add_error(name, words)
        return given


class TubeForm(forms.ModelForm):  # type: ignore[type-arg]
    """What is written on a tube, what it costs and when more of it is ordered."""

    reorder_g = WeightField(label=later("Ordered at, {unit}", unit=UNIT), most_g=9_000)
    tube_price = forms.DecimalField(label=later("A tube costs"), min_value=0, max_value=10_000, decimal_places=2)
    keyboard_key = forms.RegexField(
        "^[0-9=c-]$",
        label=later("Key on the Bench"),
        required=False,
        error_messages={"invalid": later("A digit, - or =, or c for clear: the letters steer.")},
    )

    class Meta:
        model = Shade
        fields = ["name", "code", "tube_price", "reorder_g", "keyboard_key", "favourite"]
        labels = {"favourite": later("A favourite")}


class LineFileForm(forms.Form):
    """A line's file, or its text once it was read; the name that the line is to have, whether its tubes are here."""

    file = forms.FileField(required=False, widget=forms.FileInput)
    text = forms.CharField(max_length=FILE_MOST_BYTES, required=False, strip=False)
    line_name = forms.CharField(max_length=60, required=False)
    is_here = forms.BooleanField(required=False)

    def clean(self) -> dict[str, Any]:
        """The text of the file, if one was sent."""
        given = super().clean() or self.cleaned_data
        if (sent := given.get("file")) is not None:
            if sent.size > FILE_MOST_BYTES:
                raise forms.ValidationError(
                    say(
                        "The file is too large: up to {file_most_bytes} MB are taken.",
                        file_most_bytes=FILE_MOST_BYTES // 10**6,
                    )
                )
            try:
                given["text"] = sent.read().decode("utf-8-sig")
            except UnicodeDecodeError:
                raise forms.ValidationError(say("That file is no text in UTF-8.")) from None
        if not given.get("text", "").strip() and not self.errors:
            raise forms.ValidationError(say("Choose a file first."))
        return given
