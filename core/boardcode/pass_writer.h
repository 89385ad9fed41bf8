// SPDX-License-Identifier: GPL-3.0-or-later
// The frame of a program text: starts.cpp has what comes before the first pass, passes.cpp the
// pass. Private to them.
#pragma once

#include "core/boardcode/scope.h"

namespace badger::boardcode
{

class Passes
{
public:
    explicit Passes(Scope &scope) : m(scope) {}

    std::vector<Item> pins();

    std::vector<Item> states();

    std::vector<Item> frame();

private:
    void heading(const char *text);

    int number(const std::string &pin) const { return pinNumber(m.wires.target, pin).value_or(0); }

    void pin(const std::string &id, const std::string &pin);

    void wheel(const char *side, const WheelText &w, double neutral_us, int way);

    bool prints() const { return m.program.prints.on; }

    void stateNames();

    bool hasWaits() const;
    bool isPaced() const;

    /// Whether waits can lead from one to the next for ever, without a look.
    bool waitsGoRound() const;

    void endWaits();

    Expr isWaiting();

    bool usesSerial() const;

    bool isRandom() const;

    void makePins(Body &body);

    /// The call of a look that may come back without having looked.
    bool isLook(const Expr &e);
    std::string lookName(int i);

    void start();

    /// What comes before the rules, as one chain.
    void decide(Body &body);

    void print(Body &body);

    void pause(Body &body);

    void pass();

    Scope &m;
    std::vector<Item> m_items;
    bool m_fresh = false; ///< the pass knows whether all its looks were taken
};

} // namespace badger::boardcode
