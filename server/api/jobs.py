"""Long work as jobs: done in processes of their own at low priority, so that nothing else waits.

Whoever asks gets the results if they are there in a moment, else hears how far they are (`Underway`, an answer with
status 202), asks after the job by its key, which costs next to nothing, and then for the same again. Equal questions
share one job. Jobs take turns, a step each, so that a short one need not wait for a long one to end; and what is looked
at has a lane, which is a process, of its own beside what is planned. A job that nobody asks for any more is given up;
one that was lost with its process, or with the server, is begun anew by the next asking.
"""

from __future__ import annotations

import atexit
import logging
import multiprocessing
import os
import threading
import time
from collections import deque
from collections.abc import Callable, Sequence
from concurrent.futures import CancelledError, Future, ProcessPoolExecutor, wait
from concurrent.futures.process import BrokenProcessPool
from dataclasses import dataclass, field
from enum import StrEnum
from functools import partial
from typing import Any, Generic, TypeVar

log = logging.getLogger(__name__)

T = TypeVar("T")

PATIENCE_S = 0.4
"""How long who asks waits for a job before being told how far it is."""
GIVEN_UP_AFTER_S = 10.0
"""After how long without being asked for a job is given up."""
_MOST_LOST = 3
_AHEAD = 2
"""Steps of a lane that its process has at once: the one it does, and the next, so that it need not wait for it."""


class Lane(StrEnum):
    """What a process is kept for: plans and maps, or what is looked at, such as pictures and layers as they are."""

    PLANS = "plans"
    PICTURES = "pictures"


NICE = {Lane.PLANS: 19, Lane.PICTURES: 5}
"""How far a lane steps back behind the answers that are given at once; somebody is looking at the pictures."""


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
    lane: Lane
    steps: list[tuple[Step[Any], Future[Any]]]
    asked: float = field(default_factory=time.monotonic)

    @property
    def futures(self) -> list[Future[Any]]:
        return [future for _, future in self.steps]


class _Process:
    """The process of a lane, and the jobs that take turns in it."""

    def __init__(self, lane: Lane) -> None:
        # Forked from one that has loaded the computation: a lane costs little, and is back at once when it was lost.
        context = multiprocessing.get_context("forkserver")
        self._pool = ProcessPoolExecutor(1, context, initializer=_begin, initargs=(NICE[lane],))
        self._turns: deque[deque[tuple[Step[Any], Future[Any]]]] = deque()
        self._running = 0
        self._gone: BrokenProcessPool | None = None
        self._lock = threading.RLock()

    def add(self, job: _Job) -> None:
        """Let a job take turns with the others."""
        with self._lock:
            self._turns.append(deque(job.steps))
            self._feed()

    def end(self) -> None:
        """Take on nothing more."""
        with self._lock:
            self._gone = BrokenProcessPool("the process was ended")
            self._feed()
        self._pool.shutdown(wait=False, cancel_futures=True)

    def _feed(self) -> None:
        """Give the process what it can take, a step of each job in turn; or tell the jobs that it is gone."""
        while self._turns and (self._gone or self._running < _AHEAD):
            steps = self._turns.popleft()
            step, future = steps.popleft()
            if steps:
                self._turns.append(steps)
            if not future.set_running_or_notify_cancel():
                continue
            if self._gone:
                future.set_exception(self._gone)
                continue
            try:
                done = self._pool.submit(step.function, *step.arguments)
            except BrokenProcessPool as error:
                self._gone = error
                future.set_exception(error)
                continue
            self._running += 1
            done.add_done_callback(partial(self._finished, future=future))

    def _finished(self, done: Future[Any], future: Future[Any]) -> None:
        error = CancelledError() if done.cancelled() else done.exception()
        with self._lock:
            self._running -= 1
            if isinstance(error, BrokenProcessPool | CancelledError):
                self._gone = BrokenProcessPool("the process is gone")
                error = self._gone
            self._feed()
        if error:
            future.set_exception(error)
        else:
            future.set_result(done.result())


