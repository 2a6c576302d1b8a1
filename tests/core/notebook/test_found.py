"""What was noted is found by words, kinds and colour."""

import pytest

from core.notebook.found import Entry, found

ENTRIES = (
    Entry(
        "recipe", "cheek, lit, Mairen", "L32 burnt sienna, light", ("Coloured pencil", "tan"), 1.0, (70.0, 18.0, 22.0)
    ),
    Entry("recipe", "chin, Odelo", "L52 dark umber, heavy", ("Coloured pencil", "deep"), 3.0, (30.0, 10.0, 12.0)),
    Entry("plan", "Odelo in Night watch", "deep, six layers", ("Paper, white",), 2.0, (40.0, 12.0, 16.0)),
    Entry("note", "Next time: Night watch", "a darker, more neutral brown at the jaw; Ünder it violet", (), 4.0),
)


def titles(*asked: object, **more: object) -> list[str]:
    return [hit.entry.title for hit in found(ENTRIES, *asked, **more)]  # type: ignore[arg-type]


@pytest.mark.parametrize(
    ("text", "expected"),
    [
        ("", ["Next time: Night watch", "chin, Odelo", "Odelo in Night watch", "cheek, lit, Mairen"]),
        ("deep", ["chin, Odelo", "Odelo in Night watch"]),
        ("DEEP umb", ["chin, Odelo"]),
        ("l52", ["chin, Odelo"]),
        ('"burnt sienna"', ["cheek, lit, Mairen"]),
        ('"sienna burnt"', []),
        ("under violet", ["Next time: Night watch"]),
        ("ale", []),
        ("recipe tan", ["cheek, lit, Mairen"]),
        ("…", ["Next time: Night watch", "chin, Odelo", "Odelo in Night watch", "cheek, lit, Mairen"]),
    ],
)
def test_every_word_must_begin_a_word_and_the_latest_come_first(text: str, expected: list[str]) -> None:
    assert titles(text) == expected


def test_a_colour_brings_the_nearest_first_and_leaves_out_what_has_none() -> None:
    assert titles(lab=(31.0, 10.0, 12.0)) == ["chin, Odelo", "Odelo in Night watch", "cheek, lit, Mairen"]
    first, *_ = found(ENTRIES, lab=(30.0, 10.0, 12.0))
    assert first.off == 0
    assert titles("", ("plan", "note"), (31.0, 10.0, 12.0)) == ["Odelo in Night watch"]


def test_kinds_and_the_most_there_are_shown_at_once() -> None:
    assert titles("", ("note", "plan")) == ["Next time: Night watch", "Odelo in Night watch"]
    assert len(found(ENTRIES, most=2)) == 2 and found((), "deep", lab=(50.0, 0.0, 0.0)) == []
