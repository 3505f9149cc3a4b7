"""What real pages say, and what becomes of it: each rule is read, refused when it is wrong, judged on the
photo and on the file, followed, said back, written by the form, compared and kept as it was written."""

from __future__ import annotations

import datetime
import io
import json
import re
import tomllib
from dataclasses import dataclass, field, replace
from pathlib import Path

import jsonschema
import numpy as np
import pytest
from PIL import Image

from aptandum.cli.main import run as command
from aptandum.core.brief.model import Brief, Rulebook
from aptandum.core.conform import conform
from aptandum.core.docket.audit import check_file
from aptandum.core.fitting.live import live_reading
from aptandum.core.fitting.resolve import resolve
from aptandum.core.fitting.settings import Settings
from aptandum.core.judge.findings import Confirmation, judge
from aptandum.core.judge.measures import STATED
from aptandum.core.judge.reading import of_supplied
from aptandum.core.photo.decode import Photo, open_photo
from aptandum.core.photo.profile import shipped
from aptandum.core.rulebook import write
from aptandum.core.rulebook.editions import compare
from aptandum.core.rulebook.far import doubts
from aptandum.core.rulebook.guide import FORMS, guide, limit_of, started
from aptandum.core.rulebook.plain import said_back
from aptandum.core.rulebook.problems import RulebookError
from aptandum.core.rulebook.schema import schema
from aptandum.core.rulebook.shelf import read_shelf, shipped_paths
from aptandum.core.rulebook.toml import check_clause, parse_rulebook, read_rulebook
from aptandum.core.sizes.said import describe
from samples import scene

HEAD = 'format = 1\n[body]\nid = "pier-office"\nname = "Pier Office"\n'


@dataclass(frozen=True)
class Case:
    """A rule in TOML, and what is to come of it.

    Attributes:
        rule: the keys of the clause.
        wrong: the same with a mistake, and a part of what the error says.
        said: a part of what is said back.
        newer: the same in a later edition.
        supplied, finished: the verdict on the photo (640 x 480, JPEG of quality 60, with metadata),
            and on the file that is made of it.
        more: other clauses that stand beside it.
        photo: another photo.
    """

    rule: str
    wrong: tuple[str, str]
    said: str
    newer: str
    supplied: str
    finished: str
    more: str = ""
    photo: str = "p.jpg"
    settings: dict[str, str] = field(default_factory=dict)


def ppi(n: int) -> str:
    return f'[[brief.clause]]\nmeasure = "ppi"\nexactly = {n}\n'


def form(name: str) -> str:
    return f'[[brief.clause]]\nmeasure = "format"\nexactly = "{name}"\n'


