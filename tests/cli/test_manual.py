"""Man pages and completion come from the commands themselves."""

import shutil
import subprocess

import pytest
from click import Context, Option
from click.testing import CliRunner

from buccaphon.cli import main
from buccaphon.cli.manual import commands_of


def run(*args: object, **more: object):
    return CliRunner().invoke(main, [str(arg) for arg in args], **more)


def test_there_is_a_page_for_every_command_with_its_options_and_examples(tmp_path):
    result = run("manual", tmp_path / "man1")
    assert result.exit_code == 0, result.output
    pages = {path.stem: path.read_text() for path in (tmp_path / "man1").iterdir()}
    commands = commands_of(main, Context(main))
    assert set(pages) == {"buccaphon", *(f"buccaphon-{name}" for name in commands)}
    for name, command in commands.items():
        page = pages[f"buccaphon-{name}"]
        assert ".SH NAME" in page
        for parameter in command.params:
            if isinstance(parameter, Option) and not parameter.hidden:
                assert max(parameter.opts, key=len).replace("-", "\\-") in page, (name, parameter.opts)
        assert ".SH EXAMPLES" in page


@pytest.mark.skipif(shutil.which("man") is None, reason="there is no man here")
def test_the_pages_can_be_read(tmp_path):
    run("manual", tmp_path)
    done = subprocess.run(
        ["man", "--warnings", "-l", str(tmp_path / "buccaphon-deliver.1")], capture_output=True, text=True, check=True
    )
    assert "warning" not in done.stderr
    assert "--list LIST.toml" in done.stdout


@pytest.mark.parametrize("shell", ["bash", "zsh", "fish"])
def test_shells_are_told_how_to_complete(shell):
    result = run("completion", shell)
    assert result.exit_code == 0
    assert "_BUCCAPHON_COMPLETE" in result.stdout


def test_what_is_completed_are_commands_and_options():
    env = {"_BUCCAPHON_COMPLETE": "bash_complete", "COMP_WORDS": "buccaphon del", "COMP_CWORD": "1"}
    result = CliRunner().invoke(main, [], prog_name="buccaphon", complete_var="_BUCCAPHON_COMPLETE", env=env)
    assert "deliver" in result.stdout
