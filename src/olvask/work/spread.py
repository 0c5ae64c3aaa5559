"""Where work is done: here, on worker processes of this machine, or on the workers of a dask scheduler.

- `Spread`: hands out batches of work and tells each as it comes back; closing the iterator ends what is left.
- `Here`, `Processes`, `Scheduler`: the three.
- `spread_of`: the one that is asked for.
- `OtherOlvask`, `NoScheduler`: what can stand in the way.
"""

from __future__ import annotations

import multiprocessing
import os
import socket
from collections import deque
from collections.abc import Callable, Generator, Iterable, Iterator
from concurrent.futures import FIRST_COMPLETED, Future, ProcessPoolExecutor, wait
from concurrent.futures.process import BrokenProcessPool
from functools import partial
from itertools import islice
from typing import Any, Protocol, TypeVar
from urllib.parse import urlsplit

from olvask.store.cards import rules

Item = TypeVar("Item")
Result = TypeVar("Result")
Batch = tuple[Item, ...]
Done = tuple[Batch[Item], tuple[Result, ...] | None]
Task = Callable[[Batch[Item]], tuple[Result, ...]]

AHEAD = 2  # batches handed out for each worker: one in work, one waiting, so that no worker ever stands
BLAMED = 2  # a batch of one that took two workers along, alone with them, is what did it; our own estimate
CONNECT_S = 10.0  # a scheduler on the same network answers in far less; our own estimate
WORD = "a worker runs another Olvask than this server; install the same on both, or start the server anew"


class OtherOlvask(RuntimeError):
    """A worker judges by other rules than this server."""

    def __init__(self, said: str = WORD) -> None:  # a process hands its words on when it tells another of it
        super().__init__(said)


class NoScheduler(RuntimeError):
    """There is no scheduler at the address, it has no workers, or what speaks to it is not installed."""


class Spread(Protocol):
    """Hands out work."""

    workers: int

    def each(self, task: Task[Item, Result], batches: Iterable[Batch[Item]]) -> Iterator[Done[Item, Result]]:
        """Every batch with its results, as they come back; `None` for one thing that takes its worker along.

        Args:
            task: works on a batch; a function of a module, so that a worker can find it.
            batches: taken only as there is room.

        Raises:
            OtherOlvask: a worker's rules are not this server's.
            NoScheduler: the scheduler is gone.
        """
        ...


def _checked(task: Task[Item, Result], expected: str, batch: Batch[Item]) -> tuple[Result, ...]:
    """Work on a batch where the rules are those of whoever asked."""
    if rules() != expected:
        raise OtherOlvask
    return task(batch)


class Here:
    """In the process that asks, one batch after the other."""

    workers = 1

    def each(self, task: Task[Item, Result], batches: Iterable[Batch[Item]]) -> Iterator[Done[Item, Result]]:
        """Every batch with its results."""
        for batch in batches:
            yield batch, task(batch)


class _Handing:
    """Which batches wait, which are out, and which are suspected of taking workers along."""

    def __init__(self, batches: Iterable[Batch[Any]], room: int) -> None:
        self._coming = iter(batches)
        self._suspects: deque[tuple[Batch[Any], int]] = deque()
        self._room = room

    def next(self, out: int) -> Iterator[tuple[Batch[Any], int]]:
        """What to hand out while `out` are out already, each with how often it was blamed: suspects only alone."""
        if self._suspects:
            if not out:
                yield self._suspects.popleft()
            return
        yield from ((batch, 0) for batch in islice(self._coming, max(0, self._room - out)))

    def not_taken(self, batch: Batch[Any], blamed: int) -> None:
        """It could not be handed out: nobody has worked on it."""
        self._suspects.append((batch, blamed))

    def lost(self, out: list[tuple[Batch[Any], int]]) -> list[Batch[Any]]:
        """A worker is gone with these out; what is certainly to blame."""
        alone = len(out) == 1
        to_blame: list[Batch[Any]] = []
        for batch, blamed in out:
            if not alone or blamed + 1 < BLAMED:
                self._suspects.append((batch, blamed + alone))
            elif len(batch) > 1:
                self._suspects.extend(((one,), 0) for one in batch)
            else:
                to_blame.append(batch)
        return to_blame


