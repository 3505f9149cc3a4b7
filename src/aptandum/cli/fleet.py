"""Work shared by a cluster: a Dask scheduler that is there already, and its workers, with nothing of ours in between.

Photos are read, and results written, by their paths on storage that all machines share; where they share none, photos
are sent along and results come back. A worker that is lost on the way has its files done again by another.
"""

from __future__ import annotations

import importlib
import logging
import os
import re
import tempfile
import threading
from collections.abc import Callable, Iterator
from concurrent.futures import CancelledError, Executor, Future
from contextlib import contextmanager
from importlib import metadata
from pathlib import Path
from typing import Annotated, Any

import typer

from aptandum.cli.console import UNREADABLE, Stop, err_line
from aptandum.core import threads
from aptandum.core.frozen import frozen
from aptandum.core.words import say, semicolons

Cluster = Annotated[
    str,
    typer.Option(
        "--cluster",
        metavar="ADDRESS",
        help=say("Share the work among the workers of a Dask scheduler, such as tcp://ship:8786."),
    ),
]
Send = Annotated[
    bool,
    typer.Option(
        "--send",
        help=say(
            "With --cluster: send photos along; the workers share no storage with this machine."
        ),
    ),
]

_SAME = ("aptandum", "numpy", "pyvips", "pyvips-binary", "Pillow", "opencv-python-headless", "simplejpeg", "imagequant", "pillow-heif", "pyjpegxl")  # fmt: skip
"""What has to be of one version everywhere, for files to be the same byte for byte."""
_ADDRESS = re.compile(r"((tcp|tls)://)?[^/\s:]+:\d{1,5}|((tcp|tls)://)\[[0-9a-fA-F:]+\]:\d{1,5}")
_PATIENCE = 10
"""Seconds in which a scheduler answers, or is not there."""
_LOOK = 5.0
"""Seconds between two looks at whether there are workers."""


def versions() -> dict[str, str]:
    """The versions of what makes pixels and bytes, as they are here."""
    import aptandum

    found = {}
    for name in _SAME[1:]:
        try:
            found[name] = metadata.version(name)
        except metadata.PackageNotFoundError:
            found[name] = ""
    return {"aptandum": aptandum.__version__, **found}


@contextmanager
def cluster(address: str) -> Iterator[tuple[Executor, int]]:
    """An executor of the cluster at an address, and how many workers it has.

    Raises:
        Stop: it cannot be used, which is said.
    """
    try:
        distributed: Any = importlib.import_module("distributed")
    except ImportError:
        _fail(say("--cluster needs another library: pip install aptandum[cluster]"))
    if _ADDRESS.fullmatch(address) is None:
        _fail(
            say(
                "There is no scheduler at {address}: an address is one such as tcp://ship:8786.",
                address=address,
            )
        )
    for name in logging.root.manager.loggerDict:  # what matters is told file by file
        if name.split(".")[0] == "distributed":  # each has a level of its own
            logging.getLogger(name).setLevel(logging.CRITICAL)
    try:
        client: Any = distributed.Client(address, timeout=_PATIENCE, set_as_default=False)
    except (OSError, ValueError, TimeoutError, ImportError) as error:
        why = str(error).split("\n")[0] or type(error).__name__
        _fail(say("There is no scheduler at {address}: {why}", address=address, why=why))
    try:
        many = _workers_of(client, address)
        with _watched(client, address):
            yield Tasks(client), many
    finally:
        client.close()


class Tasks(Executor):
    """Has each job done as a task of a Dask client.

    Dask has an executor too, but it takes a result for an error where the worker that has it goes while it is fetched.
    """

    def __init__(self, client: Any) -> None:
        self._client = client

    def submit(self, fn: Callable[..., Any], /, *args: Any, **more: Any) -> Future[Any]:
        """Hand it out; a worker that is lost has it done again by another."""
        made: Future[Any] = Future()
        made.set_running_or_notify_cancel()
        task = self._client.submit(fn, *args, **more, pure=False, retries=0)

        async def come() -> None:
            try:
                made.set_result(await task.result())  # in its own loop it is awaited
            except BaseException as error:  # a loop that ends cancels by what is no Exception
                # What was not raised by the job itself: it could not be fetched, for the scheduler went away.
                theirs = task.status == "error"
                made.set_exception(error if theirs else CancelledError(str(error)))

        self._client.loop.add_callback(come)
        return made


class Away(Exception):
    """The scheduler went away with what it had not given back; the words say so."""

    def __init__(self, address: str) -> None:
        super().__init__(
            say(
                "The scheduler at {address} went away, and with it what it had not given back.",
                address=address,
            )
        )


