"""Everything but the window and `painting` works without Qt."""

import subprocess
import sys
from pathlib import Path

SOURCE = Path(__file__).parents[2] / "src"
WITH_QT = ("buccaphon.app", "buccaphon.painting")


def test_every_other_module_is_imported_without_qt():
    """In a process in which Qt cannot be imported at all."""
    files = sorted(SOURCE.rglob("*.py"))
    names = [".".join(path.relative_to(SOURCE).with_suffix("").parts).removesuffix(".__init__") for path in files]
    others = [n for n in names if not n.startswith(WITH_QT) and not n.endswith("__main__") and "hosts" not in n]
    code = (
        "import importlib, sys\n"
        "sys.modules['PyQt6'] = None\n"
        f"for name in {others!r}:\n"
        "    importlib.import_module(name)\n"
    )
    done = subprocess.run([sys.executable, "-c", code], capture_output=True, text=True, check=False)
    assert done.returncode == 0, done.stderr
    assert len(others) > 150
