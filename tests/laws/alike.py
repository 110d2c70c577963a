"""Two answers of one page, in two languages: what may differ, and what must not."""

import re
from dataclasses import dataclass, field
from html.parser import HTMLParser

from django.utils import translation

from engine.language import say

# Attributes that people read or hear; everything else is for machines, and the same in every language.
READ = frozenset(
    {
        "aria-label",
        "aria-valuetext",
        "title",
        "placeholder",
        "alt",
        "label",
        "lang",
        "content",
        "data-name",
        "data-part",
    }
)
ANEW = re.compile("token|csrf")  # made anew by every answer
SHOWN_NUMBER = re.compile(r"(?<![\d.:])\d+\.\d+(?![\d.])")
NUMBER = re.compile(r"[\d.]+")  # clocks run on from answer to answer; a comma is no part of what a machine reads
WORD = re.compile("[^\\W\\d_]{3,}")


class _Page(HTMLParser):
    """A page as its tags, its attributes, and its texts, in order."""

    def __init__(self) -> None:
        super().__init__()
        self.tags: list[tuple[str, dict[str, str]]] = []
        self.texts: list[str] = []
        self._text = ""

    def handle_starttag(self, tag: str, attrs: list[tuple[str, str | None]]) -> None:
        self.flush()
        self.tags.append((tag, {name: value or "" for name, value in attrs}))

    def handle_endtag(self, tag: str) -> None:
        self.flush()
        self.tags.append((f"/{tag}", {}))

    def handle_data(self, data: str) -> None:
        self._text += data

    def flush(self) -> None:
        """What was gathered is one text."""
        if text := " ".join(self._text.split()):
            self.texts.append(text)
        self._text = ""


@dataclass
class Compared:
    """differs: what machines would read otherwise. kept: texts that are the same in both. points: numbers that are
    written in English where German is read. words: all words that stand in the German page's texts."""

    differs: list[str] = field(default_factory=list)
    kept: set[str] = field(default_factory=set)
    points: set[str] = field(default_factory=set)
    words: set[str] = field(default_factory=set)


def compare(english: str, german: str) -> Compared:
    """One page in both languages."""
    found, one, other = Compared(), _read(english), _read(german)
    if [tag for tag, _ in one.tags] != [tag for tag, _ in other.tags]:
        found.differs.append("its tags")
        return found
    for (tag, ours), (_, theirs) in zip(one.tags, other.tags, strict=True):
        for name, value in ours.items():
            _attribute(found, tag, name, value, theirs.get(name, ""), ours)
    theirs_too = set(other.texts)
    found.kept |= {text for text in one.texts if text in theirs_too and WORD.search(text)}
    found.points |= {text for text in other.texts if SHOWN_NUMBER.search(text)}
    found.words |= {word for text in other.texts for word in WORD.findall(text)}
    return found


def _attribute(found: Compared, tag: str, name: str, ours: str, theirs: str, held: dict[str, str]) -> None:
    is_read = name in READ or (held.get("id") == "words" and name != "id")
    if tag == "meta" or ANEW.search(name) or ANEW.search(held.get("name", "")):
        return
    if is_read:
        found.kept |= {ours} if ours == theirs and name not in {"lang", "data-name"} and WORD.search(ours) else set()
    elif NUMBER.sub("N", ours) != NUMBER.sub("N", theirs) and not _is_typed_alike(tag, name, ours, theirs):
        found.differs.append(f"<{tag} {name}>: {ours[:60]!r} and {theirs[:60]!r}")


def _is_typed_alike(tag: str, name: str, ours: str, theirs: str) -> bool:
    """Whether what stands in a field is the same: a comma is taken like a point wherever numbers are typed."""
    if (tag, name) not in {("input", "value"), ("span", "data-grams")}:
        return False
    with translation.override("de"):
        return theirs in (ours.replace(".", ","), say(ours))  # a number, or a name of ours that waits to be changed


def _read(text: str) -> _Page:
    page = _Page()
    page.feed(text)
    page.close()
    page.flush()
    return page
