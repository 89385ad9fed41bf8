// SPDX-License-Identifier: GPL-3.0-or-later
// What programs written by Swift Badger lean on, the same on every board: put behind a board's own
// support.

// Microseconds since the start, in steps of the clock's ticks; wraps after 71 minutes.
inline uint32_t clock_us()
{
    const uint8_t before = SREG;
    cli();
    uint32_t high = board::overflows;
    const uint8_t ticks = TCNT0;
    if ((TIFR0 & (1 << TOV0)) && ticks < 255)
        ++high;
    SREG = before;
    return ((high << 8) | ticks) * board::TICK_US;
}

inline void wait_us(uint32_t time)
{
    const uint32_t begin = clock_us();
    while (clock_us() - begin < time) {
    }
}

// Has the clock come to this time? Good for times up to half an hour ahead.
inline bool reached(uint32_t time) { return (int32_t)(clock_us() - time) >= 0; }

// Changes one bit of a port that an interrupt may be changing, too.
inline void set_bit(volatile uint8_t *port, uint8_t mask, bool on)
{
    const uint8_t before = SREG;
    cli();
    if (on)
        *port |= mask;
    else
        *port &= (uint8_t)~mask;
    SREG = before;
}

inline void make_output(uint8_t pin)
{
    if (pin != NO_PIN)
        set_bit(board::port_of(pin).direction, board::port_of(pin).mask, true);
}

inline void make_input(uint8_t pin)
{
    if (pin != NO_PIN)
        set_bit(board::port_of(pin).direction, board::port_of(pin).mask, false);
}

inline void set_level(uint8_t pin, bool high)
{
    set_bit(board::port_of(pin).output, board::port_of(pin).mask, high);
}

inline bool level(uint8_t pin) { return *board::port_of(pin).input & board::port_of(pin).mask; }

// One servo after another is high for its pulse; the rest of 20 ms all are low.
ISR(SERVO_vect)
{
    if (board::servo_turn > 0)
        *board::servo_port[board::servo_turn - 1] &=
            (uint8_t)~board::servo_mask[board::servo_turn - 1];
    if (board::servo_turn == board::servos) {
        OCR1A = OCR1A + board::servo_left;
        board::servo_left = (uint16_t)(20000U * board::SERVO_TICKS);
        board::servo_turn = 0;
        return;
    }
    const uint16_t pulse = board::servo_ticks[board::servo_turn];
    *board::servo_port[board::servo_turn] |= board::servo_mask[board::servo_turn];
    OCR1A = OCR1A + pulse;
    board::servo_left -= pulse;
    ++board::servo_turn;
}

// Duty in counts of 255. The two ends are steady levels: the timers would leave a spike.
inline void set_duty(uint8_t pin, uint8_t counts)
{
    const bool steady = counts == 0 || counts == 255;
    if (!steady)
        board::set_compare(pin, counts);
    if (!board::join_timer(pin, !steady) || steady)
        set_level(pin, counts >= 128);
}

// Sends a ping and returns how long the echo line was high, in microseconds; 0 when it did not
// answer within 5 ms or was still high after `time_out`. A line that an older ping still holds is
// waited for, a quarter of a second at most: what is left of it is no echo of this ping.
inline uint32_t echo_us(uint8_t trigger, uint8_t echo, uint32_t time_out)
{
    make_input(echo);
    const uint32_t began = clock_us();
    while (level(echo))
        if (clock_us() - began > 250000)
            return 0;
    make_output(trigger);
    set_level(trigger, false);
    wait_us(4);
    set_level(trigger, true);
    wait_us(12);
    set_level(trigger, false);
    if (trigger == echo) // one line for both, used in turn
        make_input(echo);
    const uint32_t sent = clock_us();
    while (!level(echo))
        if (clock_us() - sent > 5000)
            return 0;
    const uint32_t rose = clock_us();
    while (level(echo))
        if (clock_us() - rose > time_out)
            return 0;
    const uint32_t took = clock_us() - rose;
    return took > time_out ? 0 : took; // it may have ended just behind it
}

