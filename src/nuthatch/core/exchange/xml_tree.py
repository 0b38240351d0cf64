"""XML from outside read safely: no document types, no entities, a bounded size and depth; every element knows its line."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass, field
from xml.parsers import expat

LARGEST, DEEPEST = 60_000_000, 200


class XmlFault(ValueError):
    """The file is no XML that is read here; the message names the line and why."""


@dataclass
class XmlElement:
    """One element: its name without a namespace, attributes, text, children, and the line it begins in."""

    name: str
    attributes: dict[str, str]
    line: int
    text: str = ""
    children: list[XmlElement] = field(default_factory=list)

    def all(self, name: str) -> Iterator[XmlElement]:
        """The children of this name."""
        return (c for c in self.children if c.name == name)

    def first(self, *path: str) -> XmlElement | None:
        """The first child by name, and further down a path."""
        found: XmlElement | None = self
        for name in path:
            found = next(found.all(name), None) if found is not None else None
        return found

    def said(self, *path: str) -> str:
        """The text of an element down a path, '' where there is none."""
        found = self.first(*path)
        return found.text.strip() if found is not None else ""


def parse(data: bytes, deepest: int = DEEPEST) -> XmlElement:
    """The root of a document. Raises XmlFault."""
    if len(data) > LARGEST:
        raise XmlFault(f"the file is larger than {LARGEST // 1_000_000} MB")
    parser = expat.ParserCreate(namespace_separator=" ")
    parser.buffer_text = True
    stack: list[XmlElement] = []
    roots: list[XmlElement] = []

    def begin(name: str, attributes: dict[str, str]) -> None:
        plain: dict[str, str] = {}
        for full, value in attributes.items():
            short = full.rpartition(" ")[2]
            plain[short if short not in plain else full] = value  # one of another namespace hides none
        made = XmlElement(name.rpartition(" ")[2], plain, parser.CurrentLineNumber)
        if len(stack) > deepest:
            raise XmlFault(f"line {parser.CurrentLineNumber}: elements are nested deeper than {deepest} levels")
        (stack[-1].children if stack else roots).append(made)
        stack.append(made)

    def refuse(*_: object) -> None:
        raise XmlFault(f"line {parser.CurrentLineNumber}: document types and entities are not read here; take them out of the file")

    def characters(text: str) -> None:
        stack[-1].text += text

    parser.StartElementHandler = begin
    parser.EndElementHandler = lambda _: stack.pop() and None
    parser.CharacterDataHandler = characters
    parser.StartDoctypeDeclHandler = refuse
    parser.EntityDeclHandler = refuse
    try:
        parser.Parse(data, True)
    except expat.ExpatError as error:
        raise XmlFault(f"line {error.lineno}: this is no XML ({expat.ErrorString(error.code)})") from None
    except (LookupError, ValueError) as error:
        if isinstance(error, XmlFault):
            raise
        raise XmlFault(f"this is no XML ({error})") from None
    return roots[0]
