"""How the bench is looked at: in which light, after how many washes, steering or aiming."""

from collections.abc import Mapping
from dataclasses import dataclass
from typing import Final

from engine.colorimetry.lights import Light
from engine.language import later

LIGHTS: Final = ((Light.DAYLIGHT, later("Daylight")), (Light.SALON, later("Salon")), (Light.EVENING, later("Evening")))
LIGHT_WORDS: Final = {
    Light.DAYLIGHT: later("daylight"),
    Light.SALON: later("salon"),
    Light.EVENING: later("evening"),
    Light.SHOP: later("shop light"),
}
WASHES_MOST: Final = 20
MODES: Final = ("steer", "list", "aim", "guess")


@dataclass(frozen=True, kw_only=True)
class Sight:
    """The light, washes 0-20, and what the middle of the Bench shows. by_list: what steers, unless mode says how."""

    light: Light = Light.DAYLIGHT
    washes: int = 0
    mode: str = ""
    by_list: bool = False

    @property
    def shows_list(self) -> bool:
        """Whether what steers is told as a list."""
        return self.mode == "list" or (self.mode == "" and self.by_list)


def sight_of(sent: Mapping[str, str], *, by_list: bool = False) -> Sight:
    """What a request asks to see; anything odd counts as the default, since nothing is lost by it.

    by_list: whether the screen that it is for steers by the list.
    """
    light, washes, mode = sent.get("light", ""), sent.get("washes", ""), sent.get("mode", "")
    known = {each.value: each for each, _ in LIGHTS}
    number = int(washes) if washes.isascii() and washes.isdigit() and len(washes) < 4 else 0
    return Sight(
        light=known.get(light, Light.DAYLIGHT),
        washes=min(number, WASHES_MOST),
        mode=mode if mode in MODES else "",
        by_list=by_list,
    )
