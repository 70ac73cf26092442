"""QTest as it is: PyQt6's stubs take its static functions for methods, so no call of them would pass the type checker."""

from typing import Any

import PyQt6.QtTest

QTest: Any = PyQt6.QtTest.QTest
