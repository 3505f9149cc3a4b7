"""The conformity report: one file, whole, and true to the bytes that it speaks of."""

from __future__ import annotations

import base64
import hashlib
import io
import re
from datetime import UTC, datetime
from html.parser import HTMLParser

import pypdfium2
import pytest
from PIL import Image

from aptandum.core.conform import conform
from aptandum.core.docket.model import Answer, Docket, PrintedSheet
from aptandum.core.docket.reported import gather
from aptandum.core.docket.store import load
from aptandum.core.docket.takeover import find
from aptandum.core.file.write import WriteError
from aptandum.core.judge.findings import Confirmation
from aptandum.core.photo.decode import open_photo
from aptandum.core.report import Report, entry_of, write_report
from aptandum.core.report.html import html
from aptandum.core.report.pdf import pdf
from aptandum.core.rulebook.shelf import read_shelf
from samples import DEMO

SHELF = read_shelf()
BOOK, DECK = SHELF.find("vessary-ferries/deck-pass")
WHEN = datetime(2026, 11, 25, 9, 30, tzinfo=UTC)
ANSWERS = [
    Confirmation("expression", "Ines <Marrow> & Co", "2026-11-25T09:12+00:00"),
    Confirmation("shadow", "Tobin Oar", "2026-11-25T09:13+00:00", met=False),
]


class Text(HTMLParser):
    """The words of a page, and everything that it would fetch."""

    def __init__(self, page):
        super().__init__()
        self.words, self.fetched, self.drawn, self.quiet = [], [], 0, False
        self.feed(page)

    def handle_starttag(self, tag, attrs):
        self.quiet = tag in ("style", "script")
        self.drawn += tag == "svg"
        for name, value in attrs:
            if name in ("src", "data", "srcset", "poster") or (name == "href" and tag == "link"):
                self.fetched.append(value)

    def handle_endtag(self, tag):
        self.quiet = False

    def handle_data(self, data):
        if not self.quiet:
            self.words.append(data)

    @property
    def text(self):
        return re.sub(r"\s+", " ", " ".join(self.words))


@pytest.fixture(scope="module")
def entry():
    photo = open_photo(DEMO / "ines_marrow_0417.jpg")
    asked = [c.id for c in DECK.clauses if c.ask]
    answers = [Confirmation(i, a.by, a.at, a.met) for i, a in zip(asked, ANSWERS, strict=False)]
    proof = conform(photo, DECK, confirmed=answers)
    return entry_of(photo, BOOK, DECK, proof, answers), proof, photo


@pytest.fixture(scope="module")
def page(entry):
    return html(Report("Vessary autumn intake", (entry[0],), WHEN))


def test_the_page_needs_nothing_beside_it(page):
    seen = Text(page)
    assert seen.fetched and all(value.startswith("data:") for value in seen.fetched)
    assert not re.findall(r"url\((?!data:)", page) and "<script" not in page
    assert "@import" not in page
    for value in seen.fetched:
        with Image.open(io.BytesIO(base64.b64decode(value.split(",", 1)[1]))) as image:
            image.load()


def test_it_names_the_rules_with_edition_and_source_and_both_files_by_hash(page, entry):
    _, proof, photo = entry
    text = Text(page).text
    for words in (
        "Vessary Ferries",
        "Deck pass portrait",
        "Crew notice 12",
        "2026-11-02",
        "https://ferries.vessary.example/crew",
        "2026-11-25 09:30",
    ):
        assert words in text
    assert hashlib.sha256(proof.made.data).hexdigest() in text
    assert hashlib.sha256((DEMO / "ines_marrow_0417.jpg").read_bytes()).hexdigest() in text
    assert photo.path.endswith("ines_marrow_0417.jpg") and "ines_marrow_0417.jpg" in text


def test_every_finding_stands_there_with_figure_limit_words_and_drawing(page, entry):
    made, proof, _ = entry
    seen = Text(page)
    for finding in proof.findings.findings:
        assert finding.title in seen.text
        assert re.sub(r"\s+", " ", finding.limit) in seen.text
        if finding.clause.measure != "alterations":
            assert re.sub(r"\s+", " ", finding.measured) in seen.text
        if finding.clause.quote:
            assert f"“{finding.clause.quote}”" in seen.text
    gauges = sum(row.scale is not None for row in made.rows)
    assert gauges >= 8
    # a sign for each finding and the whole, a gauge for each that has one, the frame
    assert seen.drawn == len(made.rows) + gauges + 2


def test_what_was_done_and_who_said_what_are_there_and_names_are_only_text(page, entry):
    text = Text(page).text
    for act in entry[1].acts:
        assert re.sub(r"\s+", " ", act.says) in text
    assert "it is so: Ines <Marrow> & Co, 2026-11-25 09:12" in text
    assert "it is not so: Tobin Oar, 2026-11-25 09:13" in text
    assert "<Marrow>" not in page  # escaped: no name can become markup


def test_a_no_makes_the_file_not_ready_and_the_report_says_so(page, entry):
    made, proof, _ = entry
    assert not proof.ready and made.sign == "misses" and "Not ready" in Text(page).text


