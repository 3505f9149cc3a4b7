"""Changing a rulebook's text, comparing editions, and taking one over."""

from __future__ import annotations

import tomllib

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from aptandum.core.brief.model import Brief
from aptandum.core.docket.model import Docket
from aptandum.core.docket.takeover import broken, offers, take_over
from aptandum.core.photo.facts import Facts
from aptandum.core.rulebook import write
from aptandum.core.rulebook.contradictions import contradictions
from aptandum.core.rulebook.editions import compare
from aptandum.core.rulebook.plain import said_back
from aptandum.core.rulebook.shelf import Shelf, read_shelf, shipped_paths
from aptandum.core.rulebook.toml import check_clause, parse_rulebook
from samples import brief_of, clause, examples

OWN = """# Kept by Quill Harrow; numbers copied from the notice board.
format = 1

[body]
id = "pier-office"   # as on the door
name = "Pier Office"
edition = "4"

# The only kind of picture they take.
[[brief]]
id = "notice"
title = "Notice"

  # They measure with a ruler.
  [[brief.clause]]
  measure = "width"
  at_most = 1600   # was 1500
  quote = "no wider than 1600"

  [[brief.clause]]
  measure = "file_bytes"
  at_most = "250 KB"

  [[brief.seen]]
  as = "card"   # pinned up
  width = "90 mm"
"""


def comments(text: str) -> list[str]:
    return [line.split("#", 1)[1] for line in text.splitlines() if "#" in line]


def own(brief: Brief) -> range:
    """The places of a brief's own clauses in its text."""
    return range(sum(not clause.whole_body for clause in brief.clauses))


def shared(text: str) -> range:
    """The places of the clauses of the whole body."""
    return range(len(tomllib.loads(text).get("clause", ())))


def test_a_changed_number_keeps_every_comment():
    fields = {**write.fields_of(OWN, 0, 0), "at_most": "1650 px"}
    made = write.set_clause(OWN, 0, 0, fields)
    assert comments(made) == comments(OWN)
    assert parse_rulebook(made).briefs[0].clauses[0].limit.at_most == 1650
    assert made.replace('"1650 px"', "1600") == OWN


@pytest.mark.long
def test_fields_put_back_change_nothing():
    for path in shipped_paths():
        text = path.read_text("utf-8")
        for i, brief in enumerate(parse_rulebook(text).briefs):
            for j in own(brief):
                assert write.set_clause(text, i, j, write.fields_of(text, i, j)) == text
        for j in shared(text):
            fields = write.fields_of(text, write.ALL, j)
            assert write.set_clause(text, write.ALL, j, fields) == text


def test_a_key_set_in_a_brief_with_tables_inside_stands_before_them():
    made = write.set_brief(OWN, 0, "optional", True)
    assert comments(made) == comments(OWN)
    book = parse_rulebook(made)
    assert book.briefs[0].optional and book.briefs[0].seen[0].width == 90.0
    assert len(book.briefs[0].clauses) == 2


def test_adding_and_removing_clauses():
    made = write.add_clause(OWN, 0, {"measure": "format", "one_of": ["jpeg", "png"]})
    made = write.add_clause(made, 0, {"ask": "12 people?", "strength": "should"})
    book = parse_rulebook(made)
    assert [c.measure for c in book.briefs[0].clauses] == ["width", "file_bytes", "format", None]
    assert comments(made) == comments(OWN)
    again = write.remove_clause(write.remove_clause(made, 0, 3), 0, 2)
    assert parse_rulebook(again) == parse_rulebook(OWN)


@pytest.mark.long
def test_every_shipped_rulebook_can_be_written_anew_clause_by_clause():
    for path in shipped_paths():
        text = path.read_text("utf-8")
        book = parse_rulebook(text)
        made = write.fresh(book.body.id, book.body.name)
        for i, brief in enumerate(book.briefs):
            made = write.add_brief(made, brief.id, brief.title)
            for j in own(brief):
                made = write.add_clause(made, i, write.fields_of(text, i, j))
        for j in shared(text):
            made = write.add_clause(made, write.ALL, write.fields_of(text, write.ALL, j))
        again = parse_rulebook(made)
        assert [b.clauses for b in again.briefs] == [b.clauses for b in book.briefs]


@given(
    st.text(min_size=1, max_size=30).filter(lambda s: s.strip()),
    st.text(max_size=30),
    st.integers(1, 60000),
)
@settings(max_examples=examples(150), deadline=None)
def test_any_words_survive_the_file(ask, quote, pixels):
    made = write.add_clause(OWN, 0, {"ask": ask, "quote": quote})
    made = write.add_clause(made, 0, {"measure": "height", "at_least": f"{pixels} px"})
    first, second = parse_rulebook(made).briefs[0].clauses[2:]
    assert first.ask == ask and first.quote == quote and second.limit.at_least == pixels


