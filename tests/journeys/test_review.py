"""A line goes out as a page, is looked at in a real browser, and the director's note arrives as a note."""

import json
import shutil
from dataclasses import replace

import pytest

from buccaphon.formats.listing import Entry, ExportList
from tests.helpers.waiting import idle

CHROMIUM = shutil.which("chromium")
QUIET = (
    "--no-sandbox", "--disable-gpu", "--disable-quic", "--no-first-run", "--disable-background-networking",
    "--disable-component-update", "--disable-sync", "--autoplay-policy=no-user-gesture-required",
)  # fmt: skip


@pytest.fixture
def aligned_call(aligned_call):
    """The demo's line for one character alone."""
    return replace(aligned_call, kits=aligned_call.kits[:1])


@pytest.fixture
def page_file(demo, qtbot, tmp_path):
    small = (("width", "160"), ("height", "90"))
    demo.session.exporting.put(ExportList((Entry("review", options=small),), str(tmp_path)), "A page")
    demo.session.exporting.export()
    idle(demo, qtbot)
    return tmp_path / "stall_call.review.html"


def test_the_page_needs_nothing_but_itself(page_file):
    text = page_file.read_text("utf-8")
    assert "http" not in text.split('<script type="application/json"')[0].replace("http-equiv", "")
    data = json.loads(text.split('id="data">')[1].split("</script>")[0])
    assert data["length"] == len(data["shown"]) == len(data["mouth"])
    assert len(data["pictures"]) < data["length"] / 2, "pictures that are alike stand in it once"


@pytest.mark.skipif(CHROMIUM is None, reason="Debian's chromium is not installed")
def test_a_note_typed_in_a_browser_arrives_as_a_note(demo, qtbot, page_file, tmp_path):
    from playwright.sync_api import sync_playwright

    faults = []
    with sync_playwright() as playwright:
        browser = playwright.chromium.launch(executable_path=CHROMIUM, args=list(QUIET))
        page = browser.new_page()
        page.on("pageerror", lambda problem: faults.append(str(problem)))
        page.goto(page_file.as_uri())
        word = demo.document.score.words[4]
        page.click(f"span.w:has-text('{word.text}')")
        frame = demo.document.state.rate.nearest(word.start)
        assert page.inner_text("#place").startswith(str(frame))
        for _ in range(3):
            page.keyboard.press("ArrowRight")
        page.keyboard.press("n")
        page.keyboard.type("Open later <here>")
        page.click("#add")
        page.fill("#by", "Odile")
        page.click("#play")
        page.wait_for_function("document.getElementById('play').textContent === 'Stop'")
        page.wait_for_timeout(400)
        page.click("#play")
        assert int(page.inner_text("#place").split()[0]) > frame + 3
        with page.expect_download() as download:
            page.click("#save")
        download.value.save_as(tmp_path / "back.notes.json")
        browser.close()
    assert faults == []
    demo.open(tmp_path / "back.notes.json")
    idle(demo, qtbot)
    assert demo.chooser.isVisible(), "what it says is shown first"
    assert demo.document.state.take.notes == ()
    demo.chooser.shown[0].run()
    (note,) = demo.document.state.take.notes
    assert note.text == "Open later <here> (Odile)"
    assert demo.document.state.rate.nearest(note.span.start) == frame + 3
    demo.document.undo()
    assert demo.document.state.take.notes == ()
