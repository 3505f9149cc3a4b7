"""The shipped networks, run by LiteRT on one core: a third of the time that OpenCV takes for the same files.

The files are of the MediaPipe family (Apache-2.0). Nothing here knows what they see.
"""

from __future__ import annotations

import os
import threading
from collections.abc import Iterator, Sequence
from contextlib import contextmanager
from functools import cache
from importlib import resources
from typing import Any

from aptandum.core.later import litert, np

_lock = threading.Lock()  # a network holds the state of one run
_SAID = b"Created TensorFlow Lite XNNPACK delegate"
"""What LiteRT writes to the standard error of every process that uses it; it has no switch for it."""


class _Network:
    """One network, ready to run."""

    def __init__(self, name: str) -> None:
        file = resources.files("aptandum.data").joinpath(f"models/{name}.tflite")
        with _unsaid():
            self.runs = litert.Interpreter(model_content=file.read_bytes(), num_threads=1)
            self.runs.allocate_tensors()
        self.asks = self.runs.get_input_details()[0]["index"]
        self.gives = {one["name"]: one["index"] for one in self.runs.get_output_details()}


@cache
def _network(name: str) -> _Network:
    return _Network(name)


def run(name: str, picture: Any, outputs: Sequence[str]) -> tuple[Any, ...]:
    """Run a network on one picture.

    Args:
        name: of its file in ``data/models``, without the ending.
        picture: of shape (h, w, 3), as large as the network wants it and in its range.
        outputs: the names of what is wanted of it.

    Returns:
        float32 arrays, one for each name, of the network's own shapes (the first length is 1).
    """
    with _lock:
        network = _network(name)
        network.runs.set_tensor(network.asks, np.asarray(picture, np.float32)[None])
        network.runs.invoke()
        return tuple(network.runs.get_tensor(network.gives[one]) for one in outputs)


@contextmanager
def _unsaid() -> Iterator[None]:
    """Keep what LiteRT says of itself out of the standard error; whatever else is written meanwhile comes afterwards."""
    try:
        kept = os.dup(2)
    except OSError:  # no standard error at all
        yield
        return
    aside = os.memfd_create("said")
    os.dup2(aside, 2)
    try:
        yield
    finally:
        os.dup2(kept, 2)
        os.lseek(aside, 0, os.SEEK_SET)
        with os.fdopen(aside, "rb") as said:
            others = [line for line in said if _SAID not in line]
        if others:
            os.write(2, b"".join(others))
        os.close(kept)
