"""The line as it plays, heard by a stand-in: in order, in time, after jumps and edits; and nothing goes on after the end."""

import threading
import time

import numpy as np
import pytest
from click.testing import CliRunner
from PyQt6.QtCore import Qt

from buccaphon.app.commands.desk import Step
from buccaphon.app.live.peer import Peer
from buccaphon.app.live.sender import Sender
from buccaphon.app.sound.device import SimulatedDevice
from buccaphon.cli import main
from buccaphon.formats.osc import Live
from buccaphon.project.edits.mouths import Paint
from buccaphon.timing import Span
from tests.helpers.qtest import QTest


class RecordingFeatures(list):
    """(bundle, when it came) of a peer."""

    def __init__(self) -> None:
        super().__init__()
        self.peer = Peer(lambda bundle, when: self.append((bundle, when)))
        self.peer.start()

    def frames(self) -> list[int]:
        return [m.arguments[0] for bundle, _ in self for m in bundle.messages if m.address.endswith("/frame")]

    def last(self, ending: str):
        return next(m.arguments for bundle, _ in reversed(self) for m in bundle.messages if m.address.endswith(ending))

    def addresses(self) -> set[str]:
        return {m.address for bundle, _ in self for m in bundle.messages}


@pytest.fixture
def heard():
    found = RecordingFeatures()
    yield found
    found.peer.finish()


@pytest.fixture
def live(demo, heard):
    demo.document.player.set_device(SimulatedDevice())  # whose time goes on by itself
    demo.session.sending.set_address(f"127.0.0.1:{heard.peer.port}/rig")
    demo.do("live")
    yield demo.session.sending
    demo.session.sending.switch_off()


def test_playing_sends_every_frame_in_order_before_it_is_shown(demo, qtbot, heard, live):
    demo.document.player.seek(0.0)
    demo.document.player.play()
    qtbot.waitUntil(lambda: len(heard) > 30, timeout=10_000)
    demo.document.player.stop()
    qtbot.waitUntil(lambda: "/rig/stop" in heard.addresses(), timeout=5000)
    begun = next(n for n, (bundle, _) in enumerate(heard) if bundle.messages[0].address == "/rig/play")
    first, last, rate = heard[begun][0].messages[0].arguments
    assert (first, last, rate) == (0, demo.document.bake().frames - 1, 24.0)
    tagged = [(bundle, when) for bundle, when in heard[begun:] if bundle.seconds]
    frames = [m.arguments[0] for bundle, _ in tagged for m in bundle.messages if m.address == "/rig/frame"]
    assert frames == list(range(frames[0], frames[0] + len(frames)))
    steps = np.diff([bundle.seconds for bundle, _ in tagged])
    assert np.abs(np.median(steps) - 1 / 24) < 0.003
    mouths = [e.mouth for e in demo.document.bake().exposures for _ in range(e.length)]
    said = {b.messages[0].arguments[0]: b.messages[1].arguments[0] for b, _ in tagged}
    assert all(said[frame] == mouths[frame] for frame in said)
    assert {"/rig/jaw", "/rig/weight/open"} <= heard.addresses()


def test_stepping_and_editing_are_seen_at_once(demo, qtbot, heard, live):
    demo.document.player.seek(2.0)
    qtbot.waitUntil(lambda: bool(heard) and heard.frames()[-1] == 48, timeout=5000)
    QTest.keyClick(demo, Qt.Key.Key_Right)
    qtbot.waitUntil(lambda: heard.frames()[-1] == 49, timeout=5000)
    exposure = demo.document.exposure()
    other = "Pucker" if exposure.mouth != "Pucker" else "Open"
    demo.document.apply(Paint(demo.document.span_of(exposure), other))
    qtbot.waitUntil(lambda: heard.last("/mouth")[0] == other, timeout=5000)


