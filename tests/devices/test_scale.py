"""The scale's line protocol, and the reader against the practice scale: silence, garbage, stall, unplugging."""

import contextlib
import queue
import subprocess
import sys
import threading

import pytest
from hypothesis import given
from hypothesis import strategies as st

from homunculus.core.errors import UserError
from homunculus.devices.practice_scale import Pan
from homunculus.devices.protocol import Hello, Reading, line_of, parse
from homunculus.devices.scale import Scale


@given(st.floats(-6000, 6000), st.booleans(), st.sampled_from([0.01, 0.1, 0.5, 1.0, 5.0]))
def test_a_reading_comes_back_as_it_was_sent(grams, resting, step):
    said = parse(line_of(Reading(grams / 1000, resting), step))
    assert isinstance(said, Reading)
    assert said.resting is resting
    assert said.kg == pytest.approx(grams / 1000, abs=step / 2000 + 1e-9)


def test_hello_and_limit_come_back_as_they_were_sent():
    assert parse(line_of(Hello(0.0001, 6.0), 0.1)) == Hello(0.0001, 6.0)
    assert parse(b"> limit\r\n") == Reading(0.0, False, True)


@given(st.binary(max_size=60))
def test_no_line_breaks_the_reader(line):
    with contextlib.suppress(UserError):  # the only way out but an answer
        assert isinstance(parse(line), Reading | Hello)


def test_the_practice_scale_refuses_what_is_no_order():
    pan = Pan()
    assert not any(map(pan.order, ("", "pour", "add nan", "add 1e9", "pour x to 3", "dance")))


class Bench:
    """A practice scale in a process of its own and a reader on its line."""

    def __init__(self):
        self.program = subprocess.Popen([sys.executable, "-m", "homunculus.devices.practice_scale"], text=True,
                                        stdin=subprocess.PIPE, stdout=subprocess.PIPE)  # fmt: skip
        path = self.program.stdout.readline().strip()
        self.readings, self.met, self.quiet = queue.Queue(), queue.Queue(), queue.Queue()
        self.scale = Scale(path, lambda _at, r: self.readings.put(r), self.met.put, self.quiet.put)

    def order(self, words):
        self.program.stdin.write(words + "\n")
        self.program.stdin.flush()

    def wait_for(self, kg):
        while abs(self.readings.get(timeout=60).kg - kg) > 1e-9:
            pass

    def close(self):
        self.scale.close()
        self.program.stdin.close()
        self.program.wait(5)
        self.program.stdout.close()


@pytest.fixture
def bench():
    made = Bench()
    yield made
    made.close()


def test_a_scale_is_met_read_and_set_to_nought(bench):
    assert bench.met.get(timeout=60) == Hello(0.0001, 6.0)
    bench.order("add 412.3")
    bench.wait_for(0.4123)
    bench.scale.tare()
    bench.wait_for(0.0)
    bench.order("pour 200 to 63.9")
    bench.wait_for(0.0639)


@pytest.mark.parametrize(("manner", "said"), [("silent", "went quiet"), ("garbage", "cannot be read")])
def test_silence_and_garbage_are_said_once_and_so_is_the_return(bench, manner, said):
    bench.met.get(timeout=60)
    bench.order(manner)
    sentence = bench.quiet.get(timeout=60)
    assert said in sentence
    assert "The pour is kept" in sentence
    bench.order("well")
    assert bench.quiet.get(timeout=60) is None
    assert bench.quiet.empty()


def test_a_stalled_scale_goes_on_saying_the_same_and_an_unplugged_one_is_missed(bench):
    bench.order("add 20")
    bench.wait_for(0.02)
    bench.order("stall")
    bench.order("add 30")
    for _ in range(5):
        bench.readings.get(timeout=60)
    assert bench.readings.get(timeout=60).kg == pytest.approx(0.02)
    bench.order("quit")
    assert "not there" in bench.quiet.get(timeout=60)


class Line:
    """A serial line that gives its bytes in any pieces, and is unplugged at the end."""

    def __init__(self, pieces):
        self.pieces, self.written = list(pieces), []
        self.in_waiting = 0

    def read(self, _count):
        if not self.pieces:
            raise OSError("unplugged")
        return self.pieces.pop(0)

    def write(self, data):
        self.written.append(data)


@given(st.lists(st.floats(0, 5999), min_size=1, max_size=30), st.data())
def test_readings_are_heard_whole_however_the_line_breaks_them_up(grams, data):
    stream = b"".join(line_of(Reading(g / 1000, True), 0.1) for g in grams)
    cuts = sorted(data.draw(st.lists(st.integers(0, len(stream)), max_size=20)))
    pieces = [stream[a:b] for a, b in zip([0, *cuts], [*cuts, len(stream)], strict=True)]
    heard = []
    reader = Scale.__new__(Scale)
    reader._heard, reader._met, reader._quiet = (lambda _at, r: heard.append(r.kg)), None, (lambda _s: None)
    reader._stop, reader._wishes, reader._silent = threading.Event(), [b"hello\n"], False
    line = Line(pieces)
    with pytest.raises(OSError, match="unplugged"):
        reader._listen(line)
    assert heard == pytest.approx([g / 1000 for g in grams], abs=0.0501 / 1000)  # half of its last digit
    assert line.written == [b"hello\n"]


@given(
    st.lists(
        st.tuples(st.sampled_from(["add", "pour", "drift", "tare", "stop", "well"]), st.floats(-50, 500)), max_size=20
    )
)
def test_the_pan_bears_what_was_laid_on_it_and_tells_no_more_than_its_step(orders):
    pan = Pan()
    for order, grams in orders:
        before = pan.load
        words = f"{order} {grams:.3f}" if order in ("add", "pour", "drift") else order
        assert pan.order(words)
        if order == "add":
            assert pan.load == pytest.approx(before + grams, abs=1e-2)
        pan.pass_time(0.1)
        said = parse(pan.line())
        assert said.beyond or said.kg == pytest.approx((pan.load - pan.zero) / 1000, abs=0.00006)
    pan.order("tare")
    pan.order("well")
    pan.rate = 0.0
    assert parse(pan.line()).kg == 0.0


def test_a_pour_stops_where_it_was_told_to_and_counts_from_where_nought_is():
    pan = Pan()
    pan.order("add 400")
    pan.order("tare")
    pan.order("pour 50 to 63.9")
    for _ in range(30):
        pan.pass_time(0.1)
    assert pan.load - pan.zero == pytest.approx(63.9)
    pan.order("noise 0.4")
    told = {parse(pan.line()).kg for _ in range(20)}
    assert len(told) > 3
