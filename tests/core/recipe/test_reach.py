import pytest

from core.recipe.reach import beyond


@pytest.mark.parametrize(
    ("value", "distance", "word"),
    [
        (1.0, None, "1.0 value steps darker"),
        (9.8, None, "0.3 value steps lighter"),
        (5.0, 6.2, "within 6.2 ΔE"),
        (5.0, 2.0, ""),
        (5.0, None, ""),
        (1.96, None, ""),
    ],
)
def test_what_cannot_be_reached_is_said_with_its_reason(value: float, distance: float | None, word: str) -> None:
    said = beyond(value, 2.0, 9.5, distance)
    assert word in said
    assert bool(said) == bool(word)