CASES = {
    "printed size": Case(
        'measure = "size"\nexactly = "3.2 x 2.4 in"', ('measure = "size"\nexactly = "3.2 x 2.4 xy"',
        "a size in pixels"), "81.3 × 61 mm", 'measure = "size"\nexactly = "3.2 x 2.5 in"',
        "unknown", "meets", ppi(200),
    ),
    "printed longest side": Case(
        'measure = "print_longest"\nexactly = "4 in"', ('measure = "print_longest"\nexactly = "4"',
        "a length with its unit"), "Printed longest side exactly 101.6 mm",
        'measure = "print_longest"\nexactly = "5 in"', "unknown", "meets", ppi(100),
    ),
    "printed shortest side": Case(
        'measure = "print_shortest"\nat_most = "5 cm"', ('measure = "print_shortest"\nat_most = 5',
        "a length"), "Printed shortest side at most 50 mm",
        'measure = "print_shortest"\nat_most = "4 cm"', "unknown", "meets", ppi(200),
    ),
    "tolerance": Case(
        'measure = "size"\nexactly = "400 x 300"\ntolerance = "2 %"',
        ('measure = "size"\nat_most = "400 x 300"\ntolerance = "2 %"', "beside an exactly"),
        "400 × 300 px, give or take 2 %",
        'measure = "size"\nexactly = "400 x 300"\ntolerance = "3 %"', "misses", "meets",
    ),
    "below": Case(
        'measure = "file_bytes"\nbelow = "15 KB"', ('measure = "aspect"\nbelow = "3:2"',
        "no whole number"), "Bytes below 15.0 kB", 'measure = "file_bytes"\nbelow = "14 KB"',
        "misses", "meets",
    ),
    "either way up": Case(
        'measure = "size"\nat_most = "300 x 400"\neither_way = true',
        ('measure = "width"\nat_most = 300\neither_way = true', "a size or a proportion"),
        "at most 300 × 400 px, either way up",
        'measure = "size"\nat_most = "300 x 400"', "misses", "meets",
    ),
    "condition": Case(
        'measure = "file_bytes"\nat_most = "12 KB"\nwhen = { measure = "format", exactly = "jpeg" }',
        ('measure = "file_bytes"\nat_most = "12 KB"\nwhen = { measure = "people", exactly = 1 }',
        "header tells"), "Only with format JPEG",
        'measure = "file_bytes"\nat_most = "12 KB"\nwhen = { measure = "format", exactly = "png" }',
        "misses", "meets",
    ),
    "condition on a size": Case(
        'measure = "format"\nexactly = "png"\nwhen = { measure = "width", above = 600 }',
        ('measure = "format"\nexactly = "png"\nwhen = { measure = "width" }', "exactly"),
        "Only with width above 600 px",
        'measure = "format"\nexactly = "png"\nwhen = { measure = "width", above = 500 }',
        "misses", "meets",
    ),
    "way of a choice": Case(
        'measure = "width"\nexactly = 320\neither = "small"',
        ('measure = "width"\nexactly = 320\neither = "Small one"', "the name of a way"),
        "One way of several, “small”", 'measure = "width"\nexactly = 320\neither = "less"',
        "misses", "meets",
        '[[brief.clause]]\nid = "large"\nmeasure = "width"\nexactly = 4000\neither = "large"\n',
    ),
    "all metadata": Case(
        'measure = "metadata"\nexactly = "none"', ('measure = "metadata"\nexactly = "never"',
        "one of present"), "Metadata not stated", 'measure = "metadata"\nexactly = "present"',
        "misses", "meets",
    ),
    "caption present": Case(
        'measure = "caption"\nexactly = "present"', ('measure = "caption"\nat_least = 1',
        "exactly, one_of or none_of"), "Caption stated", 'measure = "caption"\nexactly = "kept"',
        "misses", "meets", photo="p.png", settings={"file.metadata.caption": "=Pier at dusk"},
    ),
    "camera kept": Case(
        'measure = "camera"\nexactly = "kept"', ('measure = "camera"\nexactly = "yes"', "one of"),
        "Camera kept", 'measure = "camera"\nexactly = "none"', "meets", "meets",
        '[[brief.clause]]\nmeasure = "width"\nexactly = 300\n',
    ),
    "credit left out": Case(
        'measure = "credit"\nnone_of = ["present"]', ('measure = "credit"\nnone_of = []', "a list"),
        "Credit not stated", 'measure = "credit"\nexactly = "present"', "misses", "meets",
    ),
    "age of the shot": Case(
        'measure = "shot_age"\nat_most = "1 year"', ('measure = "shot_age"\nat_most = "long"',
        "a stretch of time"), "Age of the photo at most 1 year",
        'measure = "shot_age"\nat_most = "2 years"', "meets", "meets",
    ),
    "day of the shot": Case(
        'measure = "shot_date"\nat_least = 2020-01-01', ('measure = "shot_date"\nat_least = "May"',
        "a date"), "Day of the shot at least 2020-01-01",
        'measure = "shot_date"\nat_least = 2021-01-01', "meets", "meets",
    ),
    "valid from": Case(
        'measure = "width"\nexactly = 100\nvalid_from = 2090-01-01',
        ('measure = "width"\nexactly = 100\nvalid_from = "soon"', "a date"),
        "Only from 2090-01-01 on", 'measure = "width"\nexactly = 100\nvalid_from = 2091-01-01',
        "idle", "idle",
    ),
    "ratio of compression": Case(
        'measure = "compression"\nat_least = 80', ('measure = "compression"\nat_least = "much"',
        "a number"), "Compression at least 80 to 1", 'measure = "compression"\nat_least = 90',
        "misses", "meets",
    ),
    "kind of compression": Case(
        'measure = "packing"\none_of = ["none", "lzw"]', ('measure = "packing"\nexactly = "zap"',
        "one of none"), "Kind of compression none or LZW", 'measure = "packing"\nexactly = "lzw"',
        "misses", "meets", form("tiff"),
    ),
    "lowest quality": Case(
        'measure = "quality"\nat_least = 85', ('measure = "quality"\nat_least = "good"',
        "a whole number"), "JPEG quality at least 85", 'measure = "quality"\nat_least = 90',
        "misses", "meets",
    ),
    "chroma": Case(
        'measure = "chroma"\nexactly = "4:4:4"', ('measure = "chroma"\nexactly = "full"', "one of"),
        "Chroma 4:4:4", 'measure = "chroma"\nexactly = "4:2:2"', "misses", "meets",
    ),
    "bits per pixel": Case(
        'measure = "bits_per_pixel"\nexactly = 8', ('measure = "bits_per_pixel"\nexactly = "few"',
        "a whole number"), "Bits per pixel exactly 8", 'measure = "bits_per_pixel"\nexactly = 24',
        "misses", "meets", form("png"),
    ),
    "number of colours": Case(
        'measure = "colours"\nat_most = 16', ('measure = "colours"\nat_most = -1', "a whole number"),
        "Number of colours at most 16", 'measure = "colours"\nat_most = 32', "misses", "meets",
        form("gif"),
    ),
    "colour of the edge": Case(
        'measure = "edge_colour"\nexactly = "#101214"\ntolerance = 12',
        ('measure = "edge_colour"\nexactly = "dark"', "a colour"), "16 · 18 · 20, give or take 12",
        'measure = "edge_colour"\nexactly = "#101214"\ntolerance = 20', "misses", "meets",
        settings={"finish.keyline.width": "4", "finish.keyline.colour": "#101214",
                  "finish.keyline.strength": "100"},
    ),
    "keyline of the side": Case(
        'measure = "keyline_share"\nexactly = "1 %"', ('measure = "keyline_share"\nexactly = 1',
        "a share"), "Keyline, share of the side exactly 1 %",
        'measure = "keyline_share"\nexactly = "2 %"', "misses", "meets",
        settings={"finish.keyline.width": "5", "finish.keyline.colour": "#FF0000",
                  "finish.keyline.strength": "100"},
    ),
    "beginning of the name": Case(
        'measure = "name_begins"\nexactly = "VF_"', ('measure = "name_begins"\nexactly = 3',
        "a part of a file name"), "Beginning of the file name exactly “VF_”",
        'measure = "name_begins"\nexactly = "VG_"', "misses", "meets",
    ),
    "end and ending of the name": Case(
        'measure = "name_ending"\nexactly = "JPG"', ('measure = "name_ending"\nexactly = "j p g"',
        "the ending"), "Ending of the file name exactly .JPG",
        'measure = "name_ending"\nexactly = "jpeg"', "misses", "meets",
        '[[brief.clause]]\nmeasure = "name_ends"\nexactly = "_01"\n',
    ),
    "part of the name": Case(
        'measure = "name_holds"\nnone_of = ["p"]', ('measure = "name_holds"\nnone_of = [1]',
        "a part of a file name"), "Part of the file name not “p”",
        'measure = "name_holds"\nnone_of = ["q"]', "misses", "meets",
        settings={"file.name": "quay"},
    ),
    "whole name": Case(
        'measure = "name_whole"\nexactly = "[a-z]+_[a-z]+[.]jpg"',
        ('measure = "name_whole"\nexactly = "["', "a regular expression"),
        "File name with its ending", 'measure = "name_whole"\nexactly = "[a-z]+[.]jpg"',
        "misses", "meets",
    ),
    "width in other words": Case(
        'measure = "width"\nexactly = "1,200 px"', ('measure = "width"\nexactly = "1.200,5.3"',
        "whole pixels"), "Width exactly 1 200 px", 'measure = "width"\nexactly = "1,300 px"',
        "misses", "meets",
    ),
}  # fmt: skip