# --- what a brief carries besides its clauses -----------------------------------------------


def test_allows_places_borders_and_templates_put_back_change_nothing():
    for path in shipped_paths():
        text = path.read_text("utf-8")
        for i, brief in enumerate(parse_rulebook(text).briefs):
            if brief.allows is not None:
                assert write.set_allows(text, i, brief.allows) == text
            for j in range(len(brief.seen)):
                assert write.set_seen(text, i, j, write.seen_of(text, i, j)) == text
            if brief.border:
                assert write.set_border(text, i, brief.border) == text
            if brief.template:
                assert write.set_template(text, i, *write.template_of(text, i)) == text


@pytest.mark.long
def test_every_shipped_brief_can_be_written_anew_whole():
    for path in shipped_paths():
        text = path.read_text("utf-8")
        book = parse_rulebook(text)
        for i, brief in enumerate(book.briefs):
            made = write.add_brief(write.fresh(book.body.id, book.body.name), brief.id, brief.title)
            for j in own(brief):
                made = write.add_clause(made, 0, write.fields_of(text, i, j))
            made = write.set_does(made, 0, brief.does)
            for j in range(len(brief.seen)):
                fields = write.seen_of(text, i, j)
                made = write.set_seen(write.add_seen(made, 0, fields["as"]), 0, j, fields)
            made = write.set_allows(made, 0, brief.allows)
            made = write.set_border(made, 0, brief.border or "")
            made = write.set_template(made, 0, *write.template_of(text, i))
            again = parse_rulebook(made).briefs[0]
            assert (again.allows, again.seen) == (brief.allows, brief.seen)
            assert (again.border, again.template) == (brief.border, brief.template)
            assert again.does == brief.does


def test_nothing_permitted_is_not_everything_permitted():
    none = write.set_allows(OWN, 0, [])
    assert parse_rulebook(none).briefs[0].allows == ()
    some = write.set_allows(none, 0, ["cut", "scale"])
    assert parse_rulebook(some).briefs[0].allows == ("cut", "scale")
    assert write.set_allows(some, 0, None) == OWN
    assert comments(some) == comments(OWN)


def test_a_place_is_changed_added_and_taken_out_beside_its_remarks():
    fields = {**write.seen_of(OWN, 0, 0), "width": "85 mm"}
    made = write.set_seen(OWN, 0, 0, fields)
    assert made == OWN.replace("90 mm", "85 mm")
    zones = [{"name": "pin", "left": "45 %", "top": "0 %", "width": "10 %", "height": "5 %"}]
    made = write.set_seen(made, 0, 0, {**fields, "zones": zones})
    assert parse_rulebook(made).briefs[0].seen[0].zones[0].name == "pin"
    more = write.add_seen(made, 0, "banner")
    assert [s.as_ for s in parse_rulebook(more).briefs[0].seen] == ["card", "banner"]
    gone = write.remove_seen(write.remove_seen(more, 0, 1), 0, 0)
    assert parse_rulebook(gone).briefs[0].seen == ()
    assert "[[brief.seen]]" not in gone


SHARE = st.integers(0, 100).map(lambda n: f"{n} %")


@given(
    st.lists(
        st.fixed_dictionaries(
            {
                "name": st.text(min_size=1, max_size=12).filter(lambda s: s.strip()),
                "left": SHARE,
                "top": SHARE,
                "width": SHARE,
                "height": SHARE,
            }
        ),
        max_size=4,
    )
)
@settings(max_examples=examples(100), deadline=None)
def test_any_zones_survive_the_file(zones):
    made = write.set_seen(OWN, 0, 0, {**write.seen_of(OWN, 0, 0), "zones": zones})
    assert write.seen_of(made, 0, 0).get("zones", []) == zones
    assert write.set_seen(made, 0, 0, write.seen_of(made, 0, 0)) == made
    assert comments(made)[: len(comments(OWN))] and "Kept by Quill Harrow" in made


def test_a_remark_above_a_header_stays_with_it():
    made = write.add_brief(OWN + "\n# the last word", "other", "Other")
    assert "# The only kind of picture they take.\n[[brief]]" in made


# --- said back -----------------------------------------------------------------------------