inline int magnitude(int number) { return number < 0 ? -number : number; }

// The number itself, or the end it lies beyond.
inline float held(float number, float low, float high)
{
    return number < low ? low : number > high ? high : number;
}

// A speed in counts times a factor, cut to whole counts from -255 to 255.
inline int scaled(int counts, float factor) { return (int)held(counts * factor, -255.0f, 255.0f); }

// An entry of a long list, which lies in the program memory.
inline int table_at(const int *table, uint16_t index) { return (int)pgm_read_word(table + index); }
inline float table_at(const float *table, uint16_t index) { return pgm_read_float(table + index); }

// The usual small servo: 544 us at 0 degrees, 2400 us at 180.
inline uint16_t servo_pulse(int degrees)
{
    return (uint16_t)(544 + (int32_t)degrees * 1856 / 180);
}
inline uint16_t servo_pulse(float degrees)
{
    return (uint16_t)(544.0f + degrees * (1856.0f / 180.0f));
}

// Changes the pulse of a servo that was begun.
inline void set_servo(uint8_t pin, uint16_t pulse_us)
{
    const board::Port p = board::port_of(pin);
    for (uint8_t i = 0; i < board::servos; ++i)
        if (board::servo_port[i] == p.output && board::servo_mask[i] == p.mask) {
            const uint8_t before = SREG;
            cli();
            board::servo_ticks[i] = (uint16_t)(pulse_us * board::SERVO_TICKS);
            SREG = before;
        }
}

// Gives a pin pulses every 20 ms from now on; four pins at most.
inline void begin_servo(uint8_t pin, uint16_t pulse_us)
{
    const board::Port p = board::port_of(pin);
    make_output(pin);
    const uint8_t before = SREG;
    cli();
    if (board::servos == 0) {
        TCCR1A = 0;
        TCCR1B = 1 << CS11; // clock / 8
        TCNT1 = 0;
        OCR1A = 2000;
        board::servo_left = (uint16_t)(20000U * board::SERVO_TICKS);
        TIFR1 = 1 << OCF1A;
        TIMSK1 = 1 << OCIE1A;
    }
    board::servo_port[board::servos] = p.output;
    board::servo_mask[board::servos] = p.mask;
    board::servo_ticks[board::servos] = (uint16_t)(pulse_us * board::SERVO_TICKS);
    ++board::servos;
    SREG = before;
}

// The pulse that turns a wheel with so many of 255 counts: full speed is 200 us from where it stands.
inline uint16_t wheel_pulse(const ServoWheel &wheel, int counts)
{
    return (uint16_t)(wheel.neutral + wheel.way * (int)((int32_t)counts * 200 / 255));
}

// So long a turn of so many degrees takes, to either side.
inline uint32_t turn_us(int degrees, uint32_t each_us)
{
    return (uint32_t)magnitude(degrees) * each_us;
}
inline uint32_t turn_us(float degrees, uint32_t each_us)
{
    return (uint32_t)((degrees < 0 ? -degrees : degrees) * each_us + 0.5f);
}

// Random times are drawn by a shift register, so that the same seed gives the same run.
namespace board
{
uint16_t drawn = 1;
}

inline void seed_random(uint16_t seed) { board::drawn = seed == 0 ? 1 : seed; }

// A whole number of milliseconds between two times, both included.
inline uint32_t random_us(uint32_t least, uint32_t most)
{
    board::drawn ^= (uint16_t)(board::drawn << 7);
    board::drawn ^= (uint16_t)(board::drawn >> 9);
    board::drawn ^= (uint16_t)(board::drawn << 8);
    const uint32_t least_ms = least / 1000, most_ms = most / 1000;
    if (most_ms <= least_ms)
        return least_ms * 1000;
    return (least_ms + board::drawn % (most_ms - least_ms + 1)) * 1000;
}

int main()
{
    board::begin();
    start();
    for (;;)
        pass();
}
