"""A change that a service will not make, with what a page needs to explain it."""


class Refusal(Exception):
    """The base: `code` never changes, `field` names the form field, `facts` fill the words."""

    def __init__(self, code: str, field: str = "", **facts: object) -> None:
        super().__init__(f"{code} ({field})")
        self.code = code
        self.field = field
        self.facts = facts


class Stale(Refusal):
    """Someone else, or another window, changed the same thing first. Nothing was overwritten."""

    def __init__(self, **facts: object) -> None:
        super().__init__("stale", "", **facts)
