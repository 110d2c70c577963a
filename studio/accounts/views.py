"""The door."""

from functools import cache
from typing import Any

import numpy as np
from django.contrib.auth.views import LoginView

from engine.colorimetry.lab import lab_from_lch
from studio.ui.locks import Lock, lock_of_colour

DOOR_COLOURS = ((80, 24, 92), (66, 32, 2), (55, 30, 315))  # depth, strength, hue: bare hair, a pink, a violet


@cache
def door_locks() -> list[tuple[str, Lock]]:
    """The locks drawn beside the sign-in form."""
    labs = [lab_from_lch(np.array(colour, dtype=float)) for colour in DOOR_COLOURS]
    return [(f"door-{index}", lock_of_colour(tuple(lab.tolist()))) for index, lab in enumerate(labs)]


class SignIn(LoginView):
    """Name and password."""

    template_name = "accounts/sign_in.html"
    redirect_authenticated_user = True

    def get_context_data(self, **kwargs: Any) -> dict[str, Any]:
        """The form, and hair to look at."""
        return super().get_context_data(door_locks=door_locks(), **kwargs)
