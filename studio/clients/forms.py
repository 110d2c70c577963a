"""What is asked of a new client."""

from django import forms

from engine.language import later
from studio.clients.models import NAME_LONGEST, Client
from studio.ui.texts import one_line


class ClientForm(forms.ModelForm):  # type: ignore[type-arg]
    """A name, a line about them, and notes."""

    class Meta:
        model = Client
        fields = ["name", "about", "notes"]
        labels = {"about": later("Who they are"), "notes": later("Notes")}
        error_messages = {"name": {"required": later("Type a name for the card.")}}
        widgets = {"notes": forms.Textarea(attrs={"rows": 3})}

    def clean_name(self) -> str:
        """A name on one line, however it was pasted."""
        return one_line(self.cleaned_data["name"], NAME_LONGEST)
