// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/machine/machine.h"
#include "core/machine/quick.h"

#include "core/base/named.h"
#include "core/rules/board_numbers.h"
#include "core/rules/key_words.h"

#include <algorithm>
#include <cmath>

namespace badger::machine
{

namespace
{

using rules::Program;
using rules::Source;
using rules::Test;
using rules::ValueKind;

/// A ping of a scan waits for its ranger's own end where a far echo has a meaning of its own: 5 m.
constexpr std::uint32_t farEcho_us = 30'000;

class Lowering
{
public:
    Lowering(const Program &program, const CarFacts &facts) : m_from(program), m_facts(facts) {}

    Machine machine()
    {
        m_to.small = !m_facts.wide;
        for (const auto &r : m_from.readings)
            m_to.sensors.push_back(sensor(r));
        for (const auto &m : m_from.memos)
            m_to.memos.push_back(word(m.first));
        m_to.start = doings(m_from.start);
        m_to.everywhere = branches(m_from.everywhere);
        for (const auto &s : m_from.states)
            m_to.modes.push_back(mode(s));
        m_to.stopMode = stateIndex(m_from.stopState);
        m_to.pause_us = micro(m_from.passWait);
        m_to.pauseKind = m_from.passWaitKind;
        m_to.timedDoings = m_from.actionsKind == rules::WaitKind::Timed;
        m_to.prints = m_from.prints.on;
        m_to.baud = m_from.prints.baud;
        m_to.seed = static_cast<std::uint16_t>(m_from.seed);
        return std::move(m_to);
    }

private:
    template <class List> static int indexIn(const List &list, const std::string &name)
    {
        const auto *found = named(list, name);
        return found ? static_cast<int>(found - list.data()) : -1;
    }
    int stateIndex(const std::string &name) const { return indexIn(m_from.states, name); }
    int readingIndex(const std::string &name) const { return indexIn(m_from.readings, name); }

    int word(const std::string &text)
    {
        const auto it = std::find(m_to.words.begin(), m_to.words.end(), text);
        if (it != m_to.words.end())
            return static_cast<int>(it - m_to.words.begin());
        m_to.words.push_back(text);
        return static_cast<int>(m_to.words.size()) - 1;
    }

    double bare(const std::string &name) const
    {
        const auto *v = m_from.value(name);
        return v && v->si ? *v->si : 0.0;
    }
    std::uint64_t micro(const std::string &name) const
    {
        return static_cast<std::uint64_t>(std::llround(bare(name) * 1e6));
    }

    /// A value as the board compares it with a reading.
    double constant(const std::string &name, const rules::Reading *against) const
    {
        const auto *v = m_from.value(name);
        if (v == nullptr || !v->si)
            return 0.0;
        return constantOf(*v, against ? lengthOf(m_from, *against) : nullptr, m_facts.wide);
    }

    Sensor sensor(const rules::Reading &r)
    {
        Sensor s;
        s.source = r.source;
        s.everyPass = r.everyPass;
        s.whole = r.number == rules::NumberType::Whole;
        s.shortTime = r.timeBits == 16 && !m_facts.wide;
        s.policy = r.noEcho;
        s.medianOf = r.medianOf;
        s.scale = r.scale;
        s.choice = r.choice.value_or(rules::Choice{});
        s.light = kept(m_to, bare(r.light));
        s.dark = kept(m_to, bare(r.dark));
        s.keyTimeOut_us = micro(r.timeOut);
        // A light level of 1 means that dark is 0; what is sought is one of the two.
        const int lightLevel = r.lightLevel.value_or(1);
        s.seenLevel = r.source == Source::Button       ? lightLevel
                      : r.seeks == rules::Shade::Light ? lightLevel
                                                       : 1 - lightLevel;
        if ((r.source == Source::Ranger || r.source == Source::Scan) && r.limit_m) {
            s.unitsPer_us = kept(m_to, rules::unitsPer_us(r));
            s.timeOut_us = rules::timeOut_us(r);
            s.limit = kept(m_to, std::round(units::fromSi(*r.limit_m, r.unit) * 1e4) / 1e4);
            if (s.whole)
                s.limit = std::trunc(s.limit);
            s.nearest = bound(r.nearest_m, r);
            s.farthest = bound(r.farthest_m, r);
            s.tooNear = r.tooNear;
            s.wild = r.wild;
            if (r.source == Source::Scan && s.choice.beyond != rules::Beyond::None)
                s.timeOut_us = std::max(s.timeOut_us, farEcho_us);
        }
        if (r.swivel)
            swivel(*r.swivel, s);
        s.of.first = static_cast<int>(m_to.members.size());
        for (const auto &name : r.of)
            m_to.members.push_back(readingIndex(name));
        s.of.count = static_cast<int>(r.of.size());
        if (r.scale == rules::Scale::Distance)
            if (const auto it = m_facts.distances.find(r.name); it != m_facts.distances.end())
                for (const auto &d : it->second)
                    s.byCount.push_back(distance(d, r));
        return s;
    }

