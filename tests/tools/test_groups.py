"""Tests of one group are run one after the other in one process, which alone prepares what they need."""

from __future__ import annotations

import pytest


@pytest.mark.xdist_group("itself")
def test_a_group_is_kept_together(request: pytest.FixtureRequest) -> None:
    # What is run at once is told apart by this end of its name: the versions of pytest and its plugin must fit.
    grouped = request.config.getoption("loadgroup", default=False)
    assert request.node.nodeid.endswith("@itself") or not grouped
