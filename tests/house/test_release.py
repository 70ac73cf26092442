"""The changelog is what a release is made from."""

from datetime import date
from pathlib import Path

import pytest
from tools.release import notes_of, with_version

CHANGES = """# Changes

## Unreleased

### Fixed

- The lantern goes out.

## 0.1.0 (2026-11-25)

- A lantern.
"""


def test_what_was_unreleased_becomes_a_version_with_its_date():
    changed = with_version(CHANGES, "0.2.0", date(2026, 12, 24))
    assert notes_of(changed, "0.2.0") == "### Fixed\n\n- The lantern goes out."
    assert notes_of(changed, "Unreleased") == ""
    assert notes_of(changed, "0.1.0") == notes_of(CHANGES, "0.1.0") == "- A lantern."
    assert "## 0.2.0 (2026-12-24)" in changed


def test_nothing_is_not_released():
    changed = with_version(CHANGES, "0.2.0", date(2026, 12, 24))
    with pytest.raises(ValueError, match="nothing under"):
        with_version(changed, "0.3.0", date(2026, 12, 25))


def test_the_changelog_has_kinds_and_dates():
    text = (Path(__file__).parents[2] / "CHANGELOG.md").read_text("utf-8")
    headings = [line for line in text.splitlines() if line.startswith("## ")]
    assert headings[0] == "## Unreleased"
    assert all("(20" in line for line in headings[1:])
    assert {line for line in text.splitlines() if line.startswith("### ")} <= {
        "### Added", "### Changed", "### Fixed", "### Removed", "### Security",
    }  # fmt: skip
