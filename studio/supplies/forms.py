"""What is asked of a supply."""

import secrets

from django import forms

from engine.language import later
from studio.supplies.models import AMOUNT_MOST, Supply


class SupplyForm(forms.Form):
    """A new supply, with what is there of it."""

    kind = forms.ChoiceField(label=later("What it is"), choices=Supply.Kind.choices)
    name = forms.CharField(label=later("Name"), max_length=60)
    vol = forms.DecimalField(
        label=later("Strength, vol"), min_value=1, max_value=40, decimal_places=1, max_digits=4, required=False
    )
    unit = forms.ChoiceField(label=later("Told in"), choices=Supply.Unit.choices)
    pack = forms.DecimalField(label=later("A pack holds"), min_value=1, max_value=AMOUNT_MOST, decimal_places=1)
    packs = forms.DecimalField(label=later("Packs here"), min_value=0, max_value=1000, decimal_places=1, required=False)
    pack_price = forms.DecimalField(
        label=later("A pack costs"), min_value=0, max_value=10_000, decimal_places=2, required=False
    )
    reorder_at = forms.DecimalField(
        label=later("Ordered at"), min_value=0, max_value=AMOUNT_MOST, decimal_places=1, required=False
    )
    token = forms.CharField(required=False, widget=forms.HiddenInput, initial=lambda: secrets.token_hex(8))
