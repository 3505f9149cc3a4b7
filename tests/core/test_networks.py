"""The shipped networks: as another engine runs them, from many threads, and silently."""

from __future__ import annotations

import os
import subprocess
import sys
from concurrent.futures import ThreadPoolExecutor
from importlib import resources

import cv2
import numpy as np
import pytest

from aptandum.core.photo import networks

SHIPPED = {
    "face_detection_full_range": (192, ("reshaped_regressor_face_4", "reshaped_classifier_face_4")),
    "face_detection_short_range": (128, ("regressors", "classificators")),
    "fm_face_landmark": (192, ("conv2d_21", "conv2d_31")),
    "iris_landmark": (64, ("output_eyes_contours_and_brows", "output_iris")),
    "selfie_segmentation": (256, ("activation_10",)),
}


def _picture(size: int, seed: int = 5) -> np.ndarray:
    return np.random.default_rng(seed).random((size, size, 3), np.float32)


@pytest.mark.parametrize("name", SHIPPED)
def test_a_network_says_what_another_engine_makes_of_its_file(name):
    size, outputs = SHIPPED[name]
    picture = _picture(size)
    ours = networks.run(name, picture, outputs)
    with resources.as_file(resources.files("aptandum.data").joinpath(f"models/{name}.tflite")) as file:  # fmt: skip
        net = cv2.dnn.readNetFromTFLite(str(file), engine=cv2.dnn.ENGINE_CLASSIC)
    net.setInput(np.ascontiguousarray(picture.transpose(2, 0, 1)[None]))
    # What comes as a picture has its channels first there; all else has one order.
    for one, other in zip(ours, net.forward(list(outputs)), strict=True):
        assert np.abs(one.ravel() - other.ravel()).max() <= 2e-3 * max(1, np.abs(other).max())


def test_many_threads_get_what_each_asked_for():
    pictures = [_picture(64, seed) for seed in range(12)]

    def read(picture):
        return networks.run("iris_landmark", picture, ("output_iris",))[0]

    alone = [read(picture) for picture in pictures]
    with ThreadPoolExecutor(4) as pool:
        together = list(pool.map(read, pictures))
    assert all((one == other).all() for one, other in zip(alone, together, strict=True))
    assert not (alone[0] == alone[1]).all()


_QUIET = """
import os, sys
import numpy as np
from aptandum.core.photo import networks
if {closed}:
    os.close(2)
size = np.zeros((64, 64, 3), np.float32)
made = networks.run("iris_landmark", size, ("output_iris",))[0]
networks.run("selfie_segmentation", np.zeros((256, 256, 3), np.float32), ("activation_10",))
print(made.shape)
if not {closed}:
    os.write(2, b"heard")
"""


@pytest.mark.parametrize("closed", [False, True])
def test_the_engine_says_nothing_of_itself_on_the_standard_error(closed):
    run = subprocess.run([sys.executable, "-c", _QUIET.format(closed=closed)], capture_output=True,
                         env=dict(os.environ))  # fmt: skip
    assert run.returncode == 0 and run.stdout.decode().strip() == "(1, 15)"
    assert run.stderr == (b"" if closed else b"heard")
