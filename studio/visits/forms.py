"""What is asked at the consult."""

from dataclasses import dataclass
from typing import Any

from django import forms
from django.utils import timezone

from engine.language import later, say
from studio.clients.models import Client, PastWork
from studio.shelf.models import ShadeLine
from studio.visits.models import HEALTH as HEALTH
from studio.visits.models import Consult

SWITCHES = ("virgin", "fragile", "stretch_failed", "curl_loosened", "heat")


@dataclass(frozen=True)
class Choice:
    """One choice of the consult. value: what was chosen, "" when nobody asked; usual: what counts until then."""

    field: forms.BoundField
    value: str
    usual: str


class ConsultForm(forms.ModelForm):  # type: ignore[type-arg]
    """The wish, where it will be seen, and the head as it is found."""

    class Meta:
        model = Consult
        fields = ["wish", *Consult.CHOICES, "resistant", *SWITCHES, *HEALTH]
        labels = {
            "setting": later("Setting"),
            "upkeep": later("Upkeep"),
            "nerve": later("Nerve"),
            "scalp": later("Scalp"),
            "length": later("Length"),
            "density": later("Density"),
            "texture": later("Texture"),
            "curl": later("Curl"),
            "wish": later("Their wish, in their words"),
            "lay": later("Lightener lies"),
            "resistant": later("Resistant spots, such as temples or nape"),
            "virgin": later("virgin hair: asked"),
            "fragile": later("the hair is fragile"),
            "stretch_failed": later("it failed the stretch test"),
            "curl_loosened": later("its curl has loosened"),
            "heat": later("lightener with heat"),
            "pregnant": later("pregnant"),
            "ill": later("ill, or takes medicines"),
            "doctors_note": later("a doctor's open note"),
            "guardian_consents": later("a guardian consents"),
        }
        widgets = {"wish": forms.Textarea(attrs={"rows": 3, "class": "field w-full"})}

    def __init__(self, *args: Any, **kwargs: Any) -> None:
        super().__init__(*args, **kwargs)
        for name in Consult.CHOICES:
            self.fields[name].required = False

    def clean(self) -> dict[str, Any]:
        """A choice that was not made is left out: what was kept before stands."""
        given: dict[str, Any] = super().clean() or self.cleaned_data
        return {name: value for name, value in given.items() if value or name not in Consult.CHOICES}

    @property
    def choices(self) -> list[Choice]:
        """Every choice, as it was made or as it is usual."""
        return [
            Choice(
                field=self[name],
                value=(self[name].value() or "") if self.is_bound or self.instance.is_answered(name) else "",
                usual=getattr(self.instance, name),
            )
            for name in Consult.CHOICES
        ]


class ClientFactsForm(forms.ModelForm):  # type: ignore[type-arg]
    """What of the consult belongs to the client and holds for the next visit too."""

    class Meta:
        model = Client
        fields = ["born_on", "sensitivities", "reacted", "black_henna_tattoo"]
        labels = {
            "born_on": later("Born on"),
            "sensitivities": later("Sensitivities"),
            "reacted": later("reacted to hair colour before"),
            "black_henna_tattoo": later("has had a black henna tattoo"),
        }
        widgets = {
            "born_on": forms.DateInput(
                attrs={"type": "date", "class": "field of-client w-full", "form": "consult-form"},
                format="%Y-%m-%d",
            )
        }

    def clean_born_on(self) -> object:
        """Nobody is born tomorrow, or sits here at 120."""
        born_on = self.cleaned_data["born_on"]
        today = timezone.localdate()
        if (born_on and not today.year - 120 <= born_on.year <= today.year) or (born_on and born_on > today):
            raise forms.ValidationError(say("That is no birthday of someone in the chair."))
        return born_on


class PastForm(forms.Form):
    """One earlier work."""

    work = forms.ChoiceField(choices=PastWork.Kind.choices)
    part = forms.ChoiceField(choices=PastWork.Part.choices)
    done_on = forms.DateField(
        error_messages={"required": later("Type the day, about."), "invalid": later("Type a day.")}
    )
    note = forms.CharField(max_length=120, required=False)


class SkinTestForm(forms.Form):
    """One sensitivity test."""

    line = forms.ModelChoiceField(queryset=ShadeLine.objects.none(), required=False)
    tested_on = forms.DateField(error_messages={"required": later("Type the day."), "invalid": later("Type a day.")})
    tested_at = forms.TimeField(required=False, error_messages={"invalid": later("Type the hour like 14:30.")})
    clear = forms.TypedChoiceField(
        choices=[("1", later("stayed clear")), ("0", later("a reaction"))], coerce=lambda text: text == "1"
    )

    def __init__(self, *args: object, lines: object = None, **kwargs: object) -> None:
        super().__init__(*args, **kwargs)  # type: ignore[arg-type]
        if lines is not None:
            self.fields["line"].queryset = lines  # type: ignore[attr-defined]
