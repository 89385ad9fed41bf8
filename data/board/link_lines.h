// SPDX-License-Identifier: GPL-3.0-or-later
// Lines that the Tune station reads: samples with a check at the end of each. Included after a board's
// support by the program that sends every sensor's readings.
#pragma once

uint16_t line_sum; // of the line so far

// Prints a text and takes it into the line's check (polynomial 0x1021).
inline void say(const char *text)
{
    print_text(text);
    for (; *text; ++text) {
        line_sum ^= (uint16_t)((uint16_t)(uint8_t)*text << 8);
        for (uint8_t bit = 0; bit < 8; ++bit)
            line_sum = (uint16_t)(line_sum & 0x8000 ? (line_sum << 1) ^ 0x1021 : line_sum << 1);
    }
}

// The header, whole: it has a check of its own.
inline void print_line(const char *text)
{
    print_text(text);
    print_text("\n");
}

inline void say_number(uint32_t value)
{
    char digits[11];
    char *at = digits + 10;
    *at = 0;
    do {
        *--at = (char)('0' + value % 10);
        value /= 10;
    } while (value);
    say(at);
}

inline void say_echo(uint32_t time)
{
    if (time == 0)
        say("none");
    else
        say_number(time);
}

// A line begins with the sign of its header, its number (65,535 is followed by 0) and the board's
// time.
inline void begin_line(const char *sign, uint16_t number, uint32_t time_ms)
{
    line_sum = 0xFFFF;
    say(sign);
    say_number(number);
    say(" ");
    say_number(time_ms);
}

// Closes a line with its check: four figures of base sixteen.
inline void finish_line()
{
    say(" ");
    char check[7] = "!0000\n";
    for (uint8_t i = 0; i < 4; ++i) {
        const uint8_t digit = (uint8_t)((line_sum >> (12 - 4 * i)) & 15);
        check[i + 1] = (char)(digit < 10 ? '0' + digit : 'A' + digit - 10);
    }
    print_text(check);
}
