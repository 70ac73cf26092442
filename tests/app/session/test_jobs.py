"""What is done beside the hands, and how it makes way for them."""

import threading

import pytest

from buccaphon.app.session.jobs import Jobs, Slot
from buccaphon.errors import Cancelled
from buccaphon.progress import Progress
from tests.helpers.qtest import QTest


@pytest.fixture
def jobs(qtbot):
    made = Jobs()
    yield made
    made.shut_down()


def counting(steps: list[int], begun: threading.Event):
    def work(progress: Progress) -> int:
        for step in range(5):
            begun.set()
            if not progress(step / 5, "Counting"):
                raise Cancelled
            steps.append(step)
        return len(steps)

    return work


def test_what_nobody_waits_for_stands_still_while_hands_are_at_work(jobs, qtbot):
    steps, done = [], []
    jobs.make_way()
    jobs.start(Slot.MEASURE, "Counting", counting(steps, begun := threading.Event()), done.append, awaited=False)
    assert begun.wait(5)
    for _ in range(4):
        QTest.qWait(150)
        jobs.make_way()
    assert steps == []
    qtbot.waitUntil(lambda: done == [5])


def test_what_somebody_waits_for_goes_on(jobs, qtbot):
    steps, done = [], []
    jobs.start(Slot.TAKE, "Counting", counting(steps, threading.Event()), done.append)

    def is_done_though_hands_never_rest() -> bool:
        jobs.make_way()
        return done == [5]

    qtbot.waitUntil(is_done_though_hands_never_rest)


def test_what_stands_still_can_be_cancelled(jobs, qtbot):
    steps, done = [], []
    jobs.make_way()
    jobs.start(Slot.MEASURE, "Counting", counting(steps, begun := threading.Event()), done.append, awaited=False)
    assert begun.wait(5)
    jobs.cancel(Slot.MEASURE)
    jobs.shut_down()
    assert not steps
    assert not done