def test_a_loop_jumps_back_with_the_sound(demo, qtbot, heard, live):
    player = demo.document.player
    demo.galley.setFocus()
    player.loop, player.loops = Span(1.0, 1.5), True
    player.seek(1.0)
    player.play()
    qtbot.waitUntil(lambda: sum(frame == 25 for frame in heard.frames()) > 1, timeout=10_000)
    player.stop()
    assert set(heard.frames()[2:]) <= set(range(23, 38))


def test_it_is_off_until_switched_on_and_its_panel_says_what_is_heard(demo, qtbot, heard):
    sending = demo.session.sending
    assert not sending.is_on
    demo.document.player.seek(1.0)
    demo.show_step(Step.EXPORT)
    panel = demo.export_panel
    panel.live_fold.set_open(True)
    panel.live.address.setText("nonsense")
    panel.live.address.editingFinished.emit()
    assert "not an address" in panel.live.told.text()
    port = heard.peer.port
    heard.peer.finish()
    panel.live.address.setText(f"127.0.0.1:{port}/x")
    panel.live.address.editingFinished.emit()
    panel.live.hear_button.click()
    assert sending.is_on
    demo.document.player.seek(3.0)
    qtbot.waitUntil(lambda: "frame 72" in panel.live.heard.text(), timeout=5000)
    other = Peer(lambda *_: None)
    other.start()
    sending.set_address(f"127.0.0.1:{other.port}")
    sending.hear_itself()
    assert "Another program already listens" in sending.told
    other.finish()
    panel.live.switch.click()
    assert not sending.is_on
    assert threading.active_count() < 30
    assert not [thread for thread in threading.enumerate() if thread.name in ("live", "peer")]


def test_where_nothing_can_be_sent_it_is_said_and_the_sound_goes_on(demo, qtbot):
    sending = demo.session.sending
    sending.set_address("no.such.host.invalid:9000")
    sending.switch_on()
    demo.document.player.play()
    qtbot.waitUntil(lambda: "Nothing can be sent" in sending.told, timeout=10_000)
    assert demo.document.player.playing
    sending.switch_off()


def test_closing_the_window_ends_it(demo, qtbot, heard, live):
    demo.document.player.play()
    qtbot.waitUntil(lambda: len(heard) > 3, timeout=5000)
    demo.session.shut_down()
    assert not [thread for thread in threading.enumerate() if thread.name == "live"]


def test_the_sender_makes_up_for_a_clock_that_is_told_in_steps(heard):
    """The sound is told where it is every 12 ms, up to 8 ms wrong: bundles keep their step."""
    sender = Sender(("127.0.0.1", heard.peer.port), lambda _said: None)
    count = 48
    sender.take(Live("/x", 0, 24.0, [("Rest", 0)] * count, ["/x/jaw"], [[0.0]] * count))
    sender.start()
    begun = time.perf_counter()
    sender.play(0.0, 1.0)
    while (gone := time.perf_counter() - begun) < 2.2:
        sender.follow(gone - 0.008 * ((int(gone * 90) % 3) / 2), 1.0)
        time.sleep(0.012)
    sender.finish()
    times = np.array([bundle.seconds for bundle, _ in heard if bundle.seconds])
    assert heard.frames() == list(range(count))
    assert np.percentile(np.abs(np.diff(times) - 1 / 24), 95) < 0.004


def test_the_listener_of_the_command_line_prints_what_comes(heard):
    port = heard.peer.port
    heard.peer.finish()
    found = []

    def listen():
        found.append(CliRunner().invoke(main, ["listen", "--port", str(port), "--count", "1"]))

    thread = threading.Thread(target=listen)
    thread.start()
    sender = Sender(("127.0.0.1", port), lambda _said: None)
    sender.take(Live("/x", 101, 24.0, [("Open", 3)] * 24, ["/x/jaw"], [[0.5]] * 24))
    sender.start()
    while thread.is_alive():
        sender.show(0.5)
        thread.join(0.1)
    sender.finish()
    assert "frame 113  ·  Open  ·  jaw 0.50" in found[0].stdout
