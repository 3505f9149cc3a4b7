"""One photo to many briefs by one call, and boxes that are to be kept clear."""

from __future__ import annotations

import json

import pytest
from PIL import Image

from aptandum.cli.main import run
from samples import clause
from untouched import exif_of, file_of


def call(capsys, *args):
    status = run([str(a) for a in args], lambda *a: pytest.fail("the window was opened"))
    return status, capsys.readouterr()


@pytest.fixture
def book(tmp_path):
    path = tmp_path / "quay.toml"
    briefs = "".join(
        f'[[brief]]\nid = "{name}"\ntitle = "{name}"\n{extra}{clause("size", exactly=size)}'
        for name, size, extra in (
            ("small", "60 x 60", ""),
            ("wide", "90 x 60", ""),
            ("tall", "60 x 90", "optional = true\n"),
        )
    )
    path.write_text(f'format = 1\n[body]\nid = "quay"\nname = "Quay Gallery"\n{briefs}')
    return path


@pytest.fixture
def photo(tmp_path):
    path = tmp_path / "pier.jpg"
    path.write_bytes(file_of("jpeg", exif_of(True, False)))
    return path


def test_every_brief_that_is_named_is_made(capsys, tmp_path, book, photo):
    out = tmp_path / "out"
    status, said = call(
        capsys, "conform", photo, "--rulebook", book, "--brief", "quay/small", "--brief",
        "quay/wide", "--out", out, "--json",
    )  # fmt: skip
    rows = [json.loads(line) for line in said.out.splitlines()]
    assert status == 0 and [row["brief"] for row in rows] == ["quay/small", "quay/wide"]
    sizes = [Image.open(row["written"]).size for row in rows]
    assert sizes == [(60, 60), (90, 60)]
    assert rows[0]["line"]["acts"][0]["clauses"] == ["size"]


def test_a_body_means_its_required_briefs(capsys, tmp_path, book, photo):
    args = ("conform", photo, "--rulebook", book, "--body", "quay", "--json", "--out")
    status, said = call(capsys, *args, tmp_path / "a")
    assert status == 0 and len(said.out.splitlines()) == 2
    status, said = call(capsys, *args, tmp_path / "b", "--optional")
    assert len(said.out.splitlines()) == 3 and len(list((tmp_path / "b").iterdir())) == 3
    status, said = call(capsys, *args, tmp_path / "b", "--optional", "--resume")
    assert all(json.loads(line)["resumed"] for line in said.out.splitlines())


def test_one_that_fails_never_stops_the_rest(capsys, tmp_path, book, photo):
    broken = tmp_path / "broken.jpg"
    broken.write_bytes(photo.read_bytes()[:900])
    status, said = call(
        capsys, "conform", broken, photo, "--rulebook", book, "--body", "quay", "--out",
        tmp_path / "out", "--json",
    )  # fmt: skip
    rows = [json.loads(line) for line in said.out.splitlines()]
    assert status == 2 and len(rows) == 4
    assert [bool(row["error"]) for row in rows] == [True, True, False, False]


def test_two_briefs_of_one_name_do_not_meet(capsys, tmp_path, book, photo):
    other = tmp_path / "other.toml"
    other.write_text(book.read_text().replace('id = "quay"', 'id = "pier"'))
    status, said = call(
        capsys, "conform", photo, "--rulebook", book, "--rulebook", other, "--brief",
        "quay/small", "--brief", "pier/small", "--out", tmp_path / "out", "--json",
    )  # fmt: skip
    assert status == 0
    written = [json.loads(line)["written"] for line in said.out.splitlines()]
    assert len(set(written)) == 2 and all("small" in path for path in written)


def test_nothing_named_is_said(capsys, tmp_path, photo):
    status, said = call(capsys, "conform", photo, "--out", tmp_path / "out")
    assert status == 2 and "--brief" in said.err and "--body" in said.err
    status, said = call(capsys, "conform", photo, "--body", "nobody", "--out", tmp_path / "out")
    assert status == 2 and "nobody" in said.err


def test_a_box_is_kept_clear_of_zones(capsys, tmp_path, photo):
    text = (
        'format = 1\n[body]\nid = "quay"\nname = "Quay"\n[[brief]]\nid = "b"\ntitle = "B"\n'
        + clause("size", exactly="60 x 90")
        + clause("zones_clear", exactly="clear")
        + '[[brief.seen]]\nas = "handset"\nzones = [{ name = "clock", left = "0 %", top = "0 %", '
        + 'width = "50 %", height = "100 %" }]\n'
    )
    book = tmp_path / "zones.toml"
    book.write_text(text)
    # A frame in the middle of the photo would have its zone on the box: it is laid further left.
    args = ("conform", photo, "--rulebook", book, "--brief", "quay/b", "--json", "--out")
    status, said = call(capsys, *args, tmp_path / "a", "--keep-clear", "60,20,20,30")
    row = json.loads(said.out)
    finding = next(f for f in row["findings"] if f["measure"] == "zones_clear")
    assert status == 0 and finding["verdict"] == "meets"
    left, _top, wide, _high = row["line"]["frame"]["window"]
    assert left + wide / 2 <= 60 and left + wide >= 80
    assert row["line"]["acts"][0]["clauses"] == ["size", "zones_clear"]
    status, said = call(capsys, *args, tmp_path / "b", "--keep-clear", "60;20")
    assert status == 2 and "--keep-clear" in said.err
