# SPDX-License-Identifier: GPL-3.0-or-later
# Pins for programs written by Swift Badger: the 3.3 V Linux computer.
#
# Only what Python brings itself. Pins are the numbers of the kernel's first set of lines
# (/dev/gpiochip0, or what CAR_PINS names); 3.3 V is the most that any of them bears. Speeds and
# servo pulses are made by the clock, a thread for each pin: good for motors, a little unsteady for
# servos. Ctrl-C ends a program with all its outputs low.
import fcntl
import os
import select
import struct
import sys
import threading
import time

NO_PIN = 255
NO_ECHO = 0  # what a distance is when no echo came in time
NO_READING = -1
NOT_HEARD = -32767  # the same where nought is a distance: too near to be measured
NO_SIGN = ""  # no character has come


class Wheel:
    # The pins that drive a wheel through a bridge. Without a speed pin the enable is held high, or
    # the two others carry the speed themselves.
    def __init__(self, forward, backward, speed):
        self.forward = forward
        self.backward = backward
        self.speed = speed


class ServoWheel:
    # A wheel on a continuous servo: the pulse at which it stands, and whether a longer one (+1) or
    # a shorter one (-1) goes forward.
    def __init__(self, signal, neutral, way):
        self.signal = signal
        self.neutral = neutral
        self.way = way


# ---- the kernel's lines ----

_GET_LINE = 0xC250B407
_SET_CONFIG = 0xC110B40D
_GET_VALUES = 0xC010B40E
_SET_VALUES = 0xC010B40F
_INPUT = 1 << 2
_OUTPUT = 1 << 3

_chip = None
_lines = {}  # pin: file of its line
_is_output = {}
_pulsers = {}


def _line(pin, flags):
    # Asks the kernel for a line once; later on only its direction changes.
    global _chip
    config = struct.pack("QI20x240x", flags, 0)
    if pin in _lines:
        fcntl.ioctl(_lines[pin], _SET_CONFIG, bytearray(config))
        return
    if _chip is None:
        _chip = os.open(os.environ.get("CAR_PINS", "/dev/gpiochip0"), os.O_RDWR | os.O_CLOEXEC)
    request = bytearray(
        struct.pack("64I32s", pin, *([0] * 63), b"swift-badger")
        + config
        + struct.pack("II20xi", 1, 0, -1)
    )
    fcntl.ioctl(_chip, _GET_LINE, request)
    _lines[pin] = struct.unpack_from("i", request, len(request) - 4)[0]


def make_output(pin):
    if pin != NO_PIN and not _is_output.get(pin, False):
        _line(pin, _OUTPUT)
        _is_output[pin] = True


def make_input(pin):
    if pin != NO_PIN and _is_output.get(pin, True):
        _line(pin, _INPUT)
        _is_output[pin] = False


def _put(pin, high):
    fcntl.ioctl(_lines[pin], _SET_VALUES, bytearray(struct.pack("QQ", 1 if high else 0, 1)))


def set_level(pin, high):
    _rest(pin)
    _put(pin, high)


def level(pin):
    values = bytearray(struct.pack("QQ", 0, 1))
    fcntl.ioctl(_lines[pin], _GET_VALUES, values)
    return struct.unpack("QQ", values)[0] & 1 == 1


class _Pulser(threading.Thread):
    # High for a while in every period, until it is told to end.
    def __init__(self, pin, period_us, high_us):
        super().__init__(daemon=True)
        self.pin = pin
        self.period_us = period_us
        self.high_us = high_us
        self.ended = threading.Event()

    def run(self):
        while not self.ended.is_set():
            high_us = self.high_us
            _put(self.pin, True)
            time.sleep(high_us / 1e6)
            _put(self.pin, False)
            time.sleep(max(0, self.period_us - high_us) / 1e6)


def _pulse(pin, period_us, high_us):
    if pin in _pulsers:
        _pulsers[pin].high_us = high_us
        return
    _pulsers[pin] = _Pulser(pin, period_us, high_us)
    _pulsers[pin].start()


def _rest(pin):
    pulser = _pulsers.pop(pin, None)
    if pulser is not None:
        pulser.ended.set()
        pulser.join()


