// SPDX-License-Identifier: GPL-3.0-or-later
// Chip support for programs written by Swift Badger: the bare 14-pin chip at 8 MHz of its own.
//
// Pins are numbered 0 to 10 (P0 to P10). One C++ file includes this; it brings main(), which calls
// start() once and pass() for ever. The chip has no serial line here: nothing is printed.
//
// Clock: timer 0, one tick every 8 us. PWM: timer 0 on P7 and P8, timer 1 on P5 and P6, all 8 bit.
// Servos: pulses by timer 1, which then gives no PWM: P5 and P6 are on or off.
#pragma once

#include <avr/interrupt.h>
#include <avr/io.h>
#include <avr/pgmspace.h>
#include <stdint.h>

#ifndef F_CPU
#define F_CPU 8000000UL
#endif

namespace board
{

const uint8_t TICK_US = 8;      // of the clock
const uint8_t SERVO_TICKS = 1; // a microsecond

// P0 to P7 are the first port's lines; P8, P9 and P10 the second's, from the other end.
inline Port port_of(uint8_t pin)
{
    if (pin < 8)
        return {&DDRA, &PORTA, &PINA, (uint8_t)(1 << pin)};
    return {&DDRB, &PORTB, &PINB, (uint8_t)(1 << (10 - pin))};
}

volatile uint32_t overflows = 0; // of timer 0, one every 2048 us

// Joins a pin to its timer's compare output, or takes it off. False: the pin has no PWM.
inline bool join_timer(uint8_t pin, bool join)
{
    if (servos > 0 && (pin == 5 || pin == 6)) // servos have their timer
        return false;
    volatile uint8_t *control;
    uint8_t bit;
    switch (pin) {
    case 5: control = &TCCR1A, bit = 1 << COM1B1; break;
    case 6: control = &TCCR1A, bit = 1 << COM1A1; break;
    case 7: control = &TCCR0A, bit = 1 << COM0B1; break;
    case 8: control = &TCCR0A, bit = 1 << COM0A1; break;
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
    case 5: OCR1B = counts; break;
    case 6: OCR1A = counts; break;
    case 7: OCR0B = counts; break;
    case 8: OCR0A = counts; break;
    }
}

inline void begin()
{
    CLKPR = 1 << CLKPCE; // the chip comes with its clock divided by 8: undivided from here on
    CLKPR = 0;
    TCCR0A = (1 << WGM01) | (1 << WGM00); // fast PWM
    TCCR0B = (1 << CS01) | (1 << CS00);   // clock / 64
    TIMSK0 = 1 << TOIE0;
    TCCR1A = 1 << WGM10; // 8-bit phase-correct PWM
    TCCR1B = (1 << CS11) | (1 << CS10);
    sei();
}

} // namespace board

#define SERVO_vect TIM1_COMPA_vect

ISR(TIM0_OVF_vect) { ++board::overflows; }

// Reads a voltage at P0 to P7, 0 to 1023 of the supply.
inline uint16_t analogue(uint8_t pin)
{
    ADMUX = pin;
    ADCSRA = (1 << ADEN) | (1 << ADSC) | (1 << ADPS2) | (1 << ADPS1);
    while (ADCSRA & (1 << ADSC)) {
    }
    return ADC;
}
