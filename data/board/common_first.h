// SPDX-License-Identifier: GPL-3.0-or-later
// What programs written by Swift Badger lean on, the same on every board: put before a board's own
// support.

const uint8_t NO_PIN = 255;
const int NO_ECHO = 0;     // what a distance is when no echo came in time
const int NO_READING = -1; // what a distance by a table is when the table has none
const int NOT_HEARD = -32767; // the same where nought is a distance: too near to be measured
const char NO_SIGN = 0;    // no character has come

// The pins that drive a wheel through a bridge. Without a speed pin the enable is held high, or the
// two others carry the speed themselves.
struct Wheel {
    uint8_t forward, backward, speed;
};

// A wheel on a continuous servo: the pulse at which it stands, and whether a longer one (+1) or a
// shorter one (-1) goes forward.
struct ServoWheel {
    uint8_t signal;
    int neutral, way;
};

void start();
void pass();

namespace board
{

struct Port {
    volatile uint8_t *direction, *output, *input;
    uint8_t mask;
};

volatile uint8_t *servo_port[4];
uint8_t servo_mask[4];
volatile uint16_t servo_ticks[4]; // half microseconds
uint8_t servos = 0;
volatile uint8_t servo_turn = 0;
volatile uint16_t servo_left; // of the 20 ms frame

} // namespace board
