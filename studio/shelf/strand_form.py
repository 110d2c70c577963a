"""What is asked of a strand that was read."""

import secrets

from django import forms

from engine.hair.residue import LEVEL_CLEAN_WHITE, LEVEL_DARKEST
from engine.language import later
from studio.shelf.models import StrandReading


class StrandForm(forms.Form):
    """A strand's hair, its dilution, and its colour under daylight."""

    level = forms.DecimalField(
        label=later("On level"), min_value=LEVEL_DARKEST, max_value=LEVEL_CLEAN_WHITE, max_digits=3, decimal_places=1
    )
    share = forms.DecimalField(
        label=later("Share in clear, 0.2 for 1 to 4"), min_value=0.001, max_value=1, max_digits=4, decimal_places=3
    )
    lightness = forms.DecimalField(label="L*", min_value=0, max_value=100, decimal_places=2)
    a = forms.DecimalField(label="a*", min_value=-128, max_value=128, decimal_places=2)
    b = forms.DecimalField(label="b*", min_value=-128, max_value=128, decimal_places=2)
    source = forms.ChoiceField(label=later("Read"), choices=StrandReading.SourceChoice.choices)
    token = forms.CharField(required=False, widget=forms.HiddenInput, initial=lambda: secrets.token_hex(8))
