import hashlib
from importlib.resources import files
from pathlib import Path
from typing import get_args

import numpy as np
import pytest

from core.light import model
from core.light.model import ModelError, ModelName, study_model
from core.look.roles import PLACES

NAMES: tuple[ModelName, ...] = get_args(ModelName)


@pytest.mark.parametrize("name", NAMES)
def test_a_model_says_something_of_every_vertex(name: ModelName) -> None:
    held = study_model(name)
    count = len(held.vertices)
    assert held.triangles.max() == count - 1
    assert set(held.places) <= set(PLACES)
    assert held.weights.sum(axis=1) == pytest.approx(np.ones(count), abs=1e-5)
    for rows in (held.normals, held.transfer, held.horizon, held.ceiling, held.over, held.plane):
        assert len(rows) == count
        assert np.isfinite(rows).all()
    assert (held.weights.max(axis=0) > 0.5).all()


def test_the_files_are_small_and_their_notice_lies_beside_them() -> None:
    folder = Path(str(files("core.light"))) / "data"
    size = {name: (folder / f"{name}.npz").stat().st_size for name in NAMES}
    assert size["bust"] <= 1_000_000
    assert sum(size.values()) <= 2_500_000
    assert "CC0" in (folder / "NOTICE.md").read_text()


def test_the_head_is_symmetric_to_the_last_bit() -> None:
    bust = study_model("bust")
    kept = (bust.vertices[:, 0] >= 0).sum()
    aside = np.flatnonzero(bust.vertices[:kept, 0] > 0)
    assert len(bust.vertices) == kept + len(aside)
    assert (bust.vertices[kept:] == bust.vertices[aside] * np.float32([-1, 1, 1])).all()
    assert (bust.horizon[kept:] == bust.horizon[aside]).all()
    assert bust.openness[kept:] == pytest.approx(bust.openness[aside])


def test_a_crown_is_open_and_a_nostril_hardly() -> None:
    bust = study_model("bust")
    crown = int(bust.vertices[:, 1].argmax())
    assert bust.openness[crown] > 0.97
    assert bust.horizon[crown].max() < 0.1
    nostril = bust.weights[:, bust.places.index("nostril")] > 0.6
    forehead = bust.weights[:, bust.places.index("forehead")] > 0.8
    assert np.median(bust.openness[nostril]) < 0.6 < 0.9 < np.median(bust.openness[forehead])


def test_a_missing_or_damaged_file_is_said_plainly(monkeypatch: pytest.MonkeyPatch, tmp_path: Path) -> None:
    (tmp_path / "data").mkdir()
    monkeypatch.setattr(model, "files", lambda _: tmp_path)
    for content in (None, b"", b"PK no archive"):
        study_model.cache_clear()
        if content is not None:
            (tmp_path / "data/bust.npz").write_bytes(content)
        with pytest.raises(ModelError) as caught:
            study_model("bust")
        assert caught.value.code == "study_model_broken"
        assert "kept" in caught.value.hint
    study_model.cache_clear()


def test_the_right_file_of_another_making_is_not_taken(monkeypatch: pytest.MonkeyPatch, tmp_path: Path) -> None:
    """What tests and figures were made with is what is used."""
    content = Path(str(files("core.light")), "data/hand-flat.npz").read_bytes()
    assert hashlib.sha256(content).hexdigest() == model._DIGESTS["hand-flat"]
    (tmp_path / "data").mkdir()
    (tmp_path / "data/bust.npz").write_bytes(content)
    monkeypatch.setattr(model, "files", lambda _: tmp_path)
    study_model.cache_clear()
    with pytest.raises(ModelError):
        study_model("bust")
    study_model.cache_clear()
