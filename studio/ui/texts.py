"""Words as people type them, made fit to be a name."""


def one_line(text: str, longest: int) -> str:
    """A name without line breaks, tabs and spaces at its ends, cut to its longest: it stands on labels and in files."""
    return " ".join(text.split())[:longest].strip()
