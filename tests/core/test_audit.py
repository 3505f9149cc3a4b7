"""Audits: a listing of 300 pictures with known faults, and tables of every make."""

from __future__ import annotations

import csv
import hashlib
import io
import os
import random
from collections.abc import Sequence
from concurrent.futures import ThreadPoolExecutor
from pathlib import Path

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st
from PIL import Image

from aptandum.core.docket import audit
from aptandum.core.docket.audit_found import Found
from aptandum.core.docket.audit_lists import told, write_list
from aptandum.core.docket.batch import run
from aptandum.core.photo.profile import shipped
from samples import brief_of, clause

BRIEF = brief_of(
    clause("longest_side", at_least="200 px", at_most="400 px")
    + clause("aspect", one_of=["1:1", "4:5", "5:4"])
    + clause("format", one_of=["jpeg", "png"])
    + clause("file_bytes", at_most="30 kB (1000)")
    + clause("colour_space", exactly="srgb")
    + clause("transparency", exactly="none")
    + clause("ppi", exactly="300 ppi", strength="should")
)

FAULTS = {
    "small": {"longest_side"},
    "large": {"longest_side"},
    "shape": {"aspect"},
    "gif": {"format", "colour_space"},
    "heavy": {"file_bytes"},
    "untagged": {"colour_space"},
    "wide": {"colour_space"},
    "clear": {"transparency"},
    "small and wide": {"longest_side", "colour_space"},
    "cut": {"unusable"},
    "gone": {"unusable"},
    "text": {"unusable"},
    "unlisted": {"unusable"},
}


