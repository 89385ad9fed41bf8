// SPDX-License-Identifier: GPL-3.0-or-later
// What all part tests of a car share while they are written.
#pragma once

#include "core/boardcode/board_code.h"
#include "core/boardcode/names.h"
#include "core/boardcode/target.h"
#include "core/boardcode/tree.h"
#include "core/nets/nets.h"

namespace badger::boardcode
{

class PartWriter
{
public:
    PartWriter(const kit::Assembly &car, std::string workshop, Target target);

    const kit::Assembly &car;
    const Target target;
    const nets::Nets nets;
    Names names;
    std::vector<BoardFile> files;

    bool prints() const { return target != Target::Chip; }
    /// Empty where no wire leads to a pin that the target has.
    std::string pinOf(const std::string &terminal) const;
    int number(const std::string &pin) const;
    Item pin(const std::string &id, const std::string &pin) const;

    /// "avocet_test_motors.cpp": start() and pass() from these items.
    void file(const std::string &name, const std::string &what, const std::string &caution,
              const std::vector<Item> &items, const Body &start, const Body &pass,
              bool link = false);
    /// Prints words and ends the line, where the target prints.
    void say(Body &body, const std::string &words) const;

private:
    std::string m_workshop;
};

/// Every sensor in lines that the Tune station reads; nothing where the car has none.
void writeReadings(PartWriter &writer);

} // namespace badger::boardcode
