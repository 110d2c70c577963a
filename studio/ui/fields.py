"""Fields of forms that every app may ask with."""

from decimal import Decimal
from typing import Any, Final

from django import forms

from engine.language import say
from engine.weights import measure_of
from studio.ui.numbers import brief_number, typed_weight
from studio.ui.refusal import Refusal


class _Sign:
    """The house's unit, as a part of a text that is said later."""

    def __str__(self) -> str:
        return measure_of().value

    def __format__(self, spec: str) -> str:
        return str(self)


UNIT: Final = _Sign()


class WeightField(forms.CharField):
    """A weight: shown and typed in the house's unit, or with another behind the number; grams (Decimal) to who asks."""

    def __init__(self, *, least_g: float = 0.0, most_g: float | None = None, places: int = 1, **more: Any) -> None:
        """least_g, most_g: what is taken, in grams; places: decimals of the grams that are kept."""
        more.setdefault("widget", forms.TextInput(attrs={"inputmode": "decimal", "autocomplete": "off"}))
        super().__init__(**more)
        self.least_g, self.most_g, self.places = least_g, most_g, places

    def prepare_value(self, value: Any) -> Any:
        """What stands in the field: what was typed as it was typed, grams in the unit."""
        return brief_number(value) if isinstance(value, Decimal | int | float) else value

    def clean(self, value: Any) -> Any:
        """Grams, or none for an empty field that may be empty. Raises ValidationError for what is no such weight."""
        typed = super().clean(value)
        if not typed:
            return None
        try:
            grams = round(typed_weight(str(typed), str(self.label or "")), self.places)
        except Refusal:
            raise forms.ValidationError(say("Type a weight, for example {example:weight}.", example=60)) from None
        if grams < self.least_g or (self.most_g is not None and grams > self.most_g):
            raise forms.ValidationError(self._bounds())
        return grams

    def has_changed(self, initial: Any, data: Any) -> bool:
        """Whether what is typed isn't what stood there."""
        return bool(super().has_changed(self.prepare_value(initial), data))

    def _bounds(self) -> str:
        if self.most_g is None:
            return say("{least:weight} at least.", least=self.least_g)
        return say("{least:weight} to {most:weight} can be taken.", least=self.least_g, most=self.most_g)