class Processes:
    """On worker processes of this machine, made anew for each piece of work and gone with it."""

    def __init__(self, workers: int) -> None:
        """Use so many."""
        self.workers = workers

    def each(self, task: Task[Item, Result], batches: Iterable[Batch[Item]]) -> Generator[Done[Item, Result]]:
        """Every batch with its results; a process that is lost is replaced, what it held is done by others."""
        handing = _Handing(batches, AHEAD * self.workers)
        work = partial(_checked, task, rules())
        pool = self._pool()
        out: dict[Future[Any], tuple[Batch[Item], int]] = {}
        try:
            while True:
                try:
                    for batch, blamed in handing.next(len(out)):
                        try:
                            out[pool.submit(work, batch)] = (batch, blamed)
                        except BrokenProcessPool:
                            handing.not_taken(batch, blamed)
                            raise
                    if not out:
                        return
                    for future in wait(out, return_when=FIRST_COMPLETED).done:
                        result = future.result()
                        yield out.pop(future)[0], result
                except BrokenProcessPool:
                    # What came back before the loss counts; the rest is suspected.
                    back = {future: item for future, item in out.items() if _came_back(future)}
                    for future, (batch, _) in back.items():
                        yield batch, future.result()
                    to_blame = handing.lost([item for future, item in out.items() if future not in back])
                    out.clear()
                    pool.shutdown(wait=False, cancel_futures=True)
                    pool = self._pool()
                    yield from ((batch, None) for batch in to_blame)
        finally:
            _end(pool)

    def _pool(self) -> ProcessPoolExecutor:
        # Started anew, not forked: a fork of a server with threads may hold a lock for ever.
        return ProcessPoolExecutor(self.workers, mp_context=multiprocessing.get_context("spawn"))


def _came_back(future: Future[Any]) -> bool:
    return future.done() and not future.cancelled() and future.exception() is None


def _end(pool: ProcessPoolExecutor) -> None:
    """End a pool with what it still works on: nobody waits for it."""
    held: dict[int, Any] | None = getattr(pool, "_processes", None)
    processes = list((held or {}).values())
    pool.shutdown(wait=False, cancel_futures=True)
    for process in processes:
        process.terminate()


class Scheduler:
    """On the workers of a dask scheduler that runs somewhere already, each with the same Olvask."""

    def __init__(self, address: str) -> None:
        """Use the scheduler at `address`, such as tcp://yard.example:8786.

        Raises:
            NoScheduler: there is none, it has no worker, or dask is not installed.
        """
        self.address = address
        client = self._client()
        try:
            self.workers = len(client.scheduler_info(n_workers=-1)["workers"])
        finally:
            client.close()
        if not self.workers:
            raise NoScheduler(f"the scheduler at {address} has no worker; start some with “dask worker {address}”")

    def _client(self) -> Any:
        try:
            from distributed import Client
        except ImportError:
            raise NoScheduler("install olvask[scheduler] to use a scheduler") from None
        try:
            _knock(self.address)
            found: Any = Client(self.address, timeout=CONNECT_S, set_as_default=False)  # type: ignore[no-untyped-call]  # as below
            return found
        except (OSError, ValueError) as error:
            raise NoScheduler(f"no scheduler answers at {self.address}: {error}") from None

    def each(self, task: Task[Item, Result], batches: Iterable[Batch[Item]]) -> Generator[Done[Item, Result]]:
        """Every batch with its results; what a lost worker held the scheduler gives to others."""
        from distributed import KilledWorker, as_completed

        handing = _Handing(batches, AHEAD * self.workers)
        client = self._client()
        out: dict[Any, tuple[Batch[Item], int]] = {}
        try:
            came: Any = as_completed(loop=client.loop)  # type: ignore[no-untyped-call]  # the package does not say
            while True:
                for batch, blamed in handing.next(len(out)):
                    future = client.submit(_checked, task, rules(), batch, pure=False)
                    out[future] = (batch, blamed)
                    came.add(future)
                if not out:
                    return
                future = next(came)
                item = out.pop(future)
                try:
                    result = future.result()
                except KilledWorker:  # with it alone: the scheduler has tried it on several
                    yield from ((batch, None) for batch in handing.lost([(item[0], BLAMED)]))
                    continue
                yield item[0], result
        except OSError as error:
            raise NoScheduler(f"the scheduler at {self.address} is gone: {error}") from None
        finally:
            client.cancel(list(out), force=True)
            client.close()


def _knock(address: str) -> None:
    """See that somebody listens at an address, before a client is made that may wait for ever where nobody does.

    Args:
        address: of a scheduler.

    Raises:
        OSError: nobody does.
        ValueError: it is no address of a host and a port.
    """
    place = urlsplit(address if "//" in address else f"tcp://{address}")
    if place.hostname is None or place.port is None:
        raise ValueError("an address is such as tcp://yard.example:8786")
    socket.create_connection((place.hostname, place.port), CONNECT_S).close()


def spread_of(workers: int, scheduler: str = "") -> Spread:
    """Where work over the yard is to be done.

    Args:
        workers: processes; 0 for the process that asks.
        scheduler: address of a dask scheduler; empty for none.

    Raises:
        NoScheduler: it cannot be used.
    """
    if scheduler:
        return Scheduler(scheduler)
    return Processes(min(workers, os.cpu_count() or 1)) if workers else Here()
