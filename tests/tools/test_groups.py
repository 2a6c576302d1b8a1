"""What several processes share the tests by: the names of the tests, and the groups that one process runs alone."""

from __future__ import annotations

from collections import Counter

import pytest


@pytest.mark.xdist_group("itself")
def test_a_group_is_kept_together(request: pytest.FixtureRequest) -> None:
    # What is run at once is told apart by this end of its name: the versions of pytest and its plugin must fit.
    grouped = request.config.getoption("loadgroup", default=False)
    assert request.node.nodeid.endswith("@itself") or not grouped


def test_no_two_tests_have_one_name(request: pytest.FixtureRequest) -> None:
    # Of those that had, one would be run.
    names = Counter(item.nodeid for item in request.session.items)
    assert [name for name, count in names.items() if count > 1] == []
