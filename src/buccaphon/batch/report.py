"""What came of a batch, what needs an eye first: as CSV, and as a page."""

from __future__ import annotations

import csv
import html
import io
from collections.abc import Sequence
from urllib.parse import quote

from buccaphon.batch.line import Outcome
from buccaphon.texts import _, ngettext

_A_PAGE = 1000  # lines

_STYLE = """
body { font: 15px/1.5 system-ui, sans-serif; color: #2e2136; background: #fbf7ec; margin: 3em auto; max-width: 64em;
  padding: 0 1.5em }
h1 { font-family: Georgia, serif; font-weight: 400; margin-bottom: .2em }
table { border-collapse: collapse; width: 100%; margin-top: 1.5em }
th { text-align: left; font-weight: 600; border-bottom: 1px solid #dfd3c0; padding: .4em .8em .4em 0 }
td { vertical-align: top; border-bottom: 1px solid #efe6d6; padding: .5em .8em .5em 0 }
td.n { text-align: right; font-variant-numeric: tabular-nums }
.failed td { background: #f7e3dc }
ul { margin: 0; padding-left: 1.1em }
p { color: #665870; margin: 0 }
"""


def in_order(outcomes: Sequence[Outcome]) -> list[Outcome]:
    """What failed first, then by how much there is to look at; else as they came."""
    return sorted(outcomes, key=lambda outcome: -outcome.issue_count)


def as_csv(outcomes: Sequence[Outcome]) -> bytes:
    text = io.StringIO()
    writer = csv.writer(text, lineterminator="\r\n")
    writer.writerow(["name", "recording", "state", "doubts", "issues", "words", "seconds", "first", "files"])
    for each in in_order(outcomes):
        first = each.failed or (each.issues[0] if each.issues else "")
        state = "failed" if each.failed else "done"
        row = [
            each.title,
            each.recording,
            state,
            each.doubts,
            len(each.issues),
            each.words,
            f"{each.seconds:.3f}",
            first,
        ]
        writer.writerow([*map(_safe, row), "; ".join(each.files)])
    return b"\xef\xbb\xbf" + text.getvalue().encode()


def _safe(cell: object) -> object:
    """A name must not become a formula."""
    return f"'{cell}" if isinstance(cell, str) and cell.startswith(("=", "+", "-", "@")) else cell


def pages_of(outcomes: Sequence[Outcome], title: str) -> dict[str, bytes]:
    """The pages of a report by the names of their files, the first of them `report.html`; each needs no other file, and shows
    so many lines that a browser stays quick."""
    rows, said, found = in_order(outcomes), _said_of(outcomes), dict[str, bytes]()
    count = max(-(-len(rows) // _A_PAGE), 1)
    for number in range(count):
        shown = rows[number * _A_PAGE : (number + 1) * _A_PAGE]
        found[_page_name(number)] = _page(shown, title, said, _links(number, count))
    return found


def as_page(outcomes: Sequence[Outcome], title: str) -> bytes:
    """All on one page."""
    return _page(in_order(outcomes), title, _said_of(outcomes), "")


def _page_name(number: int) -> str:
    return "report.html" if not number else f"report-{number + 1}.html"


def _links(number: int, count: int) -> str:
    """To the pages beside one, and where it stands among them."""
    if count == 1:
        return ""
    before = f'<a href="{_page_name(number - 1)}">{html.escape(_("Previous"))}</a> ' if number else ""
    after = f' <a href="{_page_name(number + 1)}">{html.escape(_("Next"))}</a>' if number + 1 < count else ""
    stands = html.escape(_("page {number} of {count}", number=number + 1, count=count))
    return f"<p>{before}{stands}{after}</p>"


def _said_of(outcomes: Sequence[Outcome]) -> str:
    failed = sum(bool(each.failed) for each in outcomes)
    looked = sum(1 for each in outcomes if not each.failed and each.issue_count)
    seconds = sum(each.seconds for each in outcomes)
    return ngettext(
        "{count} line, {seconds:.1f} minutes; {failed} failed, {looked} to check",
        "{count} lines, {seconds:.1f} minutes; {failed} failed, {looked} to check",
        len(outcomes),
        seconds=seconds / 60,
        failed=failed,
        looked=looked,
    )


def _page(rows: Sequence[Outcome], title: str, said: str, links: str) -> bytes:
    shown = "".join(_row(each) for each in rows)
    return f"""<!DOCTYPE html>
<html lang="en"><head><meta charset="utf-8"><title>{html.escape(title)}</title><style>{_STYLE}</style></head>
<body><h1>{html.escape(title)}</h1><p>{said}</p>{links}
<table><thead><tr><th>Line</th><th>Doubts</th><th>Marks</th><th>To check</th><th>Files</th></tr></thead>
<tbody>{shown}</tbody></table>{links}</body></html>
""".encode()


def _row(each: Outcome) -> str:
    links = ", ".join(f'<a href="{html.escape(quote(name))}">{html.escape(name)}</a>' for name in each.files)
    looks = "".join(f"<li>{html.escape(text)}</li>" for text in ([each.failed] if each.failed else each.issues))
    shut = f"<ul>{looks}</ul>" if looks else ""
    kind = ' class="failed"' if each.failed else ""
    return (
        f"<tr{kind}><td>{html.escape(each.title)}</td><td class=n>{each.doubts}</td><td class=n>{len(each.issues)}</td>"
        f"<td>{shut}</td><td>{links}</td></tr>\n"
    )
