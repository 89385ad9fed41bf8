# SPDX-License-Identifier: GPL-3.0-or-later
# The compiler's own names of its targets; tools/board-program reads them here, too.
set(BOARD_MCU atmega328p)
set(CHIP_MCU attiny84)
