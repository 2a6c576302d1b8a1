"""Results that are kept: by what they are named, and those that come with the demo."""

import dataclasses
import importlib
import json
import pkgutil
import typing
from collections.abc import Hashable
from typing import Any

import pytest
from django.core.management import call_command

import core
from core.look.study import MODEL as SEEING
from core.recipe.recipe import MODEL
from server.pieces.models import Result
from tools.make_demo_results import TARGET


def sets_in(kind: Any) -> set[str]:
    """Names of the fields of a type, and of all types in it, that are sets."""
    found, waiting, known = set[str](), [("", kind)], set[Any]()
    while waiting:
        name, its = waiting.pop()
        if its in known:
            continue
        known.add(its)
        if typing.get_origin(its) in (set, frozenset):
            found.add(name)
        waiting += [(name, part) for part in typing.get_args(its) if isinstance(part, Hashable)]
        if isinstance(its, type) and dataclasses.is_dataclass(its):
            hints = typing.get_type_hints(its)
            waiting += [(f"{its.__name__}.{field.name}", hints[field.name]) for field in dataclasses.fields(its)]
    return found


def test_no_question_holds_a_set() -> None:
    """A set of words comes in another order in every process: what was worked out would not be found again."""
    names = [row.name for row in pkgutil.walk_packages(core.__path__, "core.") if row.name.endswith("questions")]
    kinds = [kind for name in names for kind in vars(importlib.import_module(name)).values()]
    questions = {kind for kind in kinds if isinstance(kind, type) and dataclasses.is_dataclass(kind)}
    assert {"FigureTask", "LayersTask", "MapsTask"} < {kind.__name__ for kind in questions}
    assert not {field for kind in questions for field in sets_in(kind)}

    @dataclasses.dataclass
    class Wrong:
        words: tuple[frozenset[str], ...]

    assert len(sets_in(Wrong)) == 1


@pytest.mark.django_db
def test_the_demo_brings_what_its_screens_show_at_first() -> None:
    held = json.loads(TARGET.read_text())
    # Otherwise: python -m tools.make_demo_results
    assert held["made_with"] == {"model": MODEL, "seeing": SEEING}
    for _ in range(2):
        call_command("loaddemo", "ines")
    assert set(held["results"]) <= set(Result.objects.values_list("key", flat=True))
