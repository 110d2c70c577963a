"""What is asked at the consult."""

from django import forms
from django.utils import timezone

from studio.clients.models import Client, PastWork
from studio.shelf.models import ShadeLine
from studio.visits.models import Consult

CHOICES = ("setting", "upkeep", "nerve", "scalp", "length", "density", "texture", "curl", "lay")
SWITCHES = ("oxidative", "strand_tested", "fragile", "stretch_failed", "curl_loosened", "on_scalp", "heat")


class ConsultForm(forms.ModelForm):  # type: ignore[type-arg]
    """The wish, where it will be seen, and the head as it is found."""

    class Meta:
        model = Consult
        fields = ["wish", *CHOICES, "resistant", *SWITCHES]
        labels = {
            "wish": "Their wish, in their words",
            "lay": "Lightener lies",
            "resistant": "Resistant spots",
            "oxidative": "colour with developer may be used",
            "strand_tested": "strand tested for this",
            "fragile": "the hair is fragile",
            "stretch_failed": "it failed the stretch test",
            "curl_loosened": "its curl has loosened",
            "on_scalp": "lightener touches the scalp",
            "heat": "with heat",
        }
        widgets = {"wish": forms.Textarea(attrs={"rows": 3, "class": "field w-full"})}


class ClientFactsForm(forms.ModelForm):  # type: ignore[type-arg]
    """What of the consult belongs to the client and holds for the next visit too."""

    class Meta:
        model = Client
        fields = ["born_on", "sensitivities", "reacted", "black_henna_tattoo"]
        labels = {
            "born_on": "Born on",
            "sensitivities": "Sensitivities",
            "reacted": "reacted to hair colour before",
            "black_henna_tattoo": "has had a black henna tattoo",
        }
        widgets = {
            "born_on": forms.DateInput(
                attrs={"type": "date", "class": "field of-client w-full", "form": "consult-form"}, format="%Y-%m-%d"
            )
        }

    def clean_born_on(self) -> object:
        """Nobody is born tomorrow, or sits here at 120."""
        born_on = self.cleaned_data["born_on"]
        today = timezone.localdate()
        if (born_on and not today.year - 120 <= born_on.year <= today.year) or (born_on and born_on > today):
            raise forms.ValidationError("That is no birthday of someone in the chair.")
        return born_on


class PastForm(forms.Form):
    """One earlier work."""

    work = forms.ChoiceField(choices=PastWork.Kind.choices)
    part = forms.ChoiceField(choices=PastWork.Part.choices)
    done_on = forms.DateField(error_messages={"required": "Type the day, about.", "invalid": "Type a day."})
    note = forms.CharField(max_length=120, required=False)


class SkinTestForm(forms.Form):
    """One sensitivity test."""

    line = forms.ModelChoiceField(queryset=ShadeLine.objects.none())
    tested_on = forms.DateField(error_messages={"required": "Type the day.", "invalid": "Type a day."})
    clear = forms.TypedChoiceField(
        choices=[("1", "stayed clear"), ("0", "a reaction")], coerce=lambda text: text == "1"
    )

    def __init__(self, *args: object, lines: object = None, **kwargs: object) -> None:
        super().__init__(*args, **kwargs)  # type: ignore[arg-type]
        if lines is not None:
            self.fields["line"].queryset = lines  # type: ignore[attr-defined]
