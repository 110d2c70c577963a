"""The form of a key for a program."""

from typing import Any

from django import forms

from engine.language import later
from studio.api.models import NAME_LONGEST, RATES, ProgramKey


class KeyForm(forms.Form):
    """What a key is called, what it reads, how often, and until when."""

    name = forms.CharField(
        label=later("What it is for"), max_length=NAME_LONGEST, widget=forms.TextInput({"autocomplete": "off"})
    )
    may = forms.MultipleChoiceField(
        label=later("What it reads"), choices=ProgramKey.May.choices, widget=forms.CheckboxSelectMultiple
    )
    per_minute = forms.TypedChoiceField(
        label=later("How often a minute"), choices=[(rate, rate) for rate in RATES], coerce=int, initial=RATES[1]
    )
    ends_on = forms.DateField(
        label=later("Its last day, if it has one"), required=False, widget=forms.DateInput({"type": "date"})
    )

    def __init__(self, *args: Any, **kwargs: Any) -> None:
        super().__init__(*args, **kwargs)
        for name in ("name", "per_minute", "ends_on"):
            self.fields[name].widget.attrs["class"] = "field"
