"""What is copied for a table: cells stay cells, and no word becomes a formula."""

import csv
import io
import json
from dataclasses import replace
from html.parser import HTMLParser

import pytest

from buccaphon.formats.out.clipboard import keys_table
from buccaphon.score.records import Score
from tests.formats.test_formats import small_delivery


class Cells(HTMLParser):
    def __init__(self) -> None:
        super().__init__()
        self.rows = []

    def handle_starttag(self, tag, attrs):
        if tag == "tr":
            self.rows.append([])
        elif tag == "td":
            self.rows[-1].append("")

    def handle_data(self, data):
        if self.rows:
            self.rows[-1][-1] += data


@pytest.mark.parametrize("comma", [False, True])
def test_text_and_table_have_a_row_a_frame(comma):
    small = small_delivery()
    table = keys_table(small, comma=comma)
    text = list(csv.reader(io.StringIO(table.text), delimiter="\t", quoting=csv.QUOTE_NONE))
    page = Cells()
    page.feed(table.page)
    assert text[0] == page.rows[0] == ["frame", "mouth", "jaw", "word"]
    assert len(text) == len(page.rows) == small.bake.frames + 1
    assert [row[1] for row in text[1:]] == [e.mouth for e in small.bake.exposures for _ in range(e.length)]
    jaw = [float(row[2].replace(",", ".")) for row in text[1:]]
    assert jaw == pytest.approx(small.bake.jaw.tolist(), abs=1e-4)
    assert (("," in text[5][2]), ("." in text[5][2])) == (comma, not comma)
    assert {row[3] for row in text} >= {" =and", "Plums,"}
    assert "&nbsp;=and" in table.page
    assert json.loads(table.data)["format"] == "buccaphon.keys"


def test_a_cell_is_one_line():
    small = small_delivery()
    words = (replace(small.score.words[0], text="a\tb\nc <i>"), *small.score.words[1:])
    odd = replace(small, score=Score(words, small.score.duration), bake=replace(small.bake, said=words))
    table = keys_table(odd)
    assert "\ta b c <i>\n" in table.text
    assert "a b c &lt;i&gt;" in table.page
