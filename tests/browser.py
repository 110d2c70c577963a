"""The browser that tests and tools drive."""

import shutil
from typing import Final

NAMES: Final = ("chromium-headless-shell", "chromium")


def browser_path() -> str:
    """Debian's Chromium, best without windows of its own: a quarter less work. Raises FileNotFoundError."""
    for name in NAMES:
        found = shutil.which(name)
        if found:
            return found
    raise FileNotFoundError(f"none of {', '.join(NAMES)} is installed: ./test installs one")