def book_of(rule: str, more: str = "") -> str:
    return (
        f'{HEAD}[[brief]]\nid = "notice"\ntitle = "Notice"\n'
        f"# a remark above\n[[brief.clause]]\n{rule}  # a remark beside\n{more}"
    )


@pytest.fixture(scope="module")
def photos(tmp_path_factory) -> Path:
    folder = tmp_path_factory.mktemp("language")
    image = Image.fromarray(scene(640, 480))
    told = Image.Exif()
    told[0x013B], told[0x010E], told[0x010F] = "Ines Marrow", "Pier at dusk", "Vane"
    day = datetime.date.today() - datetime.timedelta(days=60)
    told.get_ifd(0x8769)[0x9003] = f"{day:%Y:%m:%d} 10:00:00"
    image.save(folder / "p.jpg", quality=60, subsampling=2, exif=told)
    image.save(folder / "p.png")
    return folder


@dataclass(frozen=True)
class Told:
    """What a command has said."""

    code: int
    stdout: str


@pytest.fixture
def run(capsys):
    def call(*args: str) -> Told:
        code = command(list(args), lambda *_args: 0)
        return Told(code, capsys.readouterr().out)

    return call


def finished(photo: Photo, brief: Brief, settings: dict[str, str]):
    return conform(photo, brief, Settings().having(settings))


