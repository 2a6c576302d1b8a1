"""A small memory of what was costly to make, shared by everybody who asks for it; and names for content."""

from __future__ import annotations

import hashlib
from collections import OrderedDict
from collections.abc import Callable, Hashable, Sequence
from threading import Lock
from typing import Generic, TypeVar

K = TypeVar("K", bound=Hashable)
V = TypeVar("V")


def digest(*parts: object) -> str:
    """A short name for the content of plain values and frozen dataclasses of them: it differs where any of it does."""
    return hashlib.sha256(repr(parts).encode("utf-8", "surrogatepass")).hexdigest()[:32]


class SingleFlightCache(Generic[K, V]):
    """The latest `most` values by key. Safe between threads: who asks for what is being made waits for it."""

    def __init__(self, most: int) -> None:
        self._most = most
        self._held: OrderedDict[K, V] = OrderedDict()
        self._making: dict[K, Lock] = {}
        self._lock = Lock()

    def get(self, key: K, make: Callable[[], V]) -> V:
        """The value of a key, made if it is not at hand."""
        with self._lock:
            if key in self._held:
                self._held.move_to_end(key)
                return self._held[key]
            making = self._making.setdefault(key, Lock())
        try:
            with making:
                with self._lock:
                    if key in self._held:
                        return self._held[key]
                value = make()
                self.put(key, value)
                return value
        finally:
            with self._lock:
                self._making.pop(key, None)

    def peek(self, key: K) -> V | None:
        """The value of a key if it is at hand."""
        with self._lock:
            return self._held.get(key)

    def get_many(self, keys: Sequence[K], make: Callable[[list[int]], Sequence[V]]) -> list[V]:
        """The values of keys. `make` is given the places of those that are not at hand, and makes them at once."""
        with self._lock:
            found = {key: self._held[key] for key in keys if key in self._held}
        missing = [i for i, key in enumerate(keys) if key not in found]
        for i, value in zip(missing, make(missing) if missing else [], strict=True):
            self.put(keys[i], value)
            found[keys[i]] = value
        return [found[key] for key in keys]

    def put(self, key: K, value: V) -> None:
        """Remember a value, and forget the oldest if there are too many."""
        with self._lock:
            self._held[key] = value
            self._held.move_to_end(key)
            while len(self._held) > self._most:
                self._held.popitem(last=False)

    def clear(self) -> None:
        """Forget everything."""
        with self._lock:
            self._held.clear()
