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
    assert line_of(Reading(0.25, False), 5.0) == b"~ 250 g\n"


@pytest.mark.parametrize(
    "line", ["hello scale step 0 g limit 6000 g", "= 1e3 g", "= 12345678 g", "=  5 g", "5 g", "x" * 200]
)
def test_what_is_no_line_of_the_protocol_is_refused_with_its_beginning(line):
    with pytest.raises(UserError) as refused:
        parse(line.encode())
    assert refused.value.what == f"The scale sent “{line[:40]}”, which cannot be read"


@given(st.binary(max_size=60))
def test_no_line_breaks_the_reader(line):
    with contextlib.suppress(UserError):  # the only way out but an answer
        assert isinstance(parse(line), Reading | Hello)


def test_the_practice_scale_refuses_what_is_no_order():
    pan = Pan()
    assert not any(map(pan.order, ("", "pour", "add nan", "add 1e6", "pour x to 3", "pour 3 to x", "dance")))
    assert pan.order("add 999999")


def test_the_pan_is_at_rest_within_a_step_and_knows_its_limit():
    pan = Pan()
    pan.pass_time(10.0)
    assert parse(pan.line()) == Reading(0.0, True)
    pan = Pan()
    pan.order("add 0.2")
    assert not parse(pan.line()).resting
    pan, told = Pan(), []
    for grams in (0.1, 0.3, 0.0, 5999.6, 0.0, 0.1):
        pan.order(f"add {grams}")
        told.append(parse(pan.line()))
    assert [r.resting for r in told] == [True, False, True, False, True, False]
    assert [r.beyond for r in told] == [False] * 5 + [True], "6 000 g are not too much, a step more is"
    pan.order("stall")
    pan.order("add -6000")
    assert parse(pan.line()).kg == pytest.approx(6.0001), "what it said last, whatever lies on it"
    pan.order("garbage")
    line = pan.line()
    assert (len(line), line.count(b"\n")) == (10, 1)
    pan.order("silent")
    assert pan.line() == b""


def test_a_pour_does_not_go_on_where_there_is_enough_already():
    pan = Pan()
    pan.order("add 80")
    pan.order("pour 10 to 63.9")
    pan.pass_time(0.1)
    assert (pan.load, pan.rate) == (80.0, 0.0)
    pan.order("pour 10 to 85")
    pan.pass_time(0.5)
    assert (pan.load, pan.rate) == (85.0, 0.0)
    pan.order("drift 2")
    pan.pass_time(0.5)
    assert pan.load == 86.0
    pan.order("noise -0.2")
    assert pan.noise == 0.2
    pan.order("well")
    pan.pass_time(0.5)
    assert (pan.load, pan.noise) == (86.0, 0.0)
    pan.order("pour 4")
    pan.pass_time(100)
    assert pan.load == 486.0
    pan.order("stop")
    pan.pass_time(100)
    assert pan.load == 486.0
    pan.order("pour 0.5 to 490")
    pan.pass_time(10)
    assert (pan.load, pan.rate) == (490.0, 0.0)


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
    """A serial line that gives its bytes in any pieces, and is unplugged at the end. Time passes with each piece."""

    def __init__(self, pieces, every=0.0):
        self.pieces, self.written, self.every, self.time = list(pieces), [], every, 100.0
        self.in_waiting = 0

    def read(self, _count):
        if not self.pieces:
            raise OSError("unplugged")
        self.time += self.every
        return self.pieces.pop(0)

    def write(self, data):
        self.written.append(data)

    def monotonic(self):
        return self.time

    def listen(self):
        """What a reader of this line hears and says, each with the moment."""
        told = []
        reader = Scale.__new__(Scale)
        reader._heard = lambda at, r: told.append((at - 100.0, r))
        reader._met, reader._quiet = ((lambda said: told.append((self.time - 100.0, said))) for _ in range(2))
        reader._stop, reader._wishes, reader._silent = threading.Event(), [b"hello\n"], False
        with pytest.raises(OSError, match="unplugged"):
            reader._listen(self)
        assert self.written == [b"hello\n"]
        return told


@given(st.lists(st.floats(0, 5999), min_size=1, max_size=30), st.data())
def test_readings_are_heard_whole_however_the_line_breaks_them_up(grams, data):
    stream = b"".join(line_of(Reading(g / 1000, True), 0.1) for g in grams)
    cuts = sorted(data.draw(st.lists(st.integers(0, len(stream)), max_size=20)))
    pieces = [stream[a:b] for a, b in zip([0, *cuts], [*cuts, len(stream)], strict=True)]
    heard = [reading.kg for _at, reading in Line(pieces).listen()]
    assert heard == pytest.approx([g / 1000 for g in grams], abs=0.0501 / 1000)  # half of its last digit


QUIET, UNREAD = "went quiet", "sends what cannot be read"


@pytest.mark.parametrize(
    ("pieces", "told"),
    [([b"= 5.0 g\n", b"", b"", b""], [5.0]),  # a second and a half is no silence yet
     ([b"= 5.0 g\n", b"", b"", b"", b"", b""], [5.0, QUIET]),
     ([b"= 5.0 g\n", *[b""] * 5, b"= 6.0 g\n", *[b""] * 4], [5.0, QUIET, None, 6.0, QUIET]),
     ([b"?\n"] * 4, [QUIET]), ([b"?\n"] * 3 + [b"?\n?\n"], [UNREAD]),
     ([b"?\n" * 4, b"= 5.0 g\n?\n", *[b"\n \n"] * 4], [5.0, QUIET]),  # what can be read wipes the slate
     ([b"hello scale step 0.1 g limit 6000 g\r\n", b"= " + b"1" * 300 + b"\n= 7.0 g\n"], [0.0001, 7.0])],
)  # fmt: skip
def test_silence_counts_from_a_second_and_a_half_and_garbage_from_five_lines(monkeypatch, pieces, told):
    line = Line(pieces, 0.5)
    monkeypatch.setattr("homunculus.devices.scale.time.monotonic", line.monotonic)
    found = []
    for _at, said in line.listen():
        if isinstance(said, Reading):
            found.append(round(said.kg * 1000, 6))
        elif isinstance(said, Hello):
            found.append(said.step_kg)
        else:
            found.append(said and next(word for word in (QUIET, UNREAD) if word in said))
    assert found == told


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