# --- each rule, all its way ------------------------------------------------------------------------


@pytest.mark.parametrize("name", CASES)
def test_a_rule_is_judged_and_followed(name, photos):
    case = CASES[name]
    brief = parse_rulebook(book_of(case.rule, case.more)).briefs[0]
    photo = open_photo(photos / case.photo)
    clause = brief.clauses[0].id
    see = of_supplied(photo)
    supplied = judge(see, brief).of(clause)
    if supplied.verdict != "unknown":
        assert supplied.verdict == case.supplied, supplied.says
    proof = finished(photo, brief, case.settings)
    found = proof.findings.of(clause)
    assert found.verdict == case.finished, found.says
    if case.finished == "meets":
        assert proof.ready, [f.says for f in proof.findings.findings]
    # what is shown before the file is made does not say otherwise
    line = resolve(photo.facts, brief, Settings().having(case.settings))
    live = judge(live_reading(photo.facts, line, see_supplied=lambda: see.inside()), brief)
    assert live.of(clause).verdict in (case.finished, "unknown", "idle"), live.of(clause).says


@pytest.mark.parametrize("name", CASES)
def test_a_rule_is_said_back_and_refused_where_it_is_wrong(name):
    case = CASES[name]
    clause = parse_rulebook(book_of(case.rule, case.more)).briefs[0].clauses[0]
    assert case.said in said_back(clause).replace("\u00a0", " ").replace("\u202f", " ")
    wrong, why = case.wrong
    with pytest.raises(RulebookError) as told:
        parse_rulebook(book_of(wrong, case.more), "pier.toml")
    problem = told.value.problems[0]
    first = book_of(wrong).splitlines().index("[[brief.clause]]") + 1
    assert problem.file == "pier.toml" and first <= problem.line <= first + 4
    assert why in str(told.value)


@pytest.mark.parametrize("name", CASES)
def test_a_rule_is_written_by_the_form_and_compared(name):
    """What the form holds gives the same text again; a change keeps every remark; an edition with
    another limit differs in this clause alone."""
    case = CASES[name]
    text = book_of(case.rule, case.more)
    fields = write.fields_of(text, 0, 0)
    assert write.set_clause(text, 0, 0, fields) == text
    changed = write.set_clause(text, 0, 0, {**fields, "note": "Asked by telephone."})
    assert "# a remark above" in changed and "# a remark beside" in changed
    again = parse_rulebook(changed).briefs[0].clauses[0]
    assert again.note == "Asked by telephone."
    assert again.limit == parse_rulebook(text).briefs[0].clauses[0].limit
    typed, problems = check_clause(tomllib.loads(case.rule))
    assert not problems and typed is not None
    old, new = (parse_rulebook(book_of(rule, case.more)) for rule in (case.rule, case.newer))
    differences = compare(old, new)
    assert differences and {d.clause for d in differences} == {new.briefs[0].clauses[0].id}
    assert all(d.before != d.after for d in differences)


# --- what stands beside the clauses ------------------------------------------------------------------