@contextmanager
def _watched(client: Any, address: str) -> Iterator[None]:
    """Say it when no worker is left, for the work then waits until one comes, and when there is one again."""
    ended = threading.Event()

    def look() -> None:
        none = False
        while not ended.wait(_LOOK):
            try:
                left = sum(client.nthreads().values())
            except Exception:  # the scheduler is gone, which those tell that wait for it
                return
            if none != (left == 0):
                none = left == 0
                err_line(
                    say("The scheduler at {address} has no workers left; what is not done waits for one.", address=address)
                    if none
                    else say("The scheduler at {address} has workers again.", address=address)
                )  # fmt: skip

    looker = threading.Thread(target=look, name="workers of the cluster", daemon=True)
    looker.start()
    try:
        yield
    finally:
        ended.set()
        looker.join()


def _workers_of(client: Any, address: str) -> int:
    """How many tasks the workers do at once, each of the same versions as here."""
    threads_of = client.nthreads()
    if not threads_of:
        _fail(say("The scheduler at {address} has no workers.", address=address))
    mine = versions()
    wrong = []
    for worker, theirs in _asked(client).items():
        for name, version in mine.items():
            if theirs.get(name) != version:
                wrong.append(
                    say(
                        "{worker} has {name} {theirs}, and this machine has {mine}",
                        worker=worker,
                        name=name,
                        theirs=theirs.get(name) or say("none"),
                        mine=version,
                    )
                )
                break
    if wrong:
        _fail(say("Nothing was begun: {what}.", what=semicolons(wrong[:5])))
    client.register_worker_callbacks(setup=threads.one_core)
    return sum(threads_of.values())


def _asked(client: Any) -> dict[str, dict[str, str]]:
    """What each worker's versions are; none where it has no Aptandum."""
    answers = client.run(versions, on_error="return")
    return {
        worker: answer if isinstance(answer, dict) else {} for worker, answer in answers.items()
    }


def _fail(words: str) -> Any:
    err_line(words)
    raise Stop(UNREADABLE)


# -- photos that are sent along ----------------------------------------------------------------


@frozen
class Carried:
    """How jobs of one kind go to a cluster and come back.

    Attributes:
        photo: the path of a job's photo here.
        shared: gives the job as any machine that shares the storage can do it.
        moved: gives the job for its photo at another path, and a folder for results.
        home: gives the result as it is here, of the job, what came back, and the bytes of the file that was written.
    """

    photo: Callable[[Any], str]
    shared: Callable[[Any], Any]
    moved: Callable[[Any, str, str], Any]
    home: Callable[[Any, Any, bytes | None], Any]


@frozen
class Sent:
    """A job with the name and the bytes of its photo."""

    make: Callable[[Any], Any]
    moved: Callable[[Any, str, str], Any]
    job: Any
    name: str
    data: bytes


@frozen
class Back:
    """What a sent job gave, and the bytes of the file that it wrote."""

    result: Any
    file: bytes | None = None


def made_there(sent: Sent) -> Back:
    """Do a sent job, in a folder that lasts as long as the job."""
    with tempfile.TemporaryDirectory(prefix="aptandum-") as folder:
        photo, results = Path(folder) / "photo", Path(folder) / "made"
        photo.mkdir()
        results.mkdir()
        path = photo / sent.name
        path.write_bytes(sent.data)
        result = sent.make(sent.moved(sent.job, str(path), str(results)))
        written = next(iter(sorted(results.iterdir())), None)
        return Back(result, written.read_bytes() if written is not None else None)


class Sending(Executor):
    """Hands jobs to a cluster with their photos, and gives what came back as it is here.

    Args:
        pool: the cluster's executor.
    """

    def __init__(self, pool: Executor, carried: Carried) -> None:
        self._pool, self._carried = pool, carried

    def submit(self, fn: Callable[..., Any], /, *args: Any, **more: Any) -> Future[Any]:
        """Read a job's photo now, and hand both out; one that cannot be read is told by doing the job here."""
        job, carried = args[0], self._carried
        made: Future[Any] = Future()
        made.set_running_or_notify_cancel()  # its photo is under way at once
        try:
            data = Path(carried.photo(job)).read_bytes()
        except (OSError, ValueError):
            made.set_result(fn(job))
            return made
        name = os.path.basename(carried.photo(job))

        def came(given: Future[Any]) -> None:
            try:
                back = given.result()
                made.set_result(carried.home(job, back.result, back.file))
            except Exception as error:
                made.set_exception(error)

        sent = Sent(fn, carried.moved, job, name, data)
        self._pool.submit(made_there, sent).add_done_callback(came)
        return made
