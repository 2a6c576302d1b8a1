import threading
import time

import pytest

from server.api.memo import SingleFlightCache


def test_what_many_ask_for_at_once_is_made_once() -> None:
    kept: SingleFlightCache[str, int] = SingleFlightCache(2)
    made = []

    def make() -> int:
        time.sleep(0.05)
        made.append(1)
        return 7

    answers: list[int] = []
    threads = [threading.Thread(target=lambda: answers.append(kept.get("a", make))) for _ in range(6)]
    for thread in threads:
        thread.start()
    for thread in threads:
        thread.join()
    assert answers == [7] * 6
    assert len(made) == 1


def test_the_oldest_is_forgotten_and_a_failure_is_not_kept() -> None:
    kept: SingleFlightCache[str, int] = SingleFlightCache(2)
    for number, key in enumerate("abc"):
        kept.put(key, number)
    assert kept.get("a", lambda: 9) == 9
    with pytest.raises(ZeroDivisionError):
        kept.get("d", lambda: 1 // 0)
    assert kept.get("d", lambda: 4) == 4