def test_a_clause_of_the_whole_body_holds_in_every_brief_and_gives_way_to_its_own():
    text = (
        f'{HEAD}[[clause]]\nmeasure = "format"\nexactly = "jpeg"\n[[clause]]\nmeasure = "width"\n'
        'at_most = 900\n[[brief]]\nid = "a"\ntitle = "A"\n[[brief]]\nid = "b"\ntitle = "B"\n'
        '[[brief.clause]]\nmeasure = "width"\nexactly = 300\n'
    )
    one, two = parse_rulebook(text).briefs
    assert [c.id for c in one.clauses] == ["format", "width"]
    assert two.clauses[0].limit.one_of == (300,) and [c.id for c in two.clauses][1:] == ["format"]
    assert "every brief of the body" in said_back(one.clauses[0])
    with pytest.raises(RulebookError) as told:
        parse_rulebook(text.replace('exactly = "jpeg"', 'exactly = "jpg"'))
    assert told.value.problems[0].line == 7 and told.value.problems[0].where.startswith("clause.1")
    changed = write.set_clause(text, write.ALL, 1, {"measure": "width", "at_most": "800"})
    assert parse_rulebook(changed).briefs[0].clauses[1].limit.at_most == 800


def test_a_briefs_own_clause_takes_the_place_of_none_that_says_something_else():
    shared = [
        'measure = "file_bytes"\nat_most = "5 MB"',
        'measure = "size"\nat_least = "800 x 600"',
        'ask = "No collages?"',
        'id = "look"\nask = "Plain?"',
        'measure = "format"\nexactly = "jpeg"',
    ]
    own = [
        'measure = "file_bytes"\nat_least = "50 KB"',
        'measure = "size"\nexactly = "1600 x 1200"\nstrength = "should"',
        'ask = "Uncluttered?"',
        'id = "look"\nask = "White?"',
        'measure = "format"\none_of = ["jpeg", "png"]',
    ]
    text = HEAD + "".join(f"[[clause]]\n{one}\n" for one in shared)
    text += '[[brief]]\nid = "a"\ntitle = "A"\n'
    text += "".join(f"[[brief.clause]]\n{one}\n" for one in own)
    (brief,) = parse_rulebook(text).briefs
    assert [c.id for c in brief.clauses[5:]] == ["file_bytes-2", "size-2", "ask-2"]
    assert [c.ask for c in brief.clauses if c.ask] == ["Uncluttered?", "White?", "No collages?"]
    bytes_ = [c.limit for c in brief.clauses if c.measure == "file_bytes"]
    assert [one.at_least is not None for one in bytes_] == [True, False]


def test_more_ways_than_can_be_followed_are_refused():
    clauses = "".join(
        f'[[brief.clause]]\nid = "c{i}{way}"\nmeasure = "width"\nexactly = 9\neither = "{i}/{way}"\n'
        for i in range(7)
        for way in "ab"
    )
    with pytest.raises(RulebookError, match="128 ways"):
        parse_rulebook(f'{HEAD}[[brief]]\nid = "a"\ntitle = "A"\n{clauses}')


@pytest.mark.long
def test_a_choice_takes_the_way_that_changes_the_photo_least(tmp_path):
    """600 x 600 as PNG, or 1200 x 1200 as JPEG; PNG up to 2 MB, JPEG up to 500 KB."""
    brief = read_shelf().find("harbour-registry/notice-board")[1]
    made = {}
    for size, name in (
        ((1200, 1200), "large.jpg"),
        ((600, 600), "small.png"),
        ((1800, 1350), "x.png"),
    ):
        Image.fromarray(scene(*size)).save(tmp_path / name, icc_profile=shipped("srgb"))
        proof = conform(open_photo(tmp_path / name), brief)
        assert proof.ready, [f.says for f in proof.findings.findings]
        made[name] = (proof.line.way, proof.line.frame.output, proof.made.format)
        taken = "small" if made[name][2] == "png" else "large"
        idle = [
            f.clause.either
            for f in proof.findings.findings
            if f.clause.either and f.verdict == "idle"
        ]
        assert set(idle) == {"small", "large"} - {taken}
    assert made["large.jpg"] == ("supplied", (1200, 1200), "jpeg")
    assert made["small.png"] == ("supplied", (600, 600), "png")
    assert made["x.png"] == ("anew", (1200, 1200), "jpeg")
    said = " ".join(describe(brief)).replace("\u00a0", " ")
    assert "600 × 600" in said and "1 200 × 1 200" in said


