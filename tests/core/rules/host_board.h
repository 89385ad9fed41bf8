// SPDX-License-Identifier: GPL-3.0-or-later
// Stands in for board_support.h, so that a written board program runs on this machine: echoes come
// from standard input, one number a pass; after each pass the levels of all pins are printed.
#pragma once

#include <cstdint>
#include <cstdio>
#include <cstdlib>

const uint8_t NO_PIN = 255;
static int levels[20];
static int duties[20];
static uint32_t now_us_ = 0;

void start();
void pass();

inline uint32_t clock_us()
{
    return now_us_;
}
inline void wait_us(uint32_t t)
{
    now_us_ += t;
}
inline void make_output(uint8_t) {}
inline void make_input(uint8_t) {}
inline void set_level(uint8_t pin, bool high)
{
    levels[pin] = high;
}
inline void set_duty(uint8_t pin, uint8_t counts)
{
    duties[pin] = counts;
}
inline void begin_serial(uint32_t) {}
inline void print_text(const char *) {}
inline void print_number(float) {}
inline void print_number(int) {}
inline uint32_t echo_us(uint8_t, uint8_t, uint32_t time_out)
{
    unsigned echo = 0;
    if (std::scanf("%u", &echo) != 1)
        std::exit(0);
    now_us_ += echo ? echo : time_out;
    return echo > time_out ? 0 : echo;
}

int main()
{
    start();
    for (;;) {
        pass();
        for (int i = 0; i < 20; ++i)
            std::printf("%d/%d ", levels[i], duties[i]);
        std::printf("\n");
    }
}