    /// A bound as the board compares it: as a threshold, rounded to four decimals.
    std::optional<double> bound(const std::optional<double> &d_m, const rules::Reading &r) const
    {
        if (!d_m)
            return std::nullopt;
        return kept(m_to, std::round(units::fromSi(*d_m, r.unit) * 1e4) / 1e4);
    }

    std::optional<double> distance(const std::optional<double> &d_m, const rules::Reading &r) const
    {
        if (!d_m)
            return std::nullopt;
        const auto inUnit = kept(m_to, units::fromSi(*d_m, r.unit));
        return r.number == rules::NumberType::Whole ? std::trunc(inUnit) : inUnit;
    }

    void swivel(const rules::Swivel &from, Sensor &s)
    {
        const auto it = std::find(m_to.servos.begin(), m_to.servos.end(), from.servo);
        s.servo = static_cast<int>(it - m_to.servos.begin());
        if (it == m_to.servos.end())
            m_to.servos.push_back(from.servo);
        s.angles = {static_cast<int>(m_to.angles_deg.size()),
                    static_cast<int>(from.angles_deg.size())};
        m_to.angles_deg.insert(m_to.angles_deg.end(), from.angles_deg.begin(),
                               from.angles_deg.end());
        s.dwell_us = micro(from.dwell);
    }

    Ask ask(const rules::Condition &c)
    {
        Ask a;
        a.test = c.test;
        a.sensor = readingIndex(c.reading);
        a.compare = c.compare;
        switch (c.test) {
        case Test::Which:
        case Test::Than:
            a.other = readingIndex(c.other);
            break;
        case Test::Key:
            for (int k = 0; k < 5; ++k)
                if (c.other == rules::word(static_cast<rules::Command>(k)))
                    a.other = k;
            break;
        case Test::Remembered:
            a.sensor = indexIn(m_from.memos, c.reading);
            a.other = word(c.other);
            break;
        default:
            break;
        }
        if (c.test == Test::Since)
            a.constant = static_cast<double>(micro(c.value));
        else if (!c.value.empty())
            a.constant = constant(c.value, m_from.reading(c.reading));
        if (!c.times.empty())
            a.times = std::max(1, static_cast<int>(std::lround(bare(c.times))));
        if (a.times > 1)
            a.counter = m_to.counters++;
        return a;
    }

    /// A rule that compares with what is unset would say something that nobody chose.
    bool known(const rules::Rule &rule) const
    {
        return std::all_of(rule.when.begin(), rule.when.end(), [&](const rules::Condition &c) {
            const auto set = [&](const std::string &name) {
                const auto *v = m_from.value(name);
                return name.empty() || (v && v->si);
            };
            return set(c.value) && set(c.times);
        });
    }

    Range branches(const std::vector<rules::Rule> &all)
    {
        Range range{static_cast<int>(m_to.branches.size()), static_cast<int>(all.size())};
        for (const auto &rule : all) {
            Branch b;
            b.asks = {static_cast<int>(m_to.asks.size()), static_cast<int>(rule.when.size())};
            for (const auto &c : rule.when)
                m_to.asks.push_back(ask(c));
            b.any = rule.any;
            if (!known(rule)) {
                b.asks.count = 0;
                b.any = true; // of no condition none holds
            }
            b.go = stateIndex(rule.go);
            b.endsPass = rule.endsPass;
            b.again = rule.again;
            m_to.branches.push_back(b);
        }
        return range;
    }

