// SPDX-License-Identifier: GPL-3.0-or-later
// Board support for programs written by Swift Badger: the 5 V 8-bit board at 16 MHz.
//
// Pins are numbered 0 to 13 (D0 to D13) and 14 to 19 (A0 to A5). One C++ file includes this; it
// brings main(), which calls start() once and pass() for ever.
//
// Clock: timer 0, one tick every 4 us. PWM: timer 0 on D5 and D6, timer 1 on D9 and D10, timer 2 on
// D3 and D11, all 8 bit. Serial: 64 characters are buffered; printing waits while they are full.
#pragma once

#include <avr/interrupt.h>
#include <avr/io.h>
#include <stdint.h>

#ifndef F_CPU
#define F_CPU 16000000UL
#endif

const uint8_t NO_PIN = 255;

void start();
void pass();

namespace board
{

struct Port {
    volatile uint8_t *direction, *output, *input;
    uint8_t mask;
};

inline Port port_of(uint8_t pin)
{
    if (pin < 8)
        return {&DDRD, &PORTD, &PIND, (uint8_t)(1 << pin)};
    if (pin < 14)
        return {&DDRB, &PORTB, &PINB, (uint8_t)(1 << (pin - 8))};
    return {&DDRC, &PORTC, &PINC, (uint8_t)(1 << (pin - 14))};
}

volatile uint32_t overflows = 0; // of timer 0, one every 1024 us

const uint8_t BUFFER = 64;
volatile char sending[BUFFER];
volatile uint8_t send_head = 0, send_tail = 0;

// Joins a pin to its timer's compare output, or takes it off. False: the pin has no PWM.
inline bool join_timer(uint8_t pin, bool join)
{
    volatile uint8_t *control;
    uint8_t bit;
    switch (pin) {
    case 3: control = &TCCR2A, bit = 1 << COM2B1; break;
    case 5: control = &TCCR0A, bit = 1 << COM0B1; break;
    case 6: control = &TCCR0A, bit = 1 << COM0A1; break;
    case 9: control = &TCCR1A, bit = 1 << COM1A1; break;
    case 10: control = &TCCR1A, bit = 1 << COM1B1; break;
    case 11: control = &TCCR2A, bit = 1 << COM2A1; break;
    default: return false;
    }
    if (join)
        *control |= bit;
    else
        *control &= (uint8_t)~bit;
    return true;
}

inline void set_compare(uint8_t pin, uint8_t counts)
{
    switch (pin) {
    case 3: OCR2B = counts; break;
    case 5: OCR0B = counts; break;
    case 6: OCR0A = counts; break;
    case 9: OCR1A = counts; break;
    case 10: OCR1B = counts; break;
    case 11: OCR2A = counts; break;
    }
}

inline void begin()
{
    TCCR0A = (1 << WGM01) | (1 << WGM00); // fast PWM
    TCCR0B = (1 << CS01) | (1 << CS00);   // clock / 64
    TIMSK0 = 1 << TOIE0;
    TCCR1A = 1 << WGM10; // 8-bit phase-correct PWM
    TCCR1B = (1 << CS11) | (1 << CS10);
    TCCR2A = 1 << WGM20;
    TCCR2B = 1 << CS22;
    sei();
}

} // namespace board

ISR(TIMER0_OVF_vect) { ++board::overflows; }

ISR(USART_UDRE_vect)
{
    if (board::send_head == board::send_tail) {
        UCSR0B &= (uint8_t)~(1 << UDRIE0);
        return;
    }
    UDR0 = board::sending[board::send_tail];
    board::send_tail = (board::send_tail + 1) % board::BUFFER;
}

// Microseconds since the start, in steps of 4; wraps after 71 minutes.
inline uint32_t clock_us()
{
    const uint8_t before = SREG;
    cli();
    uint32_t high = board::overflows;
    const uint8_t ticks = TCNT0;
    if ((TIFR0 & (1 << TOV0)) && ticks < 255)
        ++high;
    SREG = before;
    return ((high << 8) | ticks) * 4;
}

inline void wait_us(uint32_t time)
{
    const uint32_t begin = clock_us();
    while (clock_us() - begin < time) {
    }
}

inline void make_output(uint8_t pin)
{
    if (pin != NO_PIN)
        *board::port_of(pin).direction |= board::port_of(pin).mask;
}

inline void make_input(uint8_t pin)
{
    if (pin != NO_PIN)
        *board::port_of(pin).direction &= (uint8_t)~board::port_of(pin).mask;
}

inline void set_level(uint8_t pin, bool high)
{
    const board::Port p = board::port_of(pin);
    if (high)
        *p.output |= p.mask;
    else
        *p.output &= (uint8_t)~p.mask;
}

inline bool level(uint8_t pin)
{
    const board::Port p = board::port_of(pin);
    return *p.input & p.mask;
}

// Reads a voltage at A0 to A5, 0 to 1023 of the supply.
inline uint16_t analogue(uint8_t pin)
{
    ADMUX = (uint8_t)((1 << REFS0) | (pin - 14));
    ADCSRA = (1 << ADEN) | (1 << ADSC) | (1 << ADPS2) | (1 << ADPS1) | (1 << ADPS0);
    while (ADCSRA & (1 << ADSC)) {
    }
    return ADC;
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
    return clock_us() - rose;
}

inline void begin_serial(uint32_t baud)
{
    UCSR0A = 1 << U2X0;
    UBRR0 = (uint16_t)((F_CPU / 4 / baud - 1) / 2);
    UCSR0B = (1 << TXEN0) | (1 << RXEN0);
    UCSR0C = (1 << UCSZ01) | (1 << UCSZ00);
}

// Has this sign come over the serial line since the last time? Another one is dropped.
inline bool asked(char sign) { return (UCSR0A & (1 << RXC0)) && UDR0 == (uint8_t)sign; }

inline void print_text(const char *text)
{
    for (; *text; ++text) {
        const uint8_t next = (board::send_head + 1) % board::BUFFER;
        while (next == board::send_tail) {
        }
        board::sending[board::send_head] = *text;
        board::send_head = next;
        UCSR0B |= 1 << UDRIE0;
    }
}

inline void print_number(int32_t number)
{
    char digits[12];
    char *at = digits + 11;
    *at = 0;
    uint32_t rest = number < 0 ? 0 - (uint32_t)number : (uint32_t)number;
    do {
        *--at = (char)('0' + rest % 10);
        rest /= 10;
    } while (rest);
    if (number < 0)
        *--at = '-';
    print_text(at);
}

inline void print_number(int number) { print_number((int32_t)number); }

// Two decimals, cut.
inline void print_number(float number)
{
    const int32_t hundredths = (int32_t)(number * 100);
    const int32_t part = hundredths < 0 ? -hundredths % 100 : hundredths % 100;
    if (hundredths < 0 && hundredths > -100)
        print_text("-");
    print_number(hundredths / 100);
    print_text(part < 10 ? ".0" : ".");
    print_number(part);
}

int main()
{
    board::begin();
    start();
    for (;;)
        pass();
}
