"""Long work as jobs: done in a process of its own at low priority, one after the other, so that nothing else waits.

Whoever asks gets the results if they are there in a moment, else hears how far they are (`Underway`, an answer with
status 202), asks after the job by its key, which costs next to nothing, and then for the same again. Equal questions
share one job. A job that nobody asks for any more is given up; one that was lost with its process, or with the server,
is begun anew by the next asking.
"""

from __future__ import annotations

import atexit
import logging
import multiprocessing
import os
import threading
import time
from collections.abc import Callable, Sequence
from concurrent.futures import CancelledError, Future, ProcessPoolExecutor, wait
from concurrent.futures.process import BrokenProcessPool
from dataclasses import dataclass, field
from typing import Any, Generic, TypeVar

log = logging.getLogger(__name__)

T = TypeVar("T")

PATIENCE_S = 0.4
"""How long who asks waits for a job before being told how far it is."""
GIVEN_UP_AFTER_S = 10.0
"""After how long without being asked for a job is given up."""
_NICE = 19
_MOST_LOST = 3


class Underway(Exception):
    """The work is not finished. done of total: steps. key: of the job, by which it can be asked after or cancelled."""

    def __init__(self, key: str, done: int, total: int) -> None:
        super().__init__(f"{done} of {total}")
        self.key, self.done, self.total = key, done, total


@dataclass(frozen=True)
class Step(Generic[T]):
    """A part of a job: a function of a module, and its arguments, all of which another process can be told."""

    function: Callable[..., T]
    arguments: tuple[Any, ...]

    def __call__(self) -> T:
        return self.function(*self.arguments)


@dataclass
class _Job:
    futures: list[Future[Any]]
    asked: float = field(default_factory=time.monotonic)


class Jobs:
    """The one queue. Until `start` is called every job is done at once by who asks for it, as chores and tests want."""

    def __init__(self) -> None:
        self._pool: ProcessPoolExecutor | None = None
        self._apart = False
        self._jobs: dict[str, _Job] = {}
        self._lost: dict[str, int] = {}
        self._lock = threading.Lock()

    def start(self) -> None:
        """From now on jobs are done in a process of their own, which is made ready beforehand."""
        self._apart = True
        with self._lock:
            self._executor().submit(_ready)
        threading.Thread(target=self._give_up, name="jobs", daemon=True).start()
        atexit.register(self.stop)

    def stop(self) -> None:
        """End the process and everything in it."""
        with self._lock:
            pool, self._pool = self._pool, None
            self._jobs.clear()
        if pool:
            pool.shutdown(wait=False, cancel_futures=True)
            for process in multiprocessing.active_children():
                process.kill()

    def do(self, key: str, steps: Sequence[Step[T]]) -> list[T]:
        """The results of the steps of a job. key: equal for equal questions.

        Raises Underway while they are not finished, and what a step raises.
        """
        if not self._apart:
            return [step() for step in steps]
        try:
            futures = self._asked_for(key, steps)
            wait(futures, PATIENCE_S)
            finished = [future for future in futures if future.done()]
            for future in finished:
                future.result()  # a step that went wrong ends the job: what it raised is said to everybody who asks
            if len(finished) < len(futures):
                raise Underway(key, len(finished), len(futures))
            results = [future.result() for future in futures]
        except BrokenProcessPool:
            self._lose(key)
            raise Underway(key, 0, len(steps)) from None
        except CancelledError:
            # Given up by somebody else at this moment: the next asking begins it anew.
            raise Underway(key, 0, len(steps)) from None
        except Underway:
            raise
        except BaseException:
            self._forget(key)
            raise
        self._forget(key)
        return results

    def _lose(self, key: str) -> None:
        """The process is gone and takes its jobs along. Raises RuntimeError for a job that does this every time."""
        log.warning("the process for long work was lost; its jobs are begun anew")
        with self._lock:
            self._pool = None
            self._jobs.clear()
            self._lost[key] = self._lost.get(key, 0) + 1
            if self._lost[key] >= _MOST_LOST:
                del self._lost[key]
                raise RuntimeError("this job ends its process every time")

    def progress(self, key: str) -> tuple[int, int]:
        """How many steps of a job are done, and of how many, after waiting a moment for more; (0, 0) if there is no
        such job: it must be asked for again."""
        with self._lock:
            job = self._jobs.get(key)
            if job:
                job.asked = time.monotonic()
        if job is None:
            return 0, 0
        wait(job.futures, PATIENCE_S)
        return sum(future.done() for future in job.futures), len(job.futures)

    def cancel(self, key: str) -> None:
        """Give a job up."""
        self._forget(key)

    def _asked_for(self, key: str, steps: Sequence[Step[Any]]) -> list[Future[Any]]:
        with self._lock:
            job = self._jobs.get(key)
            if job is None:
                pool = self._executor()
                job = self._jobs[key] = _Job([pool.submit(step.function, *step.arguments) for step in steps])
            job.asked = time.monotonic()
            return job.futures

    def _forget(self, key: str) -> None:
        with self._lock:
            job = self._jobs.pop(key, None)
            self._lost.pop(key, None)
        for future in job.futures if job else ():
            future.cancel()

    def _executor(self) -> ProcessPoolExecutor:
        """The pool, made anew where there is none; under the lock."""
        if self._pool is None:
            context = multiprocessing.get_context("spawn")
            self._pool = ProcessPoolExecutor(1, context, initializer=_begin)
        return self._pool

    def _give_up(self) -> None:
        while True:
            time.sleep(GIVEN_UP_AFTER_S / 4)
            with self._lock:
                late = time.monotonic() - GIVEN_UP_AFTER_S
                keys = [key for key, job in self._jobs.items() if job.asked < late]
            for key in keys:
                self._forget(key)


jobs = Jobs()


def _begin() -> None:
    """What the process does first: step back behind everything else, and end with its parent."""
    os.nice(_NICE)
    parent = multiprocessing.parent_process()

    def watch() -> None:
        if parent is not None:
            parent.join()
        os._exit(0)

    threading.Thread(target=watch, name="parent", daemon=True).start()


def _ready() -> None:
    """Load what most jobs need."""
    import core.plan.questions  # noqa: F401
