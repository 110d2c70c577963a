"""Everything the engine can refuse, with the facts that a caller needs to explain it.

EngineError
    BadInput                  what was given can't be used; names the field
        Missing               nothing was given
        WrongType             something of another type was given
        OutOfRange            a number outside its range; carries range and unit
        Unknown               a name that is on no list; carries the list
        EmptyBowl             nothing has been poured
        EmptyShelf            no shade to match with
        OutOfTime             a list of jobs took all the time that it may have
"""

from collections.abc import Iterable


class EngineError(Exception):
    """Base of all errors that the engine raises on purpose; `code` never changes."""

    code = "engine"


class BadInput(EngineError):
    """What was given can't be used. `field` is a dotted path such as `canvas.level`."""

    code = "bad_input"

    def __init__(self, field: str, message: str) -> None:
        super().__init__(message)
        self.field = field
        self.message = message


class Missing(BadInput):
    """A field that must be there is not."""

    code = "missing"

    def __init__(self, field: str, expected: str) -> None:
        super().__init__(field, f"{field} is missing: {expected} is expected")
        self.expected = expected


class WrongType(BadInput):
    """A field holds something of another type, or not a finite number."""

    code = "wrong_type"

    def __init__(self, field: str, given: object, expected: str) -> None:
        shown = repr(given) if len(repr(given)) <= 40 else repr(given)[:37] + "..."
        super().__init__(field, f"{field} is {shown}: {expected} is expected")
        self.given = given
        self.expected = expected


class OutOfRange(BadInput):
    """A number lies outside its allowed range."""

    code = "out_of_range"

    def __init__(self, field: str, given: float, low: float, high: float, unit: str = "") -> None:
        suffix = f" {unit}" if unit else ""
        super().__init__(field, f"{field} is {given:g}{suffix}: {low:g} to {high:g}{suffix} is allowed")
        self.given, self.low, self.high, self.unit = given, low, high, unit


class Unknown(BadInput):
    """A name that is not on the list of names."""

    code = "unknown"

    def __init__(self, field: str, given: str, known: Iterable[str]) -> None:
        self.given = given
        self.known = tuple(known)
        super().__init__(field, f"{field} is {given[:40]!r}: one of {', '.join(self.known)} is expected")


class EmptyBowl(BadInput):
    """A forecast was asked for a bowl with nothing in it."""

    code = "empty_bowl"

    def __init__(self, field: str = "bowl.grams") -> None:
        super().__init__(field, f"{field} holds nothing: pour at least one shade or clear")


class OutOfTime(BadInput):
    """The jobs before this one took all the time that their list may have."""

    code = "out_of_time"

    def __init__(self, seconds: float) -> None:
        super().__init__("jobs", f"the jobs before took the {seconds:g} s that a list may take: send this one again")


class EmptyShelf(BadInput):
    """A match was asked for with no shade to mix."""

    code = "empty_shelf"

    def __init__(self, field: str = "shades") -> None:
        super().__init__(field, f"{field} holds no coloured shade: at least one is needed to match a colour")