@pytest.mark.long
def test_a_way_whose_file_cannot_meet_its_limits_gives_way_to_the_other(tmp_path):
    """Grain makes a PNG of 600 x 600 larger than 100 KB: the JPEG is made, though it changes more."""
    rng = np.random.default_rng(1)
    Image.fromarray(rng.integers(0, 255, (600, 600, 3), np.uint8)).save(tmp_path / "grain.png")
    brief = parse_rulebook(
        book_of(
            'measure = "file_bytes"\nat_most = "100 KB"',
            '[[brief.clause]]\nmeasure = "format"\nexactly = "png"\neither = "one"\n'
            '[[brief.clause]]\nmeasure = "colours"\nat_least = 1000\neither = "one"\n'
            '[[brief.clause]]\nid = "other"\nmeasure = "format"\nexactly = "jpeg"\neither = "two"\n',
        )
    ).briefs[0]
    proof = conform(open_photo(tmp_path / "grain.png"), brief)
    assert proof.ready and proof.made.format == "jpeg" and len(proof.made.data) <= 100_000


def test_a_missing_date_is_asked_and_an_answer_holds(photos):
    brief = parse_rulebook(book_of('measure = "shot_age"\nat_most = "6 months"')).briefs[0]
    reading = of_supplied(open_photo(photos / "p.png"))
    (asked,) = judge(reading, brief).findings
    assert asked.verdict == "asks" and "only a person" in asked.says
    answer = Confirmation("shot_age", "Ines Marrow", "2026-11-02T10:00")
    assert judge(reading, brief, [answer]).findings[0].verdict == "meets"


def test_six_months_are_months_of_the_calendar(photos):
    brief = parse_rulebook(book_of('measure = "shot_age"\nat_most = "2 months"')).briefs[0]
    photo = open_photo(photos / "p.jpg")
    reading = of_supplied(photo)
    taken = datetime.date.fromisoformat(reading.inside().told.date[:10].replace(":", "-"))
    last = taken.replace(day=1) + datetime.timedelta(days=62)
    last = last.replace(day=min(taken.day, 28))
    for day, verdict in ((last, "meets"), (last + datetime.timedelta(days=8), "misses")):
        assert judge(replace(reading, today=day), brief).findings[0].verdict == verdict


def test_a_photo_that_misses_what_no_file_can_mend_goes_out_as_it_came(photos):
    brief = parse_rulebook(book_of('measure = "caption"\nexactly = "present"')).briefs[0]
    proof = conform(open_photo(photos / "p.png"), brief)
    assert not proof.ready and proof.line.way == "supplied"
    assert proof.made.data == (photos / "p.png").read_bytes()


def test_metadata_are_left_out_round_an_untouched_picture(photos):
    """Read by Pillow: nothing is told any more, and the picture is the same."""
    brief = parse_rulebook(book_of('measure = "metadata"\nexactly = "none"')).briefs[0]
    proof = conform(open_photo(photos / "p.jpg"), brief)
    assert proof.line.way == "around"
    with Image.open(io.BytesIO(proof.made.data)) as made, Image.open(photos / "p.jpg") as was:
        assert not dict(made.getexif()) and (np.asarray(made) == np.asarray(was)).all()
    causes = [act.cause.says for act in proof.record if act.cause]
    assert causes and all("Metadata asks not stated" in cause for cause in causes)


@pytest.mark.parametrize("kind, count, each", [("gif", 5, 200), ("webp", 4, 500), ("png", 3, 100)])
def test_animations_are_timed(tmp_path, kind, count, each):
    frames = [Image.fromarray(scene(80, 60, seed)) for seed in range(1, count + 1)]
    path = tmp_path / f"moving.{kind}"
    frames[0].save(path, save_all=True, append_images=frames[1:], duration=each)
    brief = parse_rulebook(
        book_of(
            'measure = "duration"\nat_most = "1.5 s"',
            '[[brief.clause]]\nmeasure = "frame_rate"\nat_most = "8 per second"\n',
        )
    ).briefs[0]
    first, second = judge(of_supplied(open_photo(path, moving=True)), brief).findings
    assert first.value == pytest.approx(count * each / 1000)
    assert first.verdict == ("meets" if count * each <= 1500 else "misses")
    assert second.value == pytest.approx(1000 / each, abs=0.01)
    assert second.verdict == ("meets" if 1000 / each <= 8 else "misses")
    looked = check_file(str(path), brief, mends=False).findings.findings
    assert [f.verdict for f in looked] == [first.verdict, second.verdict]
    still = judge(of_supplied(open_photo(_still(tmp_path))), brief).findings
    assert {f.verdict for f in still} == {"idle"}


