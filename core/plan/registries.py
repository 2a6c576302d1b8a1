"""Whether everything that Caltin knows of by name fits together: looked at when a server starts, and by the tests."""

from __future__ import annotations

from collections.abc import Iterator
from typing import NamedTuple

from core.errors import InputError
from core.exchange.formats import FORMATS
from core.look.places import notes
from core.look.ways import WAYS
from core.method.method import methods, wrong_with
from core.optics.media import MEDIA, facts
from core.optics.medium import PRESSURES, TOOLS, Medium
from core.optics.support import supports
from core.recipe.cautions import sentences

LIES = ("film", "ink", "crumbs", "paste", "body")


class Fault(NamedTuple):
    """What does not fit, and what to do about it."""

    said: str
    hint: str


def faults() -> list[Fault]:
    """Everything in the registries that does not fit together; nothing where all is well."""
    found: list[Fault] = []
    for check in (_readable, _media, _methods, _papers, _ways, _formats):
        try:
            found += check()
        except InputError as error:
            found.append(Fault(error.message, error.hint))
    return found


def _readable() -> Iterator[Fault]:
    """Data files that nothing below looks at."""
    sentences()
    notes()
    yield from ()


def _media() -> Iterator[Fault]:
    for key in facts().keys() ^ MEDIA.keys():
        yield Fault(f"The medium {key} is in only one of media.py and data/media.toml.", "Add it to the other.")
    for medium in MEDIA.values():
        yield from _medium(medium)


def _medium(medium: Medium) -> Iterator[Fault]:
    name = f"The medium {medium.id}"
    if not (medium.pressures and set(medium.pressures) <= set(PRESSURES)):
        yield Fault(f"{name} has other pressures than {', '.join(PRESSURES)}.", "Use some of these, softest first.")
    if "lay" not in medium.techniques:
        yield Fault(f"{name} cannot be laid.", "Let its techniques begin with “lay”.")
    if medium.lies not in LIES:
        yield Fault(f"{name} lies as “{medium.lies}”.", f"Use one of {', '.join(LIES)}.")
    if not set(medium.tools) <= set(TOOLS):
        yield Fault(f"{name} has a tool that nobody knows.", f"Use some of {', '.join(TOOLS)}, or add it to TOOLS.")
    if not any(medium.id in paper.media for paper in supports().values()):
        yield Fault(f"{name} has no paper.", "Name it in the media of at least one row of data/supports.toml.")
    usual = [method.id for method in methods().values() if method.medium == medium.id and method.usual]
    if len(usual) != 1:
        yield Fault(
            f"{name} has {len(usual)} usual methods.", "Mark one file of core/method/schools with usual = true."
        )
    if medium.id in facts():
        held = facts()[medium.id]
        for other in held.over:
            if other not in MEDIA or other == medium.id:
                yield Fault(f"{name} lies over “{other}”.", "Name other media by their ids in data/media.toml.")
        if not held.caution.endswith("."):
            yield Fault(f"{name} has no sentence on what to beware of.", "Give its row in data/media.toml one.")


def _methods() -> Iterator[Fault]:
    for method in methods().values():
        yield from (Fault(*row) for row in wrong_with(method))


def _papers() -> Iterator[Fault]:
    for paper in supports().values():
        for medium in paper.media:
            if medium not in MEDIA:
                yield Fault(f"The paper {paper.id} is for “{medium}”.", f"Use some of {', '.join(MEDIA)}.")
        if not (0 <= paper.tooth <= 1 and list(paper.coverage) == sorted(paper.coverage) and paper.capacity > 0):
            yield Fault(f"The paper {paper.id} has a tooth, coverage or capacity that cannot be.", "See Support.")


def _ways() -> Iterator[Fault]:
    for way in WAYS.values():
        if way.amounts and not way.amounts[0] <= way.usual <= way.amounts[1]:
            yield Fault(f"The way of seeing {way.id} begins outside its amounts.", "Set usual between the two.")


def _formats() -> Iterator[Fault]:
    for file_format in FORMATS.values():
        if not (file_format.read or file_format.write):
            yield Fault(f"The format {file_format.id} neither reads nor writes.", "Give it at least one.")
        if not all(suffix.startswith(".") for suffix in file_format.suffixes):
            yield Fault(f"The format {file_format.id} has a suffix without a point.", "Write it as “.csv”.")
