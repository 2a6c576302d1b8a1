import numpy as np
import pytest

from core.colour.difference import ciede2000
from core.exchange.tray_csv import read_tray
from core.plan.job_sticks import sticks_for
from core.plan.setup import lay_out_kit, usual_setup
from core.recipe.reach import under_a_light
from tests.conftest import ROOT

KIT = lay_out_kit(read_tray((ROOT / "demo/ranges/long-pier-72.csv").read_bytes()), usual_setup("pencil"))


def test_each_job_gets_the_stick_that_laid_alone_comes_nearest_or_nearly() -> None:
    jobs = [(60.0, 14, 22), (45.0, 15, 20), (28.0, 10, 8)]
    chosen = sticks_for(KIT, "pencil", jobs)
    for job, row in zip(jobs, chosen, strict=True):
        assert row.off == pytest.approx(float(ciede2000(np.array(job), np.array(row.lab))), abs=0.01)
        (alone,) = sticks_for(KIT, "pencil", [job])
        # A stranger is only passed over where it is less than 2 nearer.
        assert alone.off <= row.off + 1e-9 <= alone.off + 2.0 + 1e-6


def test_browns_serve_most_jobs_of_a_brown_skin_and_a_blue_bounce_is_left_to_a_stranger() -> None:
    *browns, blue = sticks_for(KIT, "pencil", [(58.0, 15, 22), (45.0, 15, 20), (36.0, 13, 16), (25.0, 4, -28)])
    assert all(row.of_family for row in browns)
    assert not blue.of_family


def test_without_sticks_or_jobs_there_is_none() -> None:
    assert sticks_for(KIT, "pastel", [(50.0, 10, 10)]) == ()
    assert sticks_for(KIT, "pencil", []) == ()


def test_what_a_light_asks_for_and_cannot_be_laid_is_said_with_what_to_do() -> None:
    out, said = under_a_light([0.8, 3.0, 9.9], 1.9, 9.5)
    assert out == (True, False, True)
    assert "raise the key" in said and "lower the key" in said
    assert under_a_light([2.0, 5.0], 1.9, 9.5) == ((False, False), "")
