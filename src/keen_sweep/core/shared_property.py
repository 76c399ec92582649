"""A property that is computed once and shared by threads.

functools.cached_property holds one lock for all instances up to Python 3.11, so that threads wait for each other's
scenes, and none from 3.12 on, so that two threads compute the same thing twice.
"""

from __future__ import annotations

from collections.abc import Callable
from threading import Lock
from typing import Any, Generic, TypeVar, overload

T = TypeVar("T")

# Held only while a lock of one instance and property is made.
_making = Lock()


class shared_property(Generic[T]):
    """A property that is computed by the first thread that reads it; others wait for it.

    An error is not stored: the next thread computes it again.

    Parameters
    ----------
    compute : callable
        Computes the value from the instance.
    """

    def __init__(self, compute: Callable[[Any], T]) -> None:
        self._compute = compute
        self.__doc__ = compute.__doc__

    def __set_name__(self, owner: type, name: str) -> None:
        self._name = name

    @overload
    def __get__(self, instance: None, owner: type) -> shared_property[T]: ...
    @overload
    def __get__(self, instance: object, owner: type) -> T: ...
    def __get__(self, instance: object | None, owner: type) -> shared_property[T] | T:
        if instance is None:
            return self
        # Once it is there Python finds it in the instance, and this is not called any more.
        kept, key = instance.__dict__, f"_lock of {self._name}"
        with _making:
            lock: Lock = kept.setdefault(key, Lock())
        with lock:
            if self._name not in kept:
                kept[self._name] = self._compute(instance)
            value: T = kept[self._name]
        return value