def _still(folder: Path) -> Path:
    Image.fromarray(scene(80, 60)).save(folder / "still.png")
    return folder / "still.png"


@pytest.mark.parametrize("quality", [10, 37, 60, 75, 88, 95, 100])
def test_a_quality_is_told_as_it_was_written(tmp_path, quality):
    Image.fromarray(scene(80, 60)).save(tmp_path / "q.jpg", quality=quality)
    brief = parse_rulebook(book_of(f'measure = "quality"\nexactly = {quality}')).briefs[0]
    assert judge(of_supplied(open_photo(tmp_path / "q.jpg")), brief).findings[0].verdict == "meets"


def test_retouching_that_a_person_tells_is_judged(photos):
    text = book_of('measure = "format"\nexactly = "jpeg"').replace(
        'title = "Notice"\n', 'title = "Notice"\nallows = ["cut", "dust"]\ndoes = "We crop it."\n'
    )
    brief = parse_rulebook(text).briefs[0]
    assert brief.does == ("We crop it.",)
    photo = open_photo(photos / "p.jpg")
    for said, verdict in (("source.dust", "meets"), ("source.retouched", "misses")):
        proof = finished(photo, brief, {said: "true"})
        assert proof.findings.of("alterations").verdict == verdict
        assert any("as a person says" in act.says for act in proof.record)


# --- slips -------------------------------------------------------------------------------------------

SLIPS = {
    "a lost digit": ('measure = "width"\nat_least = "75 px"\nquote = "at least 750 pixels"', "750 pixels"),
    "a gained digit": ('measure = "ppi"\nexactly = 3000\nquote = "300 dpi"', "300 dpi"),
    "the wrong unit": ('measure = "file_bytes"\nat_most = "240 MB"\nquote = "up to 240 kB"', "240 kB"),
    "sides exchanged": ('measure = "size"\nexactly = "840 x 630"\nquote = "630 x 840 px"', "630 × 840"),
    "more read as less": ('measure = "width"\nat_least = 800\nquote = "no more than 800 pixels"', "other way"),
    "less read as more": ('measure = "height"\nat_most = 800\nquote = "a minimum of 800 px"', "other way"),
    "a share": ('measure = "head_height"\nbetween = ["26 %", "70 %"]\nquote = "62 to 70 %"', "62 %"),
    "a printed size": ('measure = "size"\nexactly = "35 x 54 mm"\nquote = "35 x 45 mm"', "35 x 45 mm"),
    "a length": ('measure = "print_width"\nexactly = "53 mm"\nquote = "35 mm wide"', "35 mm"),
    "a density that no file has": ('measure = "ppi"\nexactly = 5', "is that meant"),
    "a length of a house": ('measure = "print_width"\nexactly = "35 m"', "is that meant"),
    "bytes that hold nothing": ('measure = "file_bytes"\nat_most = "50 B"', "is that meant"),
    "a head larger than its frame": ('measure = "head_height"\nbetween = ["62 %", "170 %"]', "is that meant"),
    "bytes for ten megapixels": ('measure = "file_bytes"\nat_most = "50 KB"', "no photo keeps that"),
    "BMP with a profile": ('measure = "profile"\nexactly = "embedded"', "BMP cannot hold"),
    "JPEG that is clear": ('measure = "transparency"\nexactly = "present"', "JPEG cannot hold"),
    "colour at one bit": ('measure = "bits"\nexactly = 1', "exclude each other"),
    "grey WebP": ('measure = "colour_space"\nexactly = "grey"', "WebP cannot hold"),
    "a choice of one": ('measure = "width"\nexactly = 300\neither = "small"', "only way"),
    "a condition that never holds": (
        'measure = "file_bytes"\nat_most = "1 MB"\nwhen = { measure = "format", exactly = "png" }',
        "another clause excludes"),
}  # fmt: skip
BESIDE = {
    "bytes for ten megapixels": '[[brief.clause]]\nmeasure = "megapixels"\nat_least = 10\n',
    "BMP with a profile": form("bmp"),
    "JPEG that is clear": form("jpeg"),
    "colour at one bit": '[[brief.clause]]\nmeasure = "channels"\nexactly = "colour"\n',
    "grey WebP": form("webp"),
    "a condition that never holds": form("jpeg"),
}


