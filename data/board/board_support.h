// SPDX-License-Identifier: GPL-3.0-or-later
// Board support for programs written by Swift Badger: the 5 V 8-bit board at 16 MHz.
//
// Pins are numbered 0 to 13 (D0 to D13) and 14 to 19 (A0 to A5). One C++ file includes this; it
// brings main(), which calls start() once and pass() for ever.
//
// Clock: timer 0, one tick every 4 us. PWM: timer 0 on D5 and D6, timer 1 on D9 and D10, timer 2 on
// D3 and D11, all 8 bit. Servos: pulses by timer 1, which then gives no PWM: D9 and D10 are on or
// off. Serial: 64 characters are buffered; printing waits while they are full.
#pragma once

#include <avr/interrupt.h>
#include <avr/io.h>
#include <avr/pgmspace.h>
#include <stdint.h>

#ifndef F_CPU
#define F_CPU 16000000UL
#endif

namespace board
{

const uint8_t TICK_US = 4;      // of the clock
const uint8_t SERVO_TICKS = 2; // a microsecond

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
    if (servos > 0 && (pin == 9 || pin == 10)) // servos have their timer
        return false;
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

#define SERVO_vect TIMER1_COMPA_vect

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

// Reads a voltage at A0 to A5, 0 to 1023 of the supply.
inline uint16_t analogue(uint8_t pin)
{
    ADMUX = (uint8_t)((1 << REFS0) | (pin - 14));
    ADCSRA = (1 << ADEN) | (1 << ADSC) | (1 << ADPS2) | (1 << ADPS1) | (1 << ADPS0);
    while (ADCSRA & (1 << ADSC)) {
    }
    return ADC;
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

// The newest character that has come, or NO_SIGN.
inline char received()
{
    char newest = NO_SIGN;
    while (UCSR0A & (1 << RXC0))
        newest = (char)UDR0;
    return newest;
}

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

inline void end_line() { print_text("\r\n"); }

inline void print_number(int number) { print_number((int32_t)number); }
inline void print_number(bool yes) { print_number((int32_t)yes); }
inline void print_number(uint8_t number) { print_number((int32_t)number); }

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
