"""Write the demo's history of practice: `python -m tools.make_demo_practice`.

Eight weeks of an artist who is not there: eye whites are seen too light, darks too, shadow hues too warm, all less so
from week to week.
"""

from __future__ import annotations

import json
from dataclasses import asdict

import numpy as np

from core.exchange.tray_csv import read_tray
from core.practice.asked import Kind, Question, marked
from core.practice.rounds import Asking, make_round
from core.practice.standing import DAY, Answer
from tools.site import ROOT

RANGE = "long-pier-72"
KINDS: tuple[Kind, ...] = ("value", "hue", "chroma", "stick")
WEEKS, ROUNDS = 8, 3
_TOO_LIGHT = {"eye whites": 2.3, "darks": 1.2, "middles": 0.1, "lights": -0.1}
"""Steps of value at the beginning."""
_TOO_WARM, _SPREAD, _LEFT = 9.0, 0.9, 0.45
"""Degrees at the beginning; steps by which a guess scatters; what is left of all of it at the end."""
_SEES = 0.8
"""How often a hard choice is made rightly in the end."""


def _guess(question: Question, fade: float, rng: np.random.Generator) -> float:
    if question.kind == "value":
        lean = _TOO_LIGHT[question.group] * fade
        return float(np.clip(round(2 * (question.truth + lean + rng.normal(0, _SPREAD * fade))) / 2, 0, 10))
    if question.kind in ("hue", "chroma"):
        lean = _TOO_WARM * fade if question.group == "shadow hues" and question.kind == "hue" else 0.0
        seen = question.truth + lean + rng.normal(0, 6 * fade)
        return 0.0 if abs(seen) < 2.0 else float(np.sign(seen))
    if rng.random() < _SEES * (1.4 - fade):
        return question.truth
    return float(rng.integers(len(question.choices)))


def main() -> None:
    sticks = read_tray((ROOT / f"demo/ranges/{RANGE}.csv").read_bytes()).sticks
    rng = np.random.default_rng(41)
    answers: list[Answer] = []
    kept = []
    for number in range(WEEKS * ROUNDS):
        at = (number / ROUNDS) * 7 * DAY
        fade = 1 - (1 - _LEFT) * number / (WEEKS * ROUNDS - 1)
        made = make_round(Asking((), sticks, (), tuple(answers), at, KINDS, ("study head", "patches"), 900 + number))
        rows = []
        for question in made.questions:
            guess = _guess(question, fade, rng)
            error = marked(question, guess).error
            answers.append(Answer(question.kind, question.group, error, at))
            rows.append({"question": asdict(question), "guess": round(guess, 2), "error": error})
        kept.append({"days_ago": round((WEEKS * 7 * DAY - at) / DAY - 1, 2), "answers": rows})
    (ROOT / "demo/practice.json").write_text(json.dumps(kept, ensure_ascii=False, separators=(",", ":")) + "\n")


if __name__ == "__main__":
    main()
