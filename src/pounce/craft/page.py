"""A craft page read from its Markdown: a lead, drawings, paragraphs with heads, schools, sources.

Pages are plain Markdown, so that docs and window show the same words. A drawing is ``![Head. Words.](drawing:name)``,
a school that one press takes is ``> **Head.** Words. (stop key=word)``.
"""

import re
from dataclasses import dataclass
from functools import cache
from importlib import resources

# The page of plan and proof, which belong to no stop.
PLAN = "plan"
_DRAWING = re.compile(r"!\[(?:(?P<head>[^.\]]+)\. )?(?P<words>[^\]]*)\]\(drawing:(?P<name>[\w-]+)\)")
_HEAD = re.compile(r"\*\*(?P<head>[^*]+?(?:\?|(?=\.)))\.?\*\* ?(?P<rest>.*)", re.DOTALL)
_SCHOOL = re.compile(
    r"> \*\*(?P<head>[^*]+?)\.\*\* (?P<words>.*?)(?: \((?P<stop>[\w-]+) (?P<key>[\w-]+)=(?P<word>[\w-]+)\))?$"
)


@dataclass(frozen=True)
class Drawing:
    """A drawing by its name, and what stands under it."""

    name: str
    head: str
    words: str


@dataclass(frozen=True)
class School:
    """One way of two or more: ``stop``, ``key`` and ``word`` the choice that takes it, "" where no choice does."""

    head: str
    words: str
    stop: str = ""
    key: str = ""
    word: str = ""


@dataclass(frozen=True)
class Paragraph:
    """Words under a head ("" for none), in Markdown, with the drawings before them and the schools after."""

    head: str
    words: str
    drawings: tuple[Drawing, ...] = ()
    schools: tuple[School, ...] = ()


@dataclass(frozen=True)
class Page:
    """A craft page."""

    name: str
    title: str
    lead: str
    drawings: tuple[Drawing, ...]
    paragraphs: tuple[Paragraph, ...]
    sources: str

    def paragraph(self, head: str) -> int | None:
        """The number of the paragraph with this head; None where there is none."""
        return next((k for k, one in enumerate(self.paragraphs) if one.head == head), None)


@cache
def text_of(name: str) -> str:
    """The page as Markdown. FileNotFoundError where there is none."""
    return resources.files("pounce.craft").joinpath("pages", f"{name}.md").read_text(encoding="utf-8")


def page_of(name: str) -> Page:
    """The page of a stop, or of plan and proof."""
    return read(name, text_of(name))


def read(name: str, text: str) -> Page:
    """The page in this Markdown."""
    blocks = [" ".join(block.split("\n")) if not block.startswith((">", "![")) else block for block in _blocks(text)]
    title, lead, sources = name, "", ""
    drawings: list[Drawing] = []
    out: list[Paragraph] = []
    for block in blocks:
        if block.startswith("# "):
            title = block[2:]
        elif block.startswith("!["):
            found = tuple(Drawing(m["name"], m["head"] or "", m["words"]) for m in _DRAWING.finditer(block))
            if out:
                out.append(Paragraph("", "", found))
            else:
                drawings += found
        elif block.startswith(">"):
            schools = tuple(_school(line) for line in block.split("\n") if line.strip("> "))
            last = out.pop()
            out.append(Paragraph(last.head, last.words, last.drawings, (*last.schools, *schools)))
        elif block.lstrip("*").startswith("Sources:"):
            sources = block.strip("*").replace("*", "")
        elif not lead and not out and not block.startswith("**"):
            lead = block
        else:
            head = _HEAD.match(block)
            before = out.pop().drawings if out and not out[-1].words else ()
            out.append(Paragraph(head["head"], head["rest"], before) if head else Paragraph("", block, before))
    return Page(name, title, lead, tuple(drawings), tuple(out), sources)


def _school(line: str) -> School:
    found = _SCHOOL.match(line)
    if found is None:
        raise ValueError(f"no school: {line}")
    return School(found["head"], found["words"], found["stop"] or "", found["key"] or "", found["word"] or "")


def _blocks(text: str) -> list[str]:
    return [block.strip() for block in re.split(r"\n\s*\n", text.strip()) if block.strip()]
