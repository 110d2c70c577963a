"""Cells of a CSV that no spreadsheet takes for a formula of its own."""

from typing import Final

# What makes a spreadsheet take a cell for a formula of its own, also in the wide letters of East Asian keyboards.
FORMULA_SIGNS: Final = ("=", "+", "-", "@", "\t", "\r", "\uff1d", "\uff0b", "\uff0d", "\uff20")
LED_BY: Final = "'"


def safe_cell(cell: str) -> str:
    """A cell led by an apostrophe where a spreadsheet would reckon with it; `own_cell` takes the apostrophe off."""
    is_formula = cell.startswith(FORMULA_SIGNS) and not _is_number(cell)
    return f"{LED_BY}{cell}" if is_formula or _is_led(cell) else cell


def own_cell(cell: str) -> str:
    """A cell without the apostrophe that led it; a name's own apostrophe stays."""
    return cell[1:] if _is_led(cell) else cell


def _is_led(cell: str) -> bool:
    return cell.startswith(tuple(LED_BY + sign for sign in (*FORMULA_SIGNS, LED_BY)))


def _is_number(cell: str) -> bool:
    try:
        float(cell)
    except ValueError:
        return False
    return cell.isascii()
