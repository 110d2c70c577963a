"""A card's colours as palette text that drawing programs read. Source: [GPL]."""

from collections.abc import Sequence

from studio.cards.selectors import KeptFormula


def palette_text(name: str, formulas: Sequence[KeptFormula]) -> str:
    """One line a colour: the forecast of each formula, and how it turned out where it was judged."""
    lines = ["GIMP Palette", f"Name: {_plain(name)}", "Columns: 2", "#"]
    for kept in formulas:
        title = f"{kept.formula.visit.day:%Y-%m-%d} {kept.formula.zone_name}"
        lines.append(_line(kept.lock.hex, f"{title}, forecast: {kept.lock.words}"))
        if kept.result_lock:
            lines.append(_line(kept.result_lock.hex, f"{title}, turned out: {kept.result_lock.words}"))
    return "\n".join([*lines, ""])


def _line(hex_colour: str, title: str) -> str:
    red, green, blue = bytes.fromhex(hex_colour.removeprefix("#"))
    return f"{red:3d} {green:3d} {blue:3d}\t{_plain(title)}"


def _plain(text: str) -> str:
    return " ".join(text.split())
