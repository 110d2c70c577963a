"""What is asked when tubes come in, are counted, or are spilt."""

from django import forms

from engine.language import later
from studio.shelf.models import LOT_LONGEST
from studio.shelf.services.stock import PRICE_MOST, STOCK_MOST_G, TUBES_MOST
from studio.ui.fields import UNIT, WeightField


class DeliveryForm(forms.Form):
    """Tubes that came in."""

    tubes = forms.DecimalField(label=later("Tubes"), min_value=0.1, max_value=TUBES_MOST, decimal_places=1)
    lot = forms.CharField(label=later("Number on the tube"), max_length=LOT_LONGEST, required=False)
    expires_on = forms.DateField(
        label=later("Good until"), required=False, widget=forms.DateInput(attrs={"type": "date"}, format="%Y-%m-%d")
    )
    paid = forms.DecimalField(
        label=later("One costs"), min_value=0, max_value=PRICE_MOST, decimal_places=2, required=False
    )


class CountForm(forms.Form):
    """What is there: full tubes, and the open one by weight."""

    full_tubes = forms.DecimalField(
        label=later("Full tubes"), min_value=0, max_value=TUBES_MOST, decimal_places=0, required=False
    )
    open_g = WeightField(label=later("The open one, {unit}", unit=UNIT), most_g=STOCK_MOST_G, required=False)
    with_tube = forms.BooleanField(label=later("weighed with its tube"), required=False)


class SpillForm(forms.Form):
    """What is gone and was in no bowl."""

    spilt_g = WeightField(label=later("Spilt or thrown away, {unit}", unit=UNIT), least_g=0.1)