def make(path: Path, fault: str, seed: int) -> None:
    rng = np.random.default_rng(seed)
    size = {
        "small": (160, 160),
        "small and wide": (120, 150),
        "large": (480, 600),
        "shape": (300, 200),
    }.get(fault, (240, 300) if seed % 2 else (250, 250))
    grain = 90 if fault == "heavy" else 4
    base = np.linspace(60, 190, size[0])[None, :, None] + rng.normal(0, grain, (*size[::-1], 3))
    image = Image.fromarray(np.clip(base, 0, 255).astype(np.uint8))
    space = None if fault == "untagged" else "adobe-rgb" if "wide" in fault else "srgb"
    more = {"icc_profile": shipped(space)} if space else {}
    if fault == "gone":
        return
    if fault == "text":
        path.write_text("not a picture")
    elif fault == "gif":
        image.quantize(16).save(path, "GIF")
    elif fault == "clear":
        image.putalpha(Image.linear_gradient("L").resize(size))
        image.quantize(24).save(path, "PNG", **more)
    else:
        image.save(path, "JPEG", quality=96 if fault == "heavy" else 80, **more)
    if fault == "cut":
        data = path.read_bytes()
        path.write_bytes(data[: len(data) // 2])


@pytest.fixture(scope="module")
def listing(tmp_path_factory: pytest.TempPathFactory) -> tuple[Path, dict[str, str], set[str]]:
    """A listing of 300 items, the fault of each, and those that are out of stock."""
    folder = tmp_path_factory.mktemp("quay")
    (folder / "pictures").mkdir()
    chance = random.Random(3)
    faults, sold = {}, set()
    kinds = [k for k in FAULTS for _ in range(7)]
    kinds += ["none"] * (300 - len(kinds))
    chance.shuffle(kinds)
    with open(folder / "listing.csv", "w", newline="", encoding="utf-8") as stream:
        table = csv.writer(stream, delimiter=";")
        table.writerow(["Item", "Price", "Picture file", "In stock"])
        for i, kind in enumerate(kinds):
            name = f"Jug, no. {i:03d}"
            file = folder / "pictures" / f"jug {i:03d}.jpg"
            if kind != "unlisted":
                make(file, kind, i)
            faults[name] = kind
            if i % 4 == 1:
                sold.add(name)
            shown = "" if kind == "unlisted" else f"pictures/{file.name}"
            table.writerow([name, f"{i},50", shown, ["3", "0", "yes", ""][i % 4]])
    return folder / "listing.csv", faults, sold


def checked(items: Sequence[audit.Item]) -> list[audit.Checked]:
    with ThreadPoolExecutor(2) as pool:
        found = run([audit.Task(item, BRIEF) for item in items], pool, 2, None, audit.check_one)
        return sorted(found, key=lambda one: (one.item.line, one.item.name))


@pytest.mark.long
def test_an_audit_of_300_finds_all_and_only_the_known_faults(listing):
    path, faults, sold = listing
    folder = path.parent / "pictures"
    before = {p.name: hashlib.sha256(p.read_bytes()).hexdigest() for p in folder.iterdir()}
    found = checked(audit.read_listing(path))
    assert len(found) == 300
    for one in found:
        reasons = {m.clause for m in one.misses if m.verdict == "misses"}
        if one.standing == "lost":
            reasons = {audit.UNUSABLE}
        assert reasons == FAULTS.get(faults[one.item.name], set()), (one, faults[one.item.name])
        assert one.in_danger == (faults[one.item.name] != "none")
    after = {p.name: hashlib.sha256(p.read_bytes()).hexdigest() for p in folder.iterdir()}
    assert after == before

    every = told(Found.of(found))
    mine = every.among(every.matters)
    groups = {
        clause: {one.item.name for one in mine.of_group(clause)}
        for clause, _title, _n in mine.titles()
    }
    for reason in set().union(*FAULTS.values()):
        wanted = {n for n, k in faults.items() if reason in FAULTS.get(k, ()) and n not in sold}
        assert groups.pop(reason) == wanted
    assert not groups
    counts = [n for _clause, _title, n in every.titles()]
    assert sum(counts) == 7 * sum(map(len, FAULTS.values()))
    assert counts == sorted(counts, reverse=True)

    worst = [one.checked for one in every.in_order("worst")]
    missed = [sum(m.verdict == "misses" for m in one.misses) for one in worst]
    order = [("lost", "misses", "unknown", "asks", "advises", "meets").index(one.standing) for one in worst]  # fmt: skip
    assert list(zip(order, missed, strict=True)) == sorted(
        zip(order, missed, strict=True), key=lambda one: (one[0], -one[1])
    )
    assert worst[0].standing == "lost" and not worst[-1].in_danger
    assert missed[order.index(1)] == 2
    assert list(Found.of(found).values()) == found  # however it is kept


def test_a_picture_that_is_put_right_is_no_longer_in_danger(listing, tmp_path):
    path, faults, _sold = listing
    items = audit.read_listing(path)
    bad = next(item for item in items if faults[item.name] == "small and wide")
    (one,) = checked([bad])
    assert one.in_danger and audit.changed([one]) == []
    kept = Path(bad.file).read_bytes()
    make(tmp_path / "better.jpg", "none", 1)
    (other,) = checked([audit.with_file(bad, str(tmp_path / "better.jpg"))])
    assert not other.in_danger and Path(bad.file).read_bytes() == kept
    mine = tmp_path / "mine.jpg"
    mine.write_bytes(kept)
    (again,) = checked([audit.with_file(bad, str(mine))])
    make(mine, "none", 2)  # replaced outside, under its own name
    assert audit.changed([again]) == [0]
    assert not checked([again.item])[0].in_danger
    mine.unlink()
    assert audit.changed([again]) == [0]
    assert "not found" in checked([again.item])[0].trouble


def test_the_list_as_csv_names_reasons_and_can_be_read_back(listing, tmp_path):
    path, faults, _sold = listing
    found = checked(audit.read_listing(path)[:60])
    target = path.parent / "in danger.csv"
    write_list(told(Found.of(found)).in_order("worst"), target, "")
    rows = list(csv.DictReader(io.StringIO(target.read_text("utf-8-sig"))))
    assert len(rows) == 60
    for row in rows:
        kind = faults[row["Item"]]
        assert (row["stands"] in ("misses", "lost")) == (kind != "none")
        assert bool(row["reasons"]) == bool(row["what is missed"]) == (kind != "none")
    again = {item.name: item for item in audit.read_listing(target)}
    for one in found:
        back = again[one.item.name]
        assert (back.file, back.in_stock) == (one.item.file, one.item.in_stock)
    target.unlink()


def test_all_columns_of_a_listing_are_kept_in_their_order_and_spelling(tmp_path):
    """Items of one title are told apart by what else the listing says; an export of an export has each column once."""
    make(tmp_path / "a.jpg", "none", 1)
    make(tmp_path / "b.jpg", "wide", 2)
    listing = tmp_path / "stall.csv"
    listing.write_text(
        "SKU;Title;Price, net;Picture;In stock;Shelf\n"
        "L-1;Lantern;12,50;a.jpg;3;A\n"
        'L-2;Lantern;8,00;b.jpg;0;"B;7"\n'
        "L-3;Lantern;=1+1;;1\n"
    )
    target = tmp_path / "sub" / "out.csv"
    target.parent.mkdir()
    found = checked(audit.read_listing(listing))
    write_list(told(Found.of(found)), target, "")
    rows = list(csv.reader(io.StringIO(target.read_text("utf-8-sig"))))
    own = ["SKU", "Title", "Price, net", "Picture", "In stock", "Shelf"]
    assert rows[0] == [*own, *audit.OWN]
    assert [row[0] for row in rows[1:]] == ["L-1", "L-2", "L-3"]
    assert rows[2][1:6] == ["Lantern", "8,00", "../b.jpg", "0", "B;7"]
    assert rows[3][2] == "'=1+1" and rows[3][5] == ""  # no table program takes it for a formula
    again = checked(audit.read_listing(target))
    assert [one.standing for one in again] == [one.standing for one in found]
    write_list(told(Found.of(again)), tmp_path / "sub" / "twice.csv", "")
    twice = list(csv.reader(io.StringIO((tmp_path / "sub" / "twice.csv").read_text("utf-8-sig"))))
    assert twice[0] == rows[0] and twice[1][:6] == rows[1][:6]


def test_a_folder_is_its_photos_each_an_item(tmp_path):
    (tmp_path / "inner").mkdir()
    make(tmp_path / "a.jpg", "none", 1)
    make(tmp_path / "inner" / "b.jpg", "wide", 2)
    (tmp_path / "notes.txt").write_text("nothing")
    found = checked(audit.items_in([str(tmp_path)]))
    assert [(one.item.name, one.in_danger) for one in found] == [("a.jpg", False), ("b.jpg", True)]


@pytest.mark.parametrize(
    ("text", "said"),
    [
        ("", "names no column for the picture’s file"),
        ("item,price\nJug,3\n", "these are there: item, price"),
        ("picture file,in stock\na.jpg,perhaps\nb.jpg,yes\n", "line 2: “perhaps” does not say"),
        (
            "item,file\nA,a.jpg\n" + 'B,"b.jpg\n' + "C,c.jpg\n" * 500,
            "line 3: a quote mark is opened there",
        ),
        ('item,file\n"A" b,a.jpg\n', "line 2: a quote mark is opened there"),
        (",".join(f"c{n}" for n in range(100_000)), "has 100000 columns; at most 1000 are read"),
        (",".join(f"column {n}" for n in range(60)), "column 11, 48 more."),
        ("x" * 200_000 + "\n", "line 1: field larger than field limit"),
    ],
)
def test_a_listing_that_cannot_be_read_is_said_with_its_line(tmp_path, text: str, said: str):
    path = tmp_path / "quay.csv"
    path.write_text(text)
    with pytest.raises(audit.ListingError) as caught:
        audit.read_listing(path)
    assert "quay.csv" in str(caught.value) and said in str(caught.value)
    with pytest.raises(audit.ListingError, match="quay2.csv"):
        audit.read_listing(tmp_path / "quay2.csv")


@pytest.mark.parametrize(
    "coding", ["utf-8", "utf-8-sig", "cp1252", "utf-16", "utf-16-le", "utf-16-be"]
)
@pytest.mark.parametrize("parted", [",", ";", "\t"])
def test_tables_of_every_make_are_read(tmp_path, coding: str, parted: str):
    rows = [("Item", "File", "Stock"), ("Größe A", "krug ä.jpg", "0"), ("B", "b.jpg", "")]
    text = "\r\n".join(parted.join(row) for row in rows)
    (tmp_path / "said.csv").write_bytes(f"sep={parted}\r\n{text}".encode(coding))
    assert [i.name for i in audit.read_listing(tmp_path / "said.csv")] == ["Größe A", "B"]
    (tmp_path / "t.csv").write_bytes(text.encode(coding))
    first, second = audit.read_listing(tmp_path / "t.csv")
    assert (first.name, first.in_stock, first.line) == ("Größe A", False, 2)
    assert first.file == str(tmp_path / "krug ä.jpg") and not first.matters
    assert second.in_stock is None and second.matters


@given(st.lists(st.tuples(st.text(max_size=20), st.sampled_from([True, False, None])), max_size=8))
def test_no_cell_of_the_list_is_taken_for_a_formula(rows):
    every = [
        audit.Checked(audit.Item(name, os.path.abspath("=a.jpg"), stock), "meets")
        for name, stock in rows
    ]
    text = "".join(audit.as_csv([(one, ("", "", "")) for one in every], folder=os.getcwd()))
    for row in csv.reader(io.StringIO(text, newline="")):
        assert len(row) == len(audit.COLUMNS)
        assert not any(cell[:1] in "=+@" for cell in row if cell)
        assert not any(
            cell[0] == "-" and not cell[1:].replace(".", "").isdigit() for cell in row if cell
        )


def test_a_listing_that_is_a_pipe_is_not_waited_for(tmp_path):
    os.mkfifo(tmp_path / "pipe.csv")
    with pytest.raises(audit.ListingError, match="no ordinary file"):
        audit.read_listing(tmp_path / "pipe.csv")


def test_a_name_that_can_be_none_is_one_lost_item(tmp_path):
    (tmp_path / "t.csv").write_bytes(b"item,file\nA,a\0.jpg\nB," + b"b" * 9000 + b".jpg\n")
    found = checked(audit.read_listing(tmp_path / "t.csv"))
    assert [one.standing for one in found] == ["lost", "lost"] and all(one.trouble for one in found)


def test_what_is_said_of_a_listing_stays_short(tmp_path):
    (tmp_path / "wide.csv").write_text(",".join("name of a column" * 9 for _ in range(900)))
    with pytest.raises(audit.ListingError) as caught:
        audit.read_listing(tmp_path / "wide.csv")
    assert len(str(caught.value)) < 900


def test_by_the_header_alone_no_pixel_is_read(tmp_path):
    make(tmp_path / "cut.jpg", "cut", 1)
    seen = audit.check_file(str(tmp_path / "cut.jpg"), BRIEF, quick=True)
    assert seen.findings.of("longest_side").verdict == "meets"
    with pytest.raises(audit.PhotoError, match="cut short"):
        audit.check_file(str(tmp_path / "cut.jpg"), BRIEF)