    Range doings(const std::vector<rules::Action> &all)
    {
        Range range{static_cast<int>(m_to.doings.size()), static_cast<int>(all.size())};
        for (const auto &a : all) {
            Doing d;
            d.does = a.does;
            switch (a.does) {
            case rules::Does::Look:
                d.what = readingIndex(a.what);
                break;
            case rules::Does::Servo:
                d.what = servo(a.what);
                d.from = readingIndex(a.value);
                // A scan that found nothing sends its servo ahead.
                d.angle_deg = d.from < 0 ? bare(a.value) : ahead_deg;
                break;
            case rules::Does::Beep:
            case rules::Does::Pause:
                d.time_us = micro(a.value);
                break;
            case rules::Does::Print:
                d.word = word(a.value);
                break;
            case rules::Does::Remember:
                d.what = indexIn(m_from.memos, a.what);
                d.word = word(a.value);
                break;
            case rules::Does::Await:
                d.what = readingIndex(a.what);
                break;
            }
            m_to.doings.push_back(d);
        }
        return range;
    }

    int servo(const std::string &instance)
    {
        const auto it = std::find(m_to.servos.begin(), m_to.servos.end(), instance);
        const auto index = static_cast<int>(it - m_to.servos.begin());
        if (it == m_to.servos.end())
            m_to.servos.push_back(instance);
        return index;
    }

    WheelOrder order(const rules::Motion &motion, const rules::Wheel &wheel) const
    {
        switch (motion.wheels) {
        case rules::Wheels::Brake:
            return {WheelOrder::Kind::Brake, 0};
        case rules::Wheels::Coast:
            return {};
        case rules::Wheels::Drive:
            break;
        }
        // A still wheel of a driving pair is held: direction inputs equal, enable high.
        if (wheel.sense == 0)
            return {WheelOrder::Kind::Brake, 0};
        return {WheelOrder::Kind::Turn,
                wheel.sense * static_cast<int>(std::lround(bare(wheel.speed)))};
    }

    Hold hold(const rules::Wait &wait) const
    {
        Hold h;
        h.is = true;
        h.kind = wait.kind;
        h.length = wait.length;
        h.time_us = micro(wait.duration);
        h.most_us = micro(wait.most);
        h.scan = wait.length == rules::Length::PerDegree ? readingIndex(wait.angle) : -1;
        h.angle_deg = h.scan < 0 ? bare(wait.angle) : 0.0;
        h.then = stateIndex(wait.then);
        return h;
    }

    Mode mode(const rules::State &s)
    {
        Mode m;
        m.left = order(s.motion, s.motion.left);
        m.right = order(s.motion, s.motion.right);
        if (s.motion.wheels == rules::Wheels::Drive && s.motion.proportion) {
            const auto &p = *s.motion.proportion;
            m.follows = p.follows;
            m.sensor = readingIndex(p.reading);
            const auto *r = m_from.reading(p.reading);
            const double low = constant(p.low, r);
            const double high = constant(p.high, r);
            m.middle = kept(m_to, (low + high) / 2.0);
            m.half = kept(m_to, (high - low) / 2.0);
            m.gain = kept(m_to, bare(p.gain));
            m.highTurnsLeft = p.highTurnsLeft;
        }
        m.doings = doings(s.actions);
        if (s.wait)
            m.hold = hold(*s.wait);
        m.branches = branches(s.rules);
        return m;
    }

    const Program &m_from;
    const CarFacts &m_facts;
    Machine m_to;
};

} // namespace

Result<void> canRun(const Program &program, const CarFacts &facts)
{
    if (auto ok = rules::complete(program); !ok)
        return tl::unexpected(ok.error());
    for (const auto &r : program.readings)
        if (r.source == Source::Analogue && r.scale == rules::Scale::Distance &&
            facts.distances.count(r.name) == 0)
            return fail(Error::Kind::Missing, say("program '") + program.name + "'",
                        say("'{}' is wanted as a distance, but '{}' has no fit of counts to "
                            "distance on this car",
                            r.name, r.instance),
                        say("record one at the Tune station, or compare raw counts"));
    return {};
}

Result<Machine> lower(const Program &program, const CarFacts &facts)
{
    if (auto ok = canRun(program, facts); !ok)
        return tl::unexpected(ok.error());
    return lowerAnyway(program, facts);
}

Machine lowerAnyway(const Program &program, const CarFacts &facts)
{
    auto machine = Lowering(program, facts).machine();
    addQuick(machine);
    return machine;
}

} // namespace badger::machine