def test_the_pictures_are_the_finished_file_and_the_frame_lies_where_it_was_cut(entry):
    made, proof, _ = entry
    wide, high = made.picture_size
    with (
        Image.open(io.BytesIO(made.picture)) as shown,
        Image.open(io.BytesIO(proof.made.data)) as real,
    ):
        small = real.convert("RGB").resize((wide // 8, high // 8), Image.Resampling.BOX)
        again = shown.convert("RGB").resize((wide // 8, high // 8), Image.Resampling.BOX)
        pairs = zip(small.tobytes(), again.tobytes(), strict=True)
        assert max(abs(a - b) for a, b in pairs) < 24
    window, (across, up) = proof.line.frame.window, proof.line.source.shown
    left, top, share_w, share_h = made.frame
    assert (left * across, top * up) == pytest.approx((window.left, window.top))
    assert (share_w * across, share_h * up) == pytest.approx((window.width, window.height))


def test_the_pdf_says_the_same_on_its_pages(entry):
    made, _proof, _ = entry
    document = pypdfium2.PdfDocument(pdf(Report("Vessary autumn intake", (made,), WHEN)))
    pages = [document[i] for i in range(len(document))]
    text = re.sub(r"\s+", "", " ".join(page.get_textpage().get_text_bounded() for page in pages))
    assert abs(pages[0].get_width() - 595.28) < 1 and abs(pages[0].get_height() - 841.89) < 1
    for words in ("Notready", "Crewnotice12", made.file_hash, made.photo_hash, "630×840px"):
        assert words in text
    for row in made.rows:
        assert re.sub(r"\s+", "", row.title) in text
        assert re.sub(r"\s+", "", row.limit) in text
    assert len(pages) <= 3
    # nothing runs off the paper: a margin stays white
    shot = pages[0].render(scale=1).to_numpy()
    assert (shot[:, :20] > 250).all() and (shot[:, -20:] > 250).all()
    assert (shot[60:400, 60:250] < 200).any()


def test_a_report_is_written_whole_under_a_free_name_and_never_over_a_photo(entry, tmp_path):
    report = Report("x", (entry[0],), WHEN)
    first = write_report(report, tmp_path / "a.html")
    again = write_report(report, tmp_path / "a.html")
    assert (first.name, again.name) == ("a.html", "a-2.html")
    assert write_report(report, tmp_path / "a.pdf").read_bytes().startswith(b"%PDF-")
    with pytest.raises(WriteError, match=r"\.html or as \.pdf"):
        write_report(report, tmp_path / "a.docx")


def test_the_demo_docket_is_gathered_whole_and_a_lost_photo_is_named(tmp_path):
    docket = load(DEMO / "vessary.docket")
    few = docket.fittings[:2]
    broken = docket.photos[1].model_copy(update={"path": str(tmp_path / "gone.jpg")})
    photos = tuple(broken if p.id == broken.id else p for p in docket.photos)
    answered = few[0].model_copy(
        update={"answers": (Answer(clause="expression", by="Ines Marrow", at="2026-11-25T10:00"),)}
    )
    held = docket.model_copy(update={"fittings": (answered, few[1]), "photos": photos})
    counts = []
    found = gather(held, lambda name: find(held, SHELF, name), lambda n, m: counts.append((n, m)))
    assert len(found.entries) == 1 and found.entries[0].ready
    assert found.entries[0].answers[0][1].startswith("it is so: Ines Marrow")
    assert len(found.left_out) == 1 and "gone.jpg" in found.left_out[0]
    assert counts == [(1, 2), (2, 2)]
    assert gather(Docket(), lambda name: find(held, SHELF, name)).entries == ()


def test_the_report_of_several_tells_how_many_are_left(entry):
    made = entry[0]
    both = Report("x", (made, made), WHEN)
    assert "0 of 2 files" in both.tally
    text = Text(html(both)).text
    assert text.count("Which files these are") == 2


def test_a_portrait_in_lengths_is_reported_in_millimetres_and_in_shares(tmp_path):
    """35 x 45 mm at 600 ppi, head 32 to 36 mm: framed, proved, and printed in both units."""
    book, brief = SHELF.find("harbour-registry/seal-book")
    photo = open_photo(DEMO / "ines_marrow_0417.jpg")
    proof = conform(photo, brief)
    assert proof.ready
    with Image.open(io.BytesIO(proof.made.data)) as made:
        assert made.size == (827, 1063) and made.info["dpi"] == (600, 600)
    share = proof.findings.of("head_height").value
    assert 32 <= share * 45 <= 36
    millimetres, percent = f"{share * 45:.1f}".removesuffix(".0"), f"{share * 100:.1f}"
    report = Report("Seal book", (entry_of(photo, book, brief, proof, []),), WHEN)
    write_report(report, tmp_path / "seal.pdf")
    document = pypdfium2.PdfDocument(tmp_path / "seal.pdf")
    printed = " ".join(page.get_textpage().get_text_range() for page in document)
    for text in (Text(html(report)).text, printed):
        text = re.sub(r"\s+", " ", text.replace("\u00a0", " "))
        assert f"{millimetres} mm ({percent.removesuffix('.0')} %)" in text
        assert "32 mm (71.1 %) to 36 mm (80 %)" in text and "35 × 45 mm" in text


def test_the_sheets_that_were_printed_are_named_and_those_of_another_file_told_apart(entry):
    made, proof, photo = entry
    digest = hashlib.sha256(proof.made.data).hexdigest()
    sheets = [
        PrintedSheet(file=name, paper="A6", prints=((4, 35.0, 45.0), (1, 50.0, 64.3)), digest=of,
                     at="2026-11-25T10:00:00+00:00")
        for name, of in (("sheet.pdf", digest), ("old.pdf", "0" * 64))
    ]  # fmt: skip
    whole = entry_of(photo, BOOK, DECK, proof, printed=sheets)
    seen = Text(html(Report("x", (whole,), WHEN))).text
    assert "4 prints of 35 mm × 45 mm and 1 print of 50 mm × 64.3 mm on A6: sheet.pdf" in seen
    assert seen.count("from an earlier file") == 1
    words = pypdfium2.PdfDocument(pdf(Report("x", (whole,), WHEN)))[0].get_textpage()
    assert "Sheets of prints" in words.get_text_range()
    assert "Sheets of prints" not in Text(html(Report("x", (made,), WHEN))).text
