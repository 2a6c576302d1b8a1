"""What the documents say of the code is so."""

from __future__ import annotations

import importlib
import re
import subprocess
import zipfile
from pathlib import Path

import pytest

from tests.conftest import ROOT

TERMS = re.findall(r"^\| ([^|]+?) \| [^|]+ \| `([^`]+)` \|$", (ROOT / "docs/glossary.md").read_text(), re.M)
DOCUMENTS = sorted([*ROOT.glob("*.md"), *(ROOT / "docs").rglob("*.md")])


def named(path: str) -> object:
    """What a dotted name stands for."""
    parts = path.split(".")
    for cut in range(len(parts), 0, -1):
        try:
            held: object = importlib.import_module(".".join(parts[:cut]))
        except ModuleNotFoundError:
            continue
        for name in parts[cut:]:
            fields = getattr(held, "__dataclass_fields__", {})
            held = fields[name] if name in fields else getattr(held, name)
        return held
    raise AssertionError(f"there is no {path}")


@pytest.mark.parametrize(("word", "path"), TERMS, ids=[word for word, _ in TERMS])
def test_every_word_of_the_glossary_is_one_thing_in_code(word: str, path: str) -> None:
    assert named(path) is not None


def test_the_glossary_has_each_word_and_each_thing_once() -> None:
    assert len(TERMS) > 50
    for column in zip(*TERMS, strict=True):
        assert len(set(column)) == len(column)


@pytest.mark.parametrize("document", DOCUMENTS, ids=lambda file: str(file.relative_to(ROOT)))
def test_files_and_pages_that_a_document_names_are_there(document: Path) -> None:
    text = document.read_text()
    for link in re.findall(r"\]\(([^)#]+)\)", text):
        assert (document.parent / link).exists(), link
    if document.name == "CHANGELOG.md":
        return
    for name in re.findall(r"`((?:core|server|cli|tools|tests|web|docs)/[\w./-]+)`", text):
        # Capitals and the word ID stand for what a newcomer would choose.
        assert re.search(r"[A-Z]{2}", name) or (ROOT / name).exists() or name == "web/shipped.zip", name


def test_the_shipped_front_end_is_of_these_sources() -> None:
    stamp = subprocess.run([ROOT / "caltin", "web-stamp"], capture_output=True, text=True, check=True).stdout.strip()
    with zipfile.ZipFile(ROOT / "web/shipped.zip") as shipped:
        assert shipped.read(".built").decode().strip() == stamp, "run ./caltin ship"
        names = shipped.namelist()
    assert "index.html" in names
    scripts = [name for name in names if re.fullmatch(r"assets/[^/]+\.js", name)]
    assert scripts
    assert [name for name in scripts if f"{name}.br" in names], "built without Brotli: run ./caltin ship"