@pytest.mark.parametrize(
    "fields, words",
    [
        (
            {"measure": "longest_side", "at_most": "1600"},
            "Longest side at most 1 600 px; both sides count.",
        ),
        (
            {"measure": "longest_side", "at_least": "1440 px"},
            "Longest side at least 1 440 px; one side is enough.",
        ),
        (
            {"measure": "file_bytes", "at_most": "250 KB"},
            "Bytes at most 250 kB. 250 KB may mean 250 000 bytes or 256 000 bytes; as an upper "
            "limit the smaller is kept, which is safe either way.",
        ),
        ({"measure": "file_bytes", "at_least": "60 KB"}, "the larger is kept"),
        ({"measure": "size", "exactly": "630 x 840"}, "the first number is the width"),
        (
            {"measure": "width", "at_most": "9", "applies": ["upright"]},
            "Only where the picture is upright.",
        ),
        ({"measure": "aspect", "exactly": "4:5", "strength": "should"}, "higher than wide"),
        ({"ask": "Is it yours?"}, "A person is asked: “Is it yours?”."),
    ],
)
def test_a_clause_is_said_back(fields, words):
    made, problems = check_clause(fields)
    assert not problems
    assert words in said_back(made).replace("\u00a0", " ")


def test_a_clause_that_is_wrong_says_what_was_expected():
    made, problems = check_clause({"measure": "file_bytes", "at_most": "250 Q"})
    assert made is None and problems[0].where == "at_most" and "250 KB" in problems[0].expected
    made, problems = check_clause({"measure": "wdith", "at_most": "250"})
    assert '"width" is the nearest' in problems[0].expected


# --- contradictions ------------------------------------------------------------------------


@pytest.mark.parametrize(
    "clauses, named",
    [
        (
            clause("format", exactly="jpeg") + clause("transparency", exactly="present"),
            {"format", "transparency"},
        ),
        (
            clause("format", one_of=["jpeg", "webp"]) + clause("bits", exactly=16),
            {"format", "bits"},
        ),
        (
            clause("file_bytes", at_least="300 KB")
            + clause("file_bytes", id="too", at_most="200 KB"),
            {"file_bytes", "too"},
        ),
        (
            clause("colour_space", exactly="srgb")
            + clause("colour_space", id="wide", exactly="prophoto"),
            {"colour_space", "wide"},
        ),
        (clause("width", at_least=900) + clause("size", exactly="800 x 900"), {"width", "size"}),
    ],
)
def test_clauses_that_exclude_each_other(clauses, named):
    brief = brief_of(clauses + clause("frames", exactly=1))
    found = contradictions(brief)
    assert len(found) == 1 and {c.id for c in found[0].clauses} == named and found[0].says


def test_clauses_for_different_turns_do_not_contradict():
    brief = brief_of(
        clause("file_bytes", at_most="100 KB", applies="upright")
        + clause("file_bytes", id="too", at_least="200 KB", applies="landscape")
        + clause("format", one_of=["jpeg", "png"])
        + clause("transparency", exactly="present")
    )
    assert contradictions(brief) == ()


def test_the_shipped_rulebooks_do_not_contradict_themselves():
    for book in read_shelf().rulebooks:
        for brief in book.briefs:
            assert contradictions(brief) == (), brief.id


# --- editions ------------------------------------------------------------------------------

FIVE = (
    OWN.replace('edition = "4"', 'edition = "5"')
    .replace("at_most = 1600   # was 1500", "at_most = 1200")
    .replace("no wider than 1600", "1200 wide at most")
    .replace('at_most = "250 KB"', 'at_most = "250 KB"\n  strength = "should"')
    + '\n  [[brief.clause]]\n  measure = "format"\n  exactly = "jpeg"\n'
)


def test_what_changed_is_told_clause_by_clause():
    found = {(d.kind, d.clause): d for d in compare(parse_rulebook(OWN), parse_rulebook(FIVE))}
    assert set(found) == {
        ("limit", "width"),
        ("wording", "width"),
        ("strength", "file_bytes"),
        ("added", "format"),
    }
    assert "1 600" in found["limit", "width"].before.replace("\u00a0", " ")
    assert found["strength", "file_bytes"].after == "recommended"
    back = {(d.kind, d.clause) for d in compare(parse_rulebook(FIVE), parse_rulebook(OWN))}
    assert ("removed", "format") in back
    assert compare(parse_rulebook(OWN), parse_rulebook(OWN)) == ()


def test_a_clause_that_only_got_another_id_is_the_same_clause():
    renamed = OWN.replace('measure = "width"', 'id = "how-wide"\n  measure = "width"')
    assert compare(parse_rulebook(OWN), parse_rulebook(renamed)) == ()


