# SPDX-License-Identifier: GPL-3.0-or-later
# Stands in for the car's pins, so that a program written by Swift Badger runs off the car:
#
#   python3 stand_in.py PROGRAM.py READINGS.csv
#
# READINGS.csv begins with a line of names: time_ms, then the pins that are read ("P24"), and "key"
# where the program takes keys. Each line after it holds from its time on: of a ranger's echo pin
# the echo's time in microseconds (0: no echo), of another pin 0 or 1, of the key a, b, l, r or
# nothing. The program runs on a clock of its own, to the time of the last line, and what it does to
# its pins is printed, a line each: milliseconds, pin, "duty", "level" or "pulse", number.
import csv
import importlib.util
import sys

import car_pins


class _Over(Exception):
    pass


_now_us = 0
_end_us = 0
_rows = []
_row = 0
_trigger_us = 12
_put = {}
_key_row = -1


def _heard(name):
    global _row
    while _row + 1 < len(_rows) and _rows[_row + 1][0] <= _now_us:
        _row += 1
    return _rows[_row][1].get(name, "")


def _clock_us():
    return _now_us


def _wait_us(length):
    global _now_us
    _now_us += length
    if _now_us >= _end_us:
        raise _Over()


def _echo_us(trigger, echo, time_out):
    told = int(_heard("P%d" % echo) or 0)
    answer = told if 0 < told <= time_out else 0
    _wait_us(_trigger_us + (answer if answer else time_out))
    return answer


def _level(pin):
    return _heard("P%d" % pin) == "1"


def _say(pin, what, number):
    if pin == car_pins.NO_PIN or _put.get(pin) == (what, number):
        return
    _put[pin] = (what, number)
    print("%.3f P%d %s %d" % (_now_us / 1000, pin, what, number))


def _received():
    global _key_row
    sign = _heard("key")
    if _key_row == _row:
        return car_pins.NO_SIGN
    _key_row = _row
    return sign


def _run(start, one_pass):
    try:
        start()
        while True:
            began = _now_us
            one_pass()
            if _now_us == began:  # even a pass without a pause takes its own sums' time
                _wait_us(20)
    except _Over:
        pass


def _install():
    car_pins.clock_us = _clock_us
    car_pins.wait_us = _wait_us
    car_pins.echo_us = _echo_us
    car_pins.level = _level
    car_pins.received = _received
    car_pins.run = _run
    car_pins.make_output = lambda pin: None
    car_pins.make_input = lambda pin: None
    car_pins.begin_serial = lambda baud: None
    car_pins.set_level = lambda pin, high: _say(pin, "level", 1 if high else 0)
    car_pins.set_duty = lambda pin, counts: _say(pin, "duty", counts)
    car_pins.begin_servo = lambda pin, pulse: _say(pin, "pulse", pulse)
    car_pins.set_servo = lambda pin, pulse: _say(pin, "pulse", pulse)


def _read(path):
    global _end_us
    with open(path, newline="") as file:
        for row in csv.DictReader(file):
            at = int(round(float(row.pop("time_ms")) * 1000))
            _rows.append((at, {name: (value or "").strip() for name, value in row.items()}))
    if not _rows or _rows[0][0] != 0:
        sys.exit("%s: the first line of readings has to be at time_ms 0" % path)
    _end_us = _rows[-1][0]


def main():
    if len(sys.argv) != 3:
        sys.exit("python3 stand_in.py PROGRAM.py READINGS.csv")
    _read(sys.argv[2])
    _install()
    spec = importlib.util.spec_from_file_location("program", sys.argv[1])
    program = importlib.util.module_from_spec(spec)
    spec.loader.exec_module(program)
    car_pins.run(program.start, program.one_pass)


if __name__ == "__main__":
    main()
