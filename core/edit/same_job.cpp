// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/edit/same_job.h"

namespace badger::edit
{

namespace
{

/// The place of a terminal among those of its role, channel and purpose; of an output that of the
/// input which drives it high.
struct Job {
    parts::Role role{};
    std::string channel;
    bool motors = false;
    int place = 0;
    bool operator==(const Job &) const = default;
};

Job jobOf(const parts::Part &part, const parts::Terminal &terminal)
{
    Job job{terminal.role, terminal.channel, terminal.motors, 0};
    for (const auto &t : part.terminals) {
        if (terminal.role == parts::Role::MotorOut ? t.output == terminal.name
                                                   : t.name == terminal.name)
            break;
        const auto counted =
            terminal.role == parts::Role::MotorOut ? parts::Role::Direction : terminal.role;
        if (t.role == counted && t.channel == terminal.channel && t.motors == terminal.motors)
            ++job.place;
    }
    // Any ground serves.
    if (terminal.role == parts::Role::Ground)
        job.place = 0;
    return job;
}

} // namespace

std::string sameJob(const parts::Part &from, const std::string &name, const parts::Part &to)
{
    const auto *old = from.terminal(name);
    if (old == nullptr)
        return name; // a channel, "A"
    const auto *named = to.terminal(name);
    // Two drivers number their inputs in two ways: IN2 of one is the first of its channel.
    const bool numbered = from.kind == parts::Kind::Driver && to.kind == from.kind &&
                          old->role != parts::Role::Ground;
    if (named && !numbered && named->role == old->role && named->channel == old->channel)
        return name;
    if (from.kind != to.kind || from.kind == parts::Kind::Board)
        return named ? name : std::string();
    const auto job = jobOf(from, *old);
    for (const auto &t : to.terminals)
        if (jobOf(to, t) == job)
            return t.name;
    return {};
}

} // namespace badger::edit
