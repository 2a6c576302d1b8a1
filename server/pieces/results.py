"""What was worked out, kept by the digest of everything that it depends on: rebuilt when missing, safe to delete."""

from __future__ import annotations

import itertools
import logging
import threading
import time
from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass
from typing import Any, Generic, TypeVar

from django.db import DatabaseError, connection
from pydantic import ValidationError

from server.api.memo import SingleFlightCache, digest
from server.api.values import adapter_of, encode
from server.pieces.models import Result

log = logging.getLogger(__name__)

MOST = 40_000
"""Results that are kept. Beyond that the oldest quarter goes."""
_LOOKED_AT = 64
"""After so many times something was kept it is looked whether that is too much."""
_AT_ONCE = 500

T = TypeVar("T")


class ResultCache(Generic[T]):
    """Results of one type, in memory and in the database.

    about: what all of them depend on besides their content, such as the version of the model that gives them.
    """

    def __init__(self, kind: Any, *about: object) -> None:
        self._kind, self._about = kind, about
        self._memory: SingleFlightCache[str, T] = SingleFlightCache(4000)

    def key(self, content: object) -> str:
        """The key of the result that follows from this content."""
        return digest(*self._about, content)

    def get_many(self, contents: Sequence[object], make: Callable[[list[int]], Sequence[T]]) -> list[T]:
        """The results of contents. `make` is given the places of those that nobody has worked out yet."""
        return self.get_keyed([self.key(content) for content in contents], make)

    def get_keyed(self, keys: Sequence[str], make: Callable[[list[int]], Sequence[T]]) -> list[T]:
        """As `get_many`, by keys that are known."""

        def find(missing: list[int]) -> list[T]:
            held = self._held([keys[i] for i in missing])
            new = [i for i in missing if keys[i] not in held]
            fresh = dict(zip([keys[i] for i in new], make(new) if new else [], strict=True))
            self._keep(fresh)
            return [held[keys[i]] if keys[i] in held else fresh[keys[i]] for i in missing]

        return self._memory.get_many(keys, find)

    def get(self, content: object, make: Callable[[], T]) -> T:
        """The result of one content."""
        return self.get_many([content], lambda _: [make()])[0]

    def kept(self, key: str) -> T | None:
        """The result with this key, if it is still there."""
        found = self._memory.peek(key)
        return self._held([key]).get(key) if found is None else found

    def forget(self) -> None:
        """Leave the memory to the database alone."""
        self._memory.clear()

    def _held(self, keys: Sequence[str]) -> dict[str, T]:
        found: dict[str, T] = {}
        for some in _batches(keys):
            for key, held in Result.objects.filter(key__in=some).values_list("key", "held"):
                try:
                    found[key] = adapter_of(self._kind).validate_python(held)
                except ValidationError:
                    log.warning("result %s cannot be read and is worked out anew", key)
        return found

    def _keep(self, fresh: dict[str, T]) -> None:
        _writer.add([_Fresh(key, self._kind, held) for key, held in fresh.items()])


@dataclass(frozen=True, slots=True, eq=False)
class _Fresh:
    """A result that is still to be written; kind: its type."""

    key: str
    kind: Any
    held: Any


class Writer:
    """Writes results to the database: at once, or from time to time by a thread once it is started, so that nobody who
    asks for something waits for the disk."""

    EVERY_S = 1.0

    def __init__(self) -> None:
        self._waiting: list[_Fresh] = []
        self._lock = threading.Lock()
        self._apart = False
        self._times = itertools.count(1)

    def start(self) -> None:
        """From now on results are written by a thread. Those not yet written when the process ends are lost."""
        self._apart = True
        threading.Thread(target=self._run, name="results", daemon=True).start()

    def add(self, rows: list[_Fresh]) -> None:
        """Have results written."""
        if not rows:
            return
        with self._lock:
            self._waiting += rows
        if not self._apart:
            self.flush()

    def flush(self) -> None:
        """Write what waits."""
        with self._lock:
            rows, self._waiting = self._waiting, []
        if not rows:
            return
        try:
            if self._apart:
                # What is lost with the power is worked out again, so nobody waits until the disk has it.
                with connection.cursor() as cursor:
                    cursor.execute("PRAGMA synchronous=NORMAL")
            found = [Result(key=row.key, held=encode(row.kind, row.held)) for row in rows]
            Result.objects.bulk_create(found, ignore_conflicts=True)
            if next(self._times) % _LOOKED_AT == 0:
                prune()
        except DatabaseError as error:
            # On a full disk it is worked out again each time: reading goes on.
            log.warning("results could not be kept (%s)", error)

    def _run(self) -> None:
        while True:
            time.sleep(self.EVERY_S)
            try:
                self.flush()
            except Exception:
                # What cannot be written is worked out again; the thread goes on for the others.
                log.exception("results could not be written")


_writer = Writer()
start_writing = _writer.start


def put_in(rows: Mapping[str, Any]) -> None:
    """Keeps results that were worked out elsewhere, by their keys, as the database holds them."""
    found = [Result(key=key, held=held) for key, held in rows.items()]
    Result.objects.bulk_create(found, batch_size=_AT_ONCE, ignore_conflicts=True)


def _batches(keys: Sequence[str]) -> list[Sequence[str]]:
    return [keys[i : i + _AT_ONCE] for i in range(0, len(keys), _AT_ONCE)]


def prune(most: int = MOST) -> int:
    """Delete the oldest results beyond `most`, and a quarter more, so that it is seldom needed. Returns how many."""
    over = Result.objects.count() - most
    if over <= 0:
        return 0
    oldest = Result.objects.order_by("made", "key").values("key")[: over + most // 4]
    return Result.objects.filter(key__in=list(oldest.values_list("key", flat=True))).delete()[0]