# Duty in counts of 255.
def set_duty(pin, counts):
    if counts in (0, 255):
        set_level(pin, counts == 255)
    else:
        _pulse(pin, 5000, 5000 * counts // 255)


def begin_servo(pin, pulse_us):
    make_output(pin)
    _pulse(pin, 20000, pulse_us)


def set_servo(pin, pulse_us):
    _pulse(pin, 20000, pulse_us)


# ---- time ----

_began_ns = time.monotonic_ns()


# Microseconds since the start.
def clock_us():
    return (time.monotonic_ns() - _began_ns) // 1000


def wait_us(length):
    end = clock_us() + length
    if length > 2000:
        time.sleep((length - 1000) / 1e6)
    while clock_us() < end:
        pass


# Has the clock come to this time?
def reached(moment):
    return clock_us() >= moment


# Sends a ping and returns how long the echo line was high, in microseconds; 0 when it did not
# answer within 5 ms or was still high after the time-out. A line that an older ping still holds is
# waited for, a quarter of a second at most.
def echo_us(trigger, echo, time_out):
    make_input(echo)
    began = clock_us()
    while level(echo):
        if clock_us() - began > 250000:
            return 0
    make_output(trigger)
    set_level(trigger, False)
    wait_us(4)
    set_level(trigger, True)
    wait_us(12)
    set_level(trigger, False)
    if trigger == echo:  # one line for both, used in turn
        make_input(echo)
    sent = clock_us()
    while not level(echo):
        if clock_us() - sent > 5000:
            return 0
    rose = clock_us()
    while level(echo):
        if clock_us() - rose > time_out:
            return 0
    took = clock_us() - rose
    return 0 if took > time_out else took  # it may have ended just behind it


# ---- sums ----


def magnitude(number):
    return -number if number < 0 else number


# The number itself, or the end it lies beyond.
def held(number, low, high):
    return low if number < low else high if number > high else number


# A speed in counts times a factor, cut to whole counts from -255 to 255.
def scaled(counts, factor):
    return int(held(counts * factor, -255.0, 255.0))


# The usual small servo: 544 us at 0 degrees, 2400 us at 180.
def servo_pulse(degrees):
    return int(544 + degrees * 1856 / 180)


# The pulse that turns a wheel with so many of 255 counts: full speed is 200 us from where it stands.
def wheel_pulse(wheel, counts):
    return wheel.neutral + wheel.way * int(counts * 200 / 255)


# So long a turn of so many degrees takes, to either side.
def turn_us(degrees, each_us):
    return int(magnitude(degrees) * each_us + 0.5)


_drawn = 1


def seed_random(seed):
    global _drawn
    _drawn = seed if seed != 0 else 1


# A whole number of milliseconds between two times, both included. Drawn by a shift register, so
# that the same seed gives the same run.
def random_us(least, most):
    global _drawn
    _drawn ^= (_drawn << 7) & 0xFFFF
    _drawn ^= _drawn >> 9
    _drawn ^= (_drawn << 8) & 0xFFFF
    least_ms = least // 1000
    most_ms = most // 1000
    if most_ms <= least_ms:
        return least_ms * 1000
    return (least_ms + _drawn % (most_ms - least_ms + 1)) * 1000


# ---- words in and out ----


def begin_serial(baud):
    if sys.stdin.isatty():  # each key at once, without Enter
        import termios
        import tty

        _terminal.append(termios.tcgetattr(sys.stdin))
        tty.setcbreak(sys.stdin)


_terminal = []


# The newest character that has come, or NO_SIGN.
def received():
    newest = NO_SIGN
    while select.select([sys.stdin], [], [], 0)[0]:
        sign = os.read(sys.stdin.fileno(), 1).decode("ascii", "replace")
        if sign == "":
            break
        if sign != "\n":
            newest = sign
    return newest


def print_text(words):
    sys.stdout.write(words)


def print_number(number):
    if isinstance(number, float):  # two decimals, cut
        sys.stdout.write("%.2f" % (int(number * 100) / 100))
    else:
        sys.stdout.write(str(int(number)))


def end_line():
    sys.stdout.write("\n")
    sys.stdout.flush()


# Calls start once and one_pass for ever, until Ctrl-C; all outputs are low afterwards.
def run(start, one_pass):
    try:
        start()
        while True:
            one_pass()
    except KeyboardInterrupt:
        pass
    finally:
        release()


def release():
    for pin in list(_pulsers):
        _rest(pin)
    for pin, is_output in _is_output.items():
        if is_output:
            _put(pin, False)
    if _terminal:
        import termios

        termios.tcsetattr(sys.stdin, termios.TCSADRAIN, _terminal.pop())