@pytest.mark.parametrize("name", SLIPS)
def test_lint_names_each_slip(name, tmp_path, run):
    rule, said = SLIPS[name]
    path = tmp_path / "slip.toml"
    path.write_text(book_of(rule, BESIDE.get(name, "")))
    told = run("rulebook", "lint", str(path))
    lines = told.stdout.strip().splitlines()
    assert told.code == 1 and len(lines) == 1, lines
    assert said in lines[0] and re.search(r"/slip\.toml:\d+: notice", lines[0])


def test_a_limit_far_from_those_of_the_other_briefs_is_named():
    briefs = "".join(
        f'[[brief]]\nid = "b{i}"\ntitle = "B"\n[[brief.clause]]\nmeasure = "file_bytes"\nat_most = "{most}"\n'
        for i, most in enumerate(("250 KB", "300 KB", "25 KB", "240 KB"))
    )
    (found,) = doubts(parse_rulebook(HEAD + briefs).briefs)
    assert found.brief.id == "b2" and "other briefs" in found.slip.says


def test_the_shelf_has_nothing_that_is_not_meant():
    for path in shipped_paths():
        assert doubts(read_rulebook(path).briefs) == ()


# --- the one description -------------------------------------------------------------------------------


def test_every_example_of_the_guide_is_read():
    for name, measure in STATED.items():
        keys = "\n".join(limit_of(measure))
        text = book_of(
            f'measure = "{name}"\n{keys}',
            '[[brief.clause]]\nmeasure = "print_height"\nexactly = "45 mm"\n',
        )
        clause = parse_rulebook(text).briefs[0].clauses[0]
        assert said_back(clause) and f"`{name}`" in guide()
    for _name, kind, forms in FORMS:
        read = [kind.parse(tomllib.loads(f"v = {form}")["v"], "upper") for form in forms]
        assert all(kind.show(value) for value in read)
    for block in re.findall(r"```toml\n(.*?)```", guide(), re.S):
        if "[body]" not in block:
            block = f'{HEAD}[[brief]]\nid = "x"\ntitle = "X"\n{block}'
        assert parse_rulebook(block).briefs


def test_the_guide_and_the_schema_are_made_from_the_description():
    docs = Path(__file__).parents[2] / "docs"
    assert (docs / "rulebooks.md").read_text() == guide()
    assert json.loads((docs / "rulebook.schema.json").read_text()) == schema()


def plain(value: object) -> object:
    """TOML as JSON has it: an editor sees a day as text."""
    return json.loads(json.dumps(value, default=str))


def test_the_schema_takes_every_sound_rulebook_and_refuses_what_it_can_tell():
    held = jsonschema.Draft202012Validator(schema())
    for path in shipped_paths():
        held.validate(plain(tomllib.loads(path.read_text())))
    for case in CASES.values():
        held.validate(plain(tomllib.loads(book_of(case.rule, case.more))))
    for wrong in (
        'measure = "sice"\nexactly = 1',
        'measure = "format"\nexactly = "jpg"',
        'measure = "format"\nat_most = "jpeg"',
        'measure = "width"\nexactly = 1\nask = "x"',
        'measure = "width"\nexactly = 1\nstrenght = "must"',
        'measure = "aspect"\nbelow = "3:2"',
    ):
        assert not held.is_valid(plain(tomllib.loads(book_of(wrong)))), wrong


def test_a_rulebook_that_is_begun_is_sound_and_nothing_is_written_over(tmp_path, run):
    told = run("rulebook", "new", str(tmp_path / "harbour"), "--body", 'Harbour "Nine" Office')
    path = tmp_path / "harbour.toml"
    assert told.code == 0 and read_rulebook(path).body.name == 'Harbour "Nine" Office'
    assert run("rulebook", "lint", str(path)).code == 0
    before = path.read_bytes()
    assert run("rulebook", "new", str(path)).code != 0 and path.read_bytes() == before
    assert parse_rulebook(started()).briefs
    assert json.loads(run("rulebook", "schema").stdout) == schema()


def test_the_older_rulebooks_read_as_before():
    """Nothing that the language has gained changes what was written without it."""
    for path in shipped_paths():
        if path.stem == "harbour-registry":
            continue
        book: Rulebook = read_rulebook(path)
        for brief in book.briefs:
            assert brief.plain and not brief.does
            assert not any(c.whole_body or c.of or c.either for c in brief.clauses)
