"""Data folders for servers that something happens to."""

from __future__ import annotations

import os
import shutil
import subprocess
import sys
from pathlib import Path

import pytest

from tests.conftest import ROOT


def pytest_collection_modifyitems(items: list[pytest.Item]) -> None:
    """In one process after each other, so that the folder is prepared once."""
    here = Path(__file__).parent
    for item in items:
        if here in item.path.parents:
            item.add_marker(pytest.mark.xdist_group("faults"))


@pytest.fixture(scope="session")
def prepared(tmp_path_factory: pytest.TempPathFactory) -> Path:
    """A data folder with a small piece in it, to be copied."""
    data = tmp_path_factory.mktemp("prepared") / "data"
    command = [sys.executable, "-m", "tests.server.faults.small"]
    done = subprocess.run(
        command, cwd=ROOT, env=os.environ | {"CALTIN_DATA": str(data)}, capture_output=True, check=False
    )
    assert done.returncode == 0, done.stderr
    return data


@pytest.fixture
def data(prepared: Path, tmp_path: Path) -> Path:
    """A data folder of one's own with a small piece in it."""
    return Path(shutil.copytree(prepared, tmp_path / "data"))
