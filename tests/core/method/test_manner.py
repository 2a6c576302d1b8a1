import pytest

from core.method.manner import manner
from core.optics.medium import Pass


@pytest.mark.parametrize(
    ("pass_", "medium", "said"),
    [
        (Pass("a", "medium", 2), "pencil", "medium, twice over"),
        (Pass("a", "heavy", 1, "burnish"), "pencil", "burnish, heavy, once over"),
        (Pass("a", "light", 1), "marker", "one coat, let it dry"),
        (Pass("a", "light", 2, "wet"), "marker", "worked in wet, two coats"),
        (Pass("putty", "light", 3, "lift"), None, "dab colour off, light, three times"),
        (Pass("a"), None, "light, once over"),
    ],
)
def test_a_pass_is_said_as_an_artist_would(pass_: Pass, medium: str | None, said: str) -> None:
    assert manner(pass_, medium) == said