def test_which_fittings_a_newer_edition_breaks():
    five = OWN.replace("at_most = 1600   # was 1500", "at_least = 900").replace(
        '"250 KB"', '"250 KB"\n  [[brief.clause]]\n  measure = "enlargement"\n  at_most = 1'
    )
    docket, photo = Docket(rulebooks={"pier-office": OWN}).with_photo("/x/small.jpg")
    docket, small = docket.with_fitting(photo, "pier-office/notice")
    docket, other = docket.with_photo("/x/large.jpg")
    docket, _large = docket.with_fitting(other, "pier-office/notice")
    widths = {photo: 600, other: 2400}

    def facts(photo_id: str) -> Facts:
        w = widths[photo_id]
        return Facts("x.jpg", "jpeg", w, 400, w, 400, 8, "rgb", False, orientation=1)

    offer = offers(docket, Shelf((parse_rulebook(five),)))[0]
    found = broken(docket, offer, facts)
    assert [b.fitting.id for b in found] == [small]
    assert [f.clause.id for f in found[0].findings] == ["enlargement"]
    taken = take_over(docket, offer.new)
    assert offers(taken, Shelf((parse_rulebook(five),))) == ()
    assert taken.fittings == docket.fittings


def test_a_brief_that_is_gone_breaks_its_fittings():
    docket, photo = Docket(rulebooks={"pier-office": OWN}).with_photo("/x/small.jpg")
    docket, _ = docket.with_fitting(photo, "pier-office/notice")
    new = parse_rulebook(OWN.replace('id = "notice"', 'id = "poster"'))
    found = broken(docket, offers(docket, Shelf((new,)))[0], lambda _id: None)
    assert len(found) == 1 and found[0].gone and "no longer" in found[0].says()


# --- what changed, in words ----------------------------------------------------------------


def changed(new: str, old: str = OWN) -> dict[tuple[str, str], tuple[str, str]]:
    """Kind and title of each difference, with what was before and after."""
    found = compare(parse_rulebook(old), parse_rulebook(new))
    return {(d.kind, d.title): (d.before, d.after) for d in found}


@pytest.mark.parametrize(
    "was, now, kind, title, before, after",
    [
        (
            'name = "Pier Office"',
            'name = "Pier House"',
            "wording",
            "Name of the body",
            "Pier Office",
            "Pier House",
        ),
        ('title = "Notice"', 'title = "Poster"', "wording", "Title", "Notice", "Poster"),
        ('title = "Notice"', 'title = "Notice"\noptional = true', "brief", "Optional", "no", "yes"),
        (
            'title = "Notice"',
            'title = "Notice"\nallows = ["cut", "pad"]',
            "brief",
            "Alterations allowed",
            "any",
            "cut and pad",
        ),
        (
            'title = "Notice"',
            'title = "Notice"\nallows = []',
            "brief",
            "Alterations allowed",
            "any",
            "none",
        ),
        ('as = "card"', 'as = "print"', "brief", "Where it is seen", "card", "print"),
        (
            'width = "90 mm"',
            'width = "80 mm"',
            "brief",
            "Where it is seen",
            "as it was",
            "other details",
        ),
        (
            "at_most = 1600",
            "at_most = 1500",
            "limit",
            "Width",
            "at most 1 600 px",
            "at most 1 500 px",
        ),
        (
            "at_most = 1600",
            'at_most = 1600\n  strength = "should"',
            "strength",
            "Width",
            "required",
            "recommended",
        ),
        (
            "at_most = 1600",
            'at_most = 1600\n  applies = "upright"',
            "applies",
            "Width",
            "always",
            "upright",
        ),
        (
            'quote = "no wider than 1600"',
            'quote = "1600 at most"',
            "wording",
            "Width",
            "no wider than 1600",
            "1600 at most",
        ),
    ],
)
def test_each_kind_of_change_is_said_with_before_and_after(was, now, kind, title, before, after):
    assert OWN.count(was) == 1
    found = changed(OWN.replace(was, now))
    said = {
        k: tuple(v.replace("\u202f", " ").replace("\u00a0", " ") for v in pair)
        for k, pair in found.items()
    }
    assert said == {(kind, title): (before, after)}


def test_briefs_and_templates_that_come_and_go_are_said():
    more = write.add_clause(write.add_brief(OWN, "poster", "Poster"), 1, {"ask": "Is it dry?"})
    assert changed(more) == {("added", "Poster"): ("", "a new brief")}
    assert changed(OWN, more) == {("removed", "Poster"): ("a brief of its own", "")}
    framed = write.set_template(
        write.set_border(OWN, 0, "oak.png"), 0, "40 x 30", "", [("all", [[0, 0], [40, 0], [0, 30]])]
    )
    assert changed(framed) == {
        ("brief", "Border"): ("none", "oak.png"),
        ("brief", "Template"): ("none", "another"),
    }
    # a question that says something else is another question
    asked = write.add_clause(OWN, 0, {"id": "dry", "ask": "Is it dry?"})
    other = write.set_clause(asked, 0, 2, {"id": "dry", "ask": "Is it quite dry?"})
    assert changed(other, asked) == {
        ("wording", "Is it quite dry?"): ("Is it dry?", "Is it quite dry?")
    }
