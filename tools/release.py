"""A release: `./run release 0.2.0`, or `./run release --try` to build and check what is there without changing anything.

Sets the version and the heading of the changelog, builds wheel and source archive, installs the wheel into an empty
environment, bakes the demo's line there, writes the notes, commits and tags. Nothing is published.
"""

from __future__ import annotations

import re
import subprocess
import sys
import tempfile
import venv
from datetime import date
from pathlib import Path

import click

from buccaphon import __version__

_TOP = Path(__file__).parents[1]
_VERSION = _TOP / "src" / "buccaphon" / "__init__.py"
_CHANGES = _TOP / "CHANGELOG.md"
_DIST = _TOP / "dist"
_UNRELEASED = "## Unreleased\n"


def with_version(changes: str, version: str, day: date) -> str:
    """The changelog with what was unreleased under a version. Raises ValueError where there is nothing to release."""
    if not notes_of(changes, "Unreleased"):
        raise ValueError("CHANGELOG.md has nothing under “Unreleased”")
    return changes.replace(_UNRELEASED, f"{_UNRELEASED}\n## {version} ({day.isoformat()})\n", 1)


def notes_of(changes: str, version: str) -> str:
    """What the changelog says of a version; '' for nothing."""
    found = re.search(rf"^## {re.escape(version)}( \([\d-]+\))?\n(.*?)(?=^## |\Z)", changes, re.M | re.S)
    return found[2].strip() if found else ""


def build() -> Path:
    """Wheel and source archive in dist/. Returns the wheel."""
    for old in _DIST.glob("buccaphon-*"):
        old.unlink()
    _run(sys.executable, "-m", "build", "--no-isolation", "--outdir", str(_DIST), str(_TOP))
    (wheel,) = _DIST.glob("*.whl")
    return wheel


def check(wheel: Path, version: str) -> None:
    """Install the wheel where nothing else is, and use it."""
    with tempfile.TemporaryDirectory() as folder:
        place = Path(folder)
        venv.create(place / "env", with_pip=True)
        commands = place / "env" / "bin"
        _run(str(commands / "pip"), "install", "--quiet", "--disable-pip-version-check", str(wheel))
        said = _run(str(commands / "buccaphon"), "--version")
        if version not in said:
            raise SystemExit(f"The wheel says {said.strip()}, not {version}.")
        demo = _run(str(commands / "python"), "-c", "from buccaphon.demo.line import recording_path as p; print(p())")
        _run(str(commands / "buccaphon"), "bake", "--fps", "24", demo.strip(), "-o", str(place / "keys.json"))
        print(f"The wheel works: {said.strip()}, {(place / 'keys.json').stat().st_size} bytes of keys.")


def _run(*command: str) -> str:
    done = subprocess.run(command, cwd=_TOP, capture_output=True, text=True, check=False)
    if done.returncode:
        raise SystemExit(f"{' '.join(command)} failed:\n{done.stdout}{done.stderr}")
    return done.stdout


@click.command()
@click.argument("version", required=False)
@click.option("--try", "trying", is_flag=True, help="Build and check what is there; change nothing.")
def main(version: str | None, trying: bool) -> None:
    """Release VERSION, such as 0.2.0."""
    if trying:
        check(build(), __version__)
        return
    if version is None or not re.fullmatch(r"\d+\.\d+\.\d+", version):
        raise click.UsageError("Name the version, such as 0.2.0.")
    if _run("git", "status", "--porcelain").strip():
        raise click.UsageError("There is work that is not committed. Commit it first.")
    changes = with_version(_CHANGES.read_text("utf-8"), version, date.today())
    _CHANGES.write_text(changes, "utf-8")
    text = _VERSION.read_text("utf-8")
    _VERSION.write_text(text.replace(f'__version__ = "{__version__}"', f'__version__ = "{version}"'), "utf-8")
    check(build(), version)
    notes = _DIST / f"notes-{version}.md"
    notes.write_text(notes_of(changes, version) + "\n", "utf-8")
    _run("git", "commit", "--quiet", "--all", "--message", f"Version {version}")
    _run("git", "tag", "--annotate", f"v{version}", "--message", f"Version {version}")
    print(f"Version {version} is committed and tagged. Files and notes lie in {_DIST}; push the tag to publish it.")


if __name__ == "__main__":
    main()
