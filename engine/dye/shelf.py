"""The demo shelf that ships with the engine: thirteen direct shades and clear."""

from collections.abc import Mapping
from functools import cache
from types import MappingProxyType

from engine.dye.shade import CLEAR, Band, Shade
from engine.tables import load_table


@cache
def demo_shelf() -> Mapping[str, Shade]:
    """The demo shades by name, in table order, clear last."""
    table = load_table("demo_shelf")
    bands: dict[str, list[Band]] = {}
    cells = (table.numbers(column) for column in ("centre_nm", "sigma_nm", "weight"))
    for name, centre_nm, sigma_nm, weight in zip(table.texts("shade"), *cells, strict=True):
        band = Band(centre_nm=float(centre_nm), sigma_nm=float(sigma_nm), weight=float(weight))
        bands.setdefault(name, []).append(band)
    shelf = {name: Shade(name=name, bands=tuple(found)) for name, found in bands.items()}
    return MappingProxyType({**shelf, CLEAR: Shade(name=CLEAR)})
