"""What is asked of the house and of its lines."""

from django import forms

from studio.accounts.models import Studio
from studio.shelf.models import ShadeLine


class HouseForm(forms.ModelForm):  # type: ignore[type-arg]
    """The studio's schools, and where it is stricter than the trade."""

    class Meta:
        model = Studio
        fields = ["school", "watch", "strong_lift", "colour_from_years", "minors_stop", "health_stops"]
        labels = {
            "school": "Level 8 shows",
            "watch": "Colour is looked at",
            "strong_lift": "Strong virgin hair is lifted a visit by",
            "colour_from_years": "Nothing with peroxide before the age of",
            "minors_stop": "a minor without a guardian's consent stops the work",
            "health_stops": "pregnancy, illness and a doctor's note stop the work",
        }


class LineForm(forms.ModelForm):  # type: ignore[type-arg]
    """What a line's pack says."""

    class Meta:
        model = ShadeLine
        fields = ["developer_vol", "asks_test", "test_lasts_days", "declares"]
        labels = {
            "developer_vol": "Its developer, vol",
            "asks_test": "asks for a sensitivity test",
            "test_lasts_days": "A test counts for, days",
            "declares": "It declares, between commas",
        }
