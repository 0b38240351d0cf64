"""An office's logo as a small raster picture, whatever the file asks for: limits on nesting, references, size and time.

A vector picture is looked through first (no file, no network, no entity, no endless references) and then drawn by a helper
process with little time and memory: `python -m nuthatch.core.dossier.logo` reads SVG and writes PNG.
"""

from __future__ import annotations

import io
import re
import subprocess
import sys
from functools import lru_cache
from typing import Any

from nuthatch.core.exchange.xml_tree import XmlElement, XmlFault, parse

HEIGHT, WIDTH = 240, 1200  # pixels of the raster at most
LARGEST_SVG, MOST_PIXELS = 1_000_000, 40_000_000
DEEPEST, MOST_DRAWN = 64, 20_000
SECONDS, MEMORY = 8, 1_500_000_000
_NAMED = re.compile(r"url\(\s*['\"]?#([^)'\"]+)['\"]?\s*\)")
_FOREIGN = re.compile(r"url\(\s*['\"]?(?!#)[^)]*\)|@import", re.I)


class LogoFault(ValueError):
    """The picture cannot be a logo; the message says why."""


@lru_cache(maxsize=4)
def as_png(data: bytes, ending: str) -> bytes:
    """A logo as PNG of at most 1200 × 240 pixels. Raises LogoFault."""
    return _raster(_drawn(data) if ending == "svg" else data)


def _raster(data: bytes) -> bytes:
    from PIL import Image

    try:
        with Image.open(io.BytesIO(data), formats=("PNG", "JPEG")) as picture:
            if picture.width * picture.height > MOST_PIXELS:
                raise LogoFault(f"the picture has more than {MOST_PIXELS // 1_000_000} million pixels; use a smaller one")
            small = picture.convert("RGBA")
            small.thumbnail((WIDTH, HEIGHT))
            out = io.BytesIO()
            small.save(out, "PNG")
            return out.getvalue()
    except LogoFault:
        raise
    except Exception as error:  # the decoders raise many kinds; all mean that the picture is damaged
        raise LogoFault(f"the picture cannot be read ({type(error).__name__})") from None


def looked_through(data: bytes) -> None:
    """Whether a vector picture is harmless. Raises LogoFault."""
    if len(data) > LARGEST_SVG:
        raise LogoFault(f"the vector picture is larger than {LARGEST_SVG // 1_000_000} MB; use a PNG")
    try:
        root = parse(data, DEEPEST)
    except XmlFault as error:
        raise LogoFault(f"the vector picture cannot be used: {error}; save it as plain SVG") from None
    named: dict[str, XmlElement] = {}
    todo = [root]
    while todo:
        element = todo.pop()
        if len(named) > MOST_DRAWN:
            raise LogoFault("the vector picture has too many parts")
        named[element.attributes.get("id") or f"\0{len(named)}"] = element
        _only_itself(element)
        todo += element.children
    if _weight(root, named, {}, 0) > MOST_DRAWN:
        raise LogoFault("the vector picture draws its parts again and again, far too often")


def _only_itself(element: XmlElement) -> None:
    for name, value in element.attributes.items():
        short = name.rpartition(" ")[2]
        if short == "href" and not value.startswith("#") and not value.startswith(("data:image/png", "data:image/jpeg")):
            raise LogoFault("the vector picture asks for another file; a logo must hold everything it shows")
        if _FOREIGN.search(value):
            raise LogoFault("the vector picture asks for another file; a logo must hold everything it shows")
    if element.text and _FOREIGN.search(element.text):
        raise LogoFault("the vector picture asks for another file; a logo must hold everything it shows")


def _weight(element: XmlElement, named: dict[str, XmlElement], known: dict[int, int], depth: int) -> int:
    """How many parts are drawn for an element, all it refers to counted each time."""
    if depth > 400:
        raise LogoFault("the vector picture refers to itself")
    if id(element) in known:
        return known[id(element)]
    known[id(element)] = MOST_DRAWN + 1  # what refers to itself never ends
    refers = [v[1:] for k, v in element.attributes.items() if k.rpartition(" ")[2] == "href" and v.startswith("#")]
    refers += [name for v in element.attributes.values() for name in _NAMED.findall(v)]
    below = [*element.children, *(named[r] for r in refers if r in named)]
    found = 1 + sum(_weight(e, named, known, depth + 1) for e in below)
    known[id(element)] = found
    return found


def _drawn(data: bytes) -> bytes:
    """SVG to PNG by a helper process. Raises LogoFault."""
    looked_through(data)
    try:
        done = subprocess.run([sys.executable, "-m", __name__], input=data, capture_output=True, timeout=SECONDS)
    except subprocess.TimeoutExpired:
        raise LogoFault(f"the vector picture takes more than {SECONDS} s to draw; use a PNG") from None
    except OSError as error:
        raise LogoFault(f"the vector picture cannot be drawn ({error})") from None
    if done.returncode:
        raise LogoFault("the vector picture cannot be drawn; use a PNG")
    return done.stdout


def _main() -> int:
    import resource

    resource.setrlimit(resource.RLIMIT_AS, (MEMORY, MEMORY))
    resource.setrlimit(resource.RLIMIT_CPU, (SECONDS, SECONDS))
    import resvg_py

    svg: Any = sys.stdin.buffer.read(LARGEST_SVG + 1).decode("utf-8-sig")
    try:
        made = resvg_py.svg_to_bytes(svg_string=svg, height=HEIGHT, skip_system_fonts=False)
    except ValueError as error:
        print(error, file=sys.stderr)
        return 1
    sys.stdout.buffer.write(bytes(made))
    return 0


if __name__ == "__main__":
    sys.exit(_main())