class Jobs:
    """The one queue. Until `start` is called every job is done at once by who asks for it, as chores and tests want."""

    def __init__(self) -> None:
        self._processes: dict[Lane, _Process] = {}
        self._apart = False
        self._jobs: dict[str, _Job] = {}
        self._lost: dict[str, int] = {}
        self._lock = threading.Lock()

    def start(self) -> None:
        """From now on jobs are done in processes of their own. They are made ready meanwhile."""
        self._apart = True
        multiprocessing.set_forkserver_preload(_LOADED)
        threading.Thread(target=self._make_ready, name="jobs, first", daemon=True).start()
        threading.Thread(target=self._give_up, name="jobs", daemon=True).start()
        atexit.register(self.stop)

    def _make_ready(self) -> None:
        with self._lock:
            for lane in Lane:
                self._process(lane).add(_Job(lane, [(Step(_ready, ()), Future())]))

    def stop(self) -> None:
        """End the processes and everything in them."""
        with self._lock:
            processes = list(self._processes.values())
            self._processes.clear()
            self._jobs.clear()
        for process in processes:
            process.end()
        for child in multiprocessing.active_children():
            child.kill()

    def do(self, key: str, steps: Sequence[Step[T]], lane: Lane = Lane.PLANS) -> list[T]:
        """The results of the steps of a job. key: equal for equal questions.

        Raises Underway while they are not finished, and what a step raises.
        """
        if not self._apart:
            return [step() for step in steps]
        try:
            futures = self._asked_for(key, steps, lane)
            wait(futures, PATIENCE_S)
            finished = [future for future in futures if future.done()]
            for future in finished:
                future.result()  # a step that went wrong ends the job: what it raised is said to everybody who asks
            if len(finished) < len(futures):
                raise Underway(key, len(finished), len(futures))
            results = [future.result() for future in futures]
        except BrokenProcessPool:
            self._lose(key, lane)
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

    def wait(self, key: str, step: Step[T], lane: Lane = Lane.PICTURES) -> T:
        """The result of a job of one short step, however long it takes: for what cannot be asked for again, such as
        the answer to a write, or a picture that a page shows. Raises what the step raises."""
        while True:
            try:
                return self.do(key, [step], lane)[0]
            except Underway:
                continue

    def _lose(self, key: str, lane: Lane) -> None:
        """A process is gone and takes its jobs along. Raises RuntimeError for a job that does this every time."""
        log.warning("the process for %s was lost; its jobs are begun anew", lane)
        with self._lock:
            if lost := self._processes.pop(lane, None):
                lost.end()
            self._jobs = {other: job for other, job in self._jobs.items() if job.lane is not lane}
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
        futures = job.futures
        wait(futures, PATIENCE_S)
        return sum(future.done() for future in futures), len(futures)

    def cancel(self, key: str) -> None:
        """Give a job up."""
        self._forget(key)

    def _asked_for(self, key: str, steps: Sequence[Step[Any]], lane: Lane) -> list[Future[Any]]:
        with self._lock:
            job = self._jobs.get(key)
            if job is None:
                job = self._jobs[key] = _Job(lane, [(step, Future()) for step in steps])
                self._process(lane).add(job)
            job.asked = time.monotonic()
            return job.futures

    def _forget(self, key: str) -> None:
        with self._lock:
            job = self._jobs.pop(key, None)
            self._lost.pop(key, None)
        for future in job.futures if job else ():
            future.cancel()

    def _process(self, lane: Lane) -> _Process:
        """The process of a lane, made anew where there is none; under the lock."""
        if lane not in self._processes:
            self._processes[lane] = _Process(lane)
        return self._processes[lane]

    def _give_up(self) -> None:
        while True:
            time.sleep(GIVEN_UP_AFTER_S / 4)
            with self._lock:
                late = time.monotonic() - GIVEN_UP_AFTER_S
                keys = [key for key, job in self._jobs.items() if job.asked < late]
            for key in keys:
                self._forget(key)


jobs = Jobs()

_LOADED = ["core.plan.questions", "core.look.questions"]
"""What most jobs need."""


def _begin(nice: int) -> None:
    """What a process does first: step back behind everything else, and end with its parent."""
    os.nice(nice)
    parent = multiprocessing.parent_process()

    def watch() -> None:
        if parent is not None:
            parent.join()
        os._exit(0)

    threading.Thread(target=watch, name="parent", daemon=True).start()


def _ready() -> None:
    """Nothing: a process is there once it has done this."""
