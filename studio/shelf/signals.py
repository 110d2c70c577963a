"""What the shelf tells of to who works with it."""

from typing import Final

from django.dispatch import Signal

first_line_stocked: Final = Signal()  # told: person
