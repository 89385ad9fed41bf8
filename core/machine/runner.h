// SPDX-License-Identifier: GPL-3.0-or-later
// How does a machine run on a board, in the board's own time?
#pragma once

#include "core/machine/step.h"

#include <string_view>

namespace badger::machine
{

/// Why a mode was entered.
struct Cause {
    enum class Kind {
        Start,
        Branch,   ///< a rule was met
        WaitOver, ///< the wait of the mode before it ended
        Stopped   ///< the policy of a reading without echo
    } kind = Kind::Start;
    int branch = -1;
    int sensor = -1; ///< of Stopped
};

/// What came back from a ping.
struct Echo {
    std::uint32_t time_us = 0; ///< how long its line was high; 0: the time-out
    /// The number itself, where it is not to be made from the time: a reading that was typed.
    std::optional<double> number;
};

/// The board as a machine sees it. Time passes only inside these calls.
class Board
{
public:
    virtual ~Board() = default;
    virtual std::uint64_t now_us() const = 0;
    virtual void wait_us(std::uint64_t time_us) = 0;
    /// A ping with the servo, where the sensor rides on one, at an angle.
    virtual Echo ping(int sensor, double angle_deg) = 0;
    virtual int level(int sensor) = 0; ///< of a digital sensor or button: 0 or 1
    virtual int count(int sensor) = 0; ///< of the converter: 0 to 1023
    virtual rules::Command key(int sensor) = 0;
    /// Lets time go by, a millisecond a look, until a button is pressed. False: it never will be.
    virtual bool await(int sensor) = 0;
    virtual void drive(const Orders &orders) = 0;
    virtual void servo(int servo, double angle_deg) = 0;
    virtual void beep(std::uint64_t time_us) = 0; ///< lets the time go by
    /// The same begun and ended by the machine, which lets passes go by between: costs no time.
    virtual void buzz(bool on) { (void)on; }
    virtual void print(std::string_view text, int baud) = 0;
    virtual void entered(const Mind &mind, const Cause &cause) = 0; ///< costs no time
};

class Runner
{
public:
    /// Both have to outlive it.
    Runner(const Machine &machine, Board &board);
    /// From the beginning, also of a machine that has run: the start routine, then the first mode.
    /// Both wheels stand from the first moment. Nothing is allocated after the first time.
    void start();
    /// One pass; always lets some time go by.
    void pass();
    /// Is it in a mode that waits for its end, so that no rule is asked?
    bool waits() const;
    const Mind &mind() const { return m_mind; }

private:
    void look(int sensor);
    void scan(int sensor);
    void sendServo(int servo, double angle_deg, std::uint64_t dwell_us);
    bool stands(int servo, double angle_deg, std::uint64_t dwell_us);
    bool lookStep(int sensor);
    bool scanStep(int sensor);
    bool doStep(const Doing &doing);
    void act();
    bool lookAll();
    void beginHold();
    void noteStop(int sensor);
    std::optional<double> ping(int sensor, double angle_deg);
    void carryOut(const Range &doings);
    void enter(int mode, const Cause &cause);
    void endWait();
    void walk();
    void steer();
    void pause();

    const Machine &m_machine;
    Board &m_board;
    Mind m_fresh;
    Mind m_mind;
    Orders m_driven;
    std::vector<ScanLook> m_looks;
    std::uint64_t m_waitEnd_us = 0;
    std::uint64_t m_nextPass_us = 0;
    std::vector<std::uint64_t> m_servoStands_us; ///< by servo
    // Of a mode whose doings are worked off from pass to pass.
    Range m_doings;
    int m_doing = 0;
    bool m_acting = false;
    bool m_begun = false;       ///< the doing at hand: a beep, a pause
    std::vector<int> m_scanned; ///< looks of the scan at hand, by sensor
    std::vector<std::vector<ScanLook>> m_scans;
    std::uint64_t m_doingEnd_us = 0;
    bool m_waitsForEver = false; ///< for a button that is never pressed
    bool m_stopAsked = false;    ///< a look of an action had no echo, and its policy is to stop
};

} // namespace badger::machine
