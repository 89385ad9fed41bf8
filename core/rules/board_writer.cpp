// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/rules/board_writer.h"

#include "core/base/medium.h"
#include "core/rules/board_names.h"
#include "core/rules/evaluate.h"
#include "embedded/boardSupport.h"

#include <algorithm>
#include <cassert>
#include <cmath>
#include <fmt/format.h>
#include <fmt/ranges.h>
#include <set>

namespace badger::rules
{

namespace
{

int numberOf(const std::string &pin)
{
    const auto n = pinNumber(pin);
    assert(n && "boardIsKnown was asked");
    return n.value_or(0);
}

class Writer
{
public:
    explicit Writer(const BoardSource &source) : m_source(source), m_program(source.program)
    {
        // What this text itself uses; the languages' and the headers' words are reserved already.
        m_names.reserve({"NO_ECHO",   "LEFT",     "RIGHT",  "State",  "Wheel", "state", "state_end",
                         "next_pass", "decide",   "go",     "turn",   "brake", "coast", "set_wheel",
                         "forward",   "backward", "counts", "speed",  "next",  "began", "echo",
                         "names",     "newest",   "recent", "sorted", "count", "i",     "k"});
        for (const auto &s : m_program.states)
            m_names.of("state", s.name);
    }

    BoardCode write()
    {
        head();
        pins();
        constants();
        wheels();
        states();
        readings();
        decide();
        entry();
        BoardCode code;
        code.files.push_back({identifier(m_source.car.name, false) + "_" +
                                  identifier(m_program.name, false) + ".cpp",
                              fmt::format("{}\n", fmt::join(m_lines, "\n"))});
        code.files.push_back({"board_support.h", std::string(embedded::boardSupport)});
        code.tags = std::move(m_tags);
        return code;
    }

private:
    template <class... Args> void line(fmt::format_string<Args...> text, Args &&...args)
    {
        m_lines.push_back(fmt::format(text, std::forward<Args>(args)...));
        for (const auto &tag : m_open)
            m_tags.push_back({static_cast<int>(m_lines.size()) - 1, tag});
    }
    void blank() { m_lines.emplace_back(); }

    /// Lines written inside `body` carry a tag.
    template <class Body> void tagged(const std::string &tag, Body body)
    {
        m_open.push_back(tag);
        body();
        m_open.pop_back();
    }

    void head()
    {
        line("// {}, program '{}', version {}", medium::source(m_source.car.name),
             medium::source(m_program.name), m_program.version);
        line("// {}; wiring revision {}", medium::source(m_source.workshop),
             m_source.car.wiringRevision);
        line("// Wheels off the ground and the motor supply open while this is loaded.");
        line("#include \"board_support.h\"");
        blank();
    }

    void pins()
    {
        line("// pins, as the car is wired");
        for (const auto &[reading, p] : m_source.pingPins) {
            line("const uint8_t {} = {}; // {}", m_names.of("trig", reading + " trig"),
                 numberOf(p.first), medium::source(p.first));
            line("const uint8_t {} = {}; // {}", m_names.of("echo", reading + " echo"),
                 numberOf(p.second), medium::source(p.second));
        }
        line("struct Wheel {{ uint8_t forward, backward, speed; }};");
        for (const auto &[name, w] :
             {std::pair{"LEFT", &m_source.left}, {"RIGHT", &m_source.right}}) {
            const bool jumper = w->drive.jumpered;
            line("const Wheel {} = {{{}, {}, {}}}; // {} {} {}", name, numberOf(w->pins.forward),
                 numberOf(w->pins.backward),
                 jumper ? "NO_PIN" : std::to_string(numberOf(w->pins.enable)), w->pins.forward,
                 w->pins.backward, jumper ? "jumper" : w->pins.enable);
        }
        blank();
    }

    std::string constantName(const Value &value, const Reading &reading)
    {
        return m_names.of("distance:" + std::string(units::info(reading.unit).symbol),
                          value.name + " " + units::info(reading.unit).symbol);
    }

    void distanceConstant(const Value &value, const Reading &reading)
    {
        const auto name = constantName(value, reading);
        if (!m_written.insert(name).second)
            return;
        const double c = constantIn(value, reading.unit);
        const bool whole = reading.number == NumberType::Whole && c == std::trunc(c);
        tagged("value:" + value.name, [&] {
            if (whole)
                line("const int {} = {}; // {}", name, units::plain(c, 0),
                     medium::source(value.meaning));
            else
                line("const float {} = {}f; // {}", name, floatText(c),
                     medium::source(value.meaning));
        });
    }

    static std::string floatText(double c)
    {
        auto text = units::plain(c, 4);
        return text.find('.') == std::string::npos ? text + ".0" : text;
    }

    void constants()
    {
        const auto through = [&](const std::vector<Rule> &rules) {
            for (const auto &rule : rules)
                for (const auto &c : rule.when)
                    distanceConstant(*m_program.value(c.value), *m_program.reading(c.reading));
        };
        through(m_program.everywhere);
        for (const auto &s : m_program.states)
            through(s.rules);
        for (const auto &v : m_program.values)
            tagged("value:" + v.name, [&] {
                if (v.kind == ValueKind::Speed)
                    line("const uint8_t {} = {}; // {}, of 255", m_names.of("value", v.name),
                         std::lround(*v.si), medium::source(v.meaning));
                if (v.kind == ValueKind::Duration)
                    line("const uint32_t {} = {}; // {}", m_names.of("value", v.name + " us"),
                         std::llround(*v.si * 1e6), medium::source(v.meaning));
            });
        line("const int NO_ECHO = 0; // what a reading is when no echo came in time");
        blank();
    }

    std::string levels(const nets::Levels &l) const
    {
        return fmt::format("{}, {}, {}", l.forward, l.backward, l.enable ? 255 : 0);
    }

    void wheels()
    {
        line("void set_wheel(const Wheel &pins, bool forward, bool backward, uint8_t counts)");
        line("{{");
        line("    set_level(pins.forward, forward);");
        line("    set_level(pins.backward, backward);");
        line("    if (pins.speed != NO_PIN)");
        line("        set_duty(pins.speed, counts);");
        line("}}");
        blank();
        line("void turn(const Wheel &pins, int counts)");
        line("{{");
        line("    set_wheel(pins, counts > 0, counts < 0, counts < 0 ? -counts : counts);");
        line("}}");
        blank();
        line("void brake(const Wheel &pins) {{ set_wheel(pins, {}); }}", levels(m_source.brake));
        line("void coast(const Wheel &pins) {{ set_wheel(pins, {}); }}", levels(m_source.coast));
        blank();
    }

    std::string wheelCall(const char *pins, const Wheel &wheel)
    {
        if (wheel.sense == 0)
            return fmt::format("brake({});", pins);
        return fmt::format("turn({}, {}{});", pins, wheel.sense < 0 ? "-" : "",
                           m_names.of("value", wheel.speed));
    }

    void stateCase(const State &s)
    {
        tagged("state:" + s.name, [&] {
            line("    case {}: // {}", m_names.of("state", s.name), english(words(s.motion)));
            if (s.motion.wheels == Wheels::Drive) {
                line("        {}", wheelCall("LEFT", s.motion.left));
                line("        {}", wheelCall("RIGHT", s.motion.right));
            } else {
                const auto *call = s.motion.wheels == Wheels::Brake ? "brake" : "coast";
                line("        {}(LEFT);", call);
                line("        {}(RIGHT);", call);
            }
            if (s.wait) {
                const auto time = m_names.of("value", s.wait->duration + " us");
                line("        state_end = clock_us() + {};", time);
                if (s.wait->kind == WaitKind::Blocking)
                    line("        wait_us({});", time);
            }
            line("        break;");
        });
    }

    void states()
    {
        std::vector<std::string> ids;
        for (const auto &s : m_program.states)
            ids.push_back(m_names.of("state", s.name));
        line("enum State {{ {} }};", fmt::join(ids, ", "));
        line("State state;");
        if (hasWaits())
            line("uint32_t state_end;");
        if (m_program.passWaitKind == WaitKind::Timed)
            line("uint32_t next_pass;");
        blank();
        line("void go(State next)");
        line("{{");
        line("    state = next;");
        line("    switch (state) {{");
        for (const auto &s : m_program.states)
            stateCase(s);
        line("    }}");
        line("}}");
        blank();
    }

    bool hasWaits() const
    {
        return std::any_of(m_program.states.begin(), m_program.states.end(),
                           [](const State &s) { return s.wait.has_value(); });
    }

    std::string readingName(const Reading &r) { return m_names.of("reading", r.name, false); }
    /// "read_ahead_cm", "last_ahead": a name made from a reading's, and no other thing's.
    std::string madeFrom(const Reading &r, const std::string &before, const std::string &after = {})
    {
        return m_names.of("made:" + before + ":" + r.name, before + readingName(r) + after, false);
    }
    std::string readFunction(const Reading &r)
    {
        return madeFrom(r, "read_", std::string("_") + units::info(r.unit).symbol);
    }

    const char *type(const Reading &r) const
    {
        return r.number == NumberType::Whole ? "int" : "float";
    }

    void readings()
    {
        for (const auto &r : m_program.readings) {
            tagged("reading:" + r.name, [&] {
                line("{} {}() // {}", type(r), readFunction(r),
                     r.number == NumberType::Whole ? "cut to whole numbers" : "with fractions");
                line("{{");
                line("    uint32_t echo = echo_us({}, {}, {}); // no echo beyond {}",
                     m_names.of("trig", r.name + " trig"), m_names.of("echo", r.name + " echo"),
                     timeOut_us(r), units::formatShort(*r.limit_m, units::Unit::Centimetre, 2));
                line("    return ({})(echo * {:.9g}f); // half the way of sound at {}", type(r),
                     unitsPer_us(r), units::formatShort(*r.air_degC, units::Unit::Celsius, 1));
                line("}}");
            });
            blank();
            if (r.medianOf > 1)
                median(r);
            if (r.noEcho == NoEcho::HoldLast) {
                line("{} {} = NO_ECHO;", type(r), madeFrom(r, "last_"));
                blank();
            }
        }
    }

    void median(const Reading &r)
    {
        line("// The median of the newest {} readings; no echo counts as the farthest.",
             r.medianOf);
        line("{} {}({} newest)", type(r), madeFrom(r, "median_"), type(r));
        line("{{");
        line("    static {} recent[{}];", type(r), r.medianOf);
        line("    static uint8_t count = 0;");
        line("    if (count == {}) {{", r.medianOf);
        line("        for (uint8_t i = 1; i < count; ++i)");
        line("            recent[i - 1] = recent[i];");
        line("        --count;");
        line("    }}");
        line("    recent[count++] = newest;");
        line("    {} sorted[{}];", type(r), r.medianOf);
        line("    for (uint8_t i = 0; i < count; ++i) {{");
        line("        uint8_t k = i;");
        line("        for (; k > 0 && recent[i] != NO_ECHO &&");
        line("               (sorted[k - 1] == NO_ECHO || sorted[k - 1] > recent[i]); --k)");
        line("            sorted[k] = sorted[k - 1];");
        line("        sorted[k] = recent[i];");
        line("    }}");
        line("    return sorted[(count - 1) / 2];");
        line("}}");
        blank();
    }

    std::string condition(const Condition &c)
    {
        const auto &r = *m_program.reading(c.reading);
        const auto id = readingName(r);
        const auto test = fmt::format("{} {} {}", id, symbol(c.compare),
                                      constantName(*m_program.value(c.value), r));
        const bool nearer = c.compare == Compare::Less || c.compare == Compare::LessOrEqual;
        if (r.noEcho != NoEcho::Clear && r.noEcho != NoEcho::Blocked)
            return test;
        const bool noneHolds = nearer == (r.noEcho == NoEcho::Blocked);
        return noneHolds ? fmt::format("({} == NO_ECHO || {})", id, test)
                         : fmt::format("({} != NO_ECHO && {})", id, test);
    }

    void rule(const Rule &r, const std::string &indent)
    {
        std::vector<std::string> conditions;
        for (const auto &c : r.when)
            conditions.push_back(condition(c));
        if (conditions.empty())
            conditions.emplace_back("true");
        auto joined = fmt::format("{}", fmt::join(conditions, " && "));
        if (conditions.size() == 1 && joined.front() == '(')
            joined = joined.substr(1, joined.size() - 2);
        tagged("rule:" + r.name, [&] {
            tagged("state:" + r.go, [&] {
                line("{}if ({}) {{ // {}", indent, joined, medium::source(r.name));
                line("{}    go({});", indent, m_names.of("state", r.go));
                if (r.endsPass)
                    line("{}    return;", indent);
                line("{}}}", indent);
            });
        });
    }

    std::string arguments(bool types)
    {
        std::vector<std::string> all;
        for (const auto &r : m_program.readings)
            all.push_back((types ? std::string(type(r)) + " " : "") + readingName(r));
        return fmt::format("{}", fmt::join(all, ", "));
    }

    void decide()
    {
        line("void decide({})", arguments(true));
        line("{{");
        const bool ownRules =
            std::any_of(m_program.states.begin(), m_program.states.end(),
                        [](const State &s) { return !s.wait && !s.rules.empty(); });
        if (ownRules)
            line("    const State began = state;");
        for (const auto &r : m_program.everywhere)
            rule(r, "    ");
        if (ownRules) {
            line("    switch (began) {{");
            for (const auto &s : m_program.states) {
                if (s.wait || s.rules.empty())
                    continue;
                line("    case {}:", m_names.of("state", s.name));
                for (const auto &r : s.rules)
                    rule(r, "        ");
                line("        break;");
            }
            line("    default:");
            line("        break;");
            line("    }}");
        }
        line("}}");
        blank();
    }

    void entry()
    {
        line("void start()");
        line("{{");
        line("    begin_serial({});", m_program.prints.baud);
        line("    print_text(\"{} {} version {}\\r\\n\");", medium::source(m_source.car.name),
             medium::source(m_program.name), m_program.version);
        for (const auto *w : {"LEFT", "RIGHT"})
            line("    make_output({}.forward), make_output({}.backward), make_output({}.speed);", w,
                 w, w);
        for (const auto &[reading, p] : m_source.pingPins)
            line("    make_output({}), make_input({});", m_names.of("trig", reading + " trig"),
                 m_names.of("echo", reading + " echo"));
        line("    go({});", m_names.of("state", m_program.states.front().name));
        if (m_program.passWaitKind == WaitKind::Timed)
            line("    next_pass = clock_us();");
        line("}}");
        blank();
        line("void pass()");
        line("{{");
        takeReadings();
        callDecide();
        endWaits();
        prints();
        pause();
        line("}}");
    }

    void takeReadings()
    {
        for (const auto &r : m_program.readings) {
            const auto id = readingName(r);
            auto read = readFunction(r) + "()";
            if (m_program.prints.on)
                line("    {} {} = {};", type(r), madeFrom(r, "raw_"), read);
            if (m_program.prints.on)
                read = madeFrom(r, "raw_");
            if (r.medianOf > 1)
                read = fmt::format("{}({})", madeFrom(r, "median_"), read);
            line("    {} {} = {};", type(r), id, read);
            if (r.noEcho != NoEcho::HoldLast)
                continue;
            tagged("policy:" + r.name, [&] {
                line("    if ({} == NO_ECHO) // hold the last reading", id);
                line("        {} = {};", id, madeFrom(r, "last_"));
                line("    {} = {};", madeFrom(r, "last_"), id);
            });
        }
    }

    /// "a == NO_ECHO || b == NO_ECHO" over the readings whose policy is one of `policies`.
    std::string missing(std::initializer_list<NoEcho> policies)
    {
        std::vector<std::string> all;
        for (const auto &r : m_program.readings)
            if (std::find(policies.begin(), policies.end(), r.noEcho) != policies.end())
                all.push_back(readingName(r) + " == NO_ECHO");
        return fmt::format("{}", fmt::join(all, " || "));
    }

    void callDecide()
    {
        const auto stop = missing({NoEcho::Stop});
        const auto skip = missing({NoEcho::Ignore, NoEcho::HoldLast});
        std::vector<std::string> held;
        for (const auto &s : m_program.states)
            if (s.wait)
                held.push_back("state == " + m_names.of("state", s.name));
        // What comes before the rules, as one chain of if and else.
        std::vector<std::pair<std::string, std::string>> chain;
        if (!held.empty())
            chain.emplace_back(fmt::format("{}", fmt::join(held, " || ")),
                               "; // waits: the rules are not asked");
        if (!stop.empty())
            chain.emplace_back(stop, "go(" + m_names.of("state", m_program.stopState) +
                                         "); // no echo: stop");
        if (!skip.empty())
            chain.emplace_back(skip, "; // without a reading nothing is decided");
        for (size_t i = 0; i < chain.size(); ++i) {
            line("    {}if ({})", i == 0 ? "" : "else ", chain[i].first);
            line("        {}", chain[i].second);
        }
        if (!chain.empty())
            line("    else");
        line("    {}decide({});", chain.empty() ? "" : "    ", arguments(false));
    }

    void endWaits()
    {
        for (const auto &s : m_program.states) {
            if (!s.wait)
                continue;
            tagged("state:" + s.name, [&] {
                line("    {}if (state == {} && (int32_t)(clock_us() - state_end) >= 0)",
                     m_waitChain ? "else " : "", m_names.of("state", s.name));
                line("        go({});", m_names.of("state", s.wait->then));
            });
            m_waitChain = true;
        }
    }

    void prints()
    {
        if (!m_program.prints.on)
            return;
        for (const auto &r : m_program.readings)
            line("    print_text(\"{} \"), print_number({}), print_text(\" \");",
                 medium::source(r.name), madeFrom(r, "raw_"));
        line("    static const char *const names[] = {{{}}};", stateStrings());
        line("    print_text(names[state]), print_text(\"\\r\\n\");");
    }

    std::string stateStrings() const
    {
        std::vector<std::string> all;
        for (const auto &s : m_program.states)
            all.push_back("\"" + medium::source(s.name) + "\"");
        return fmt::format("{}", fmt::join(all, ", "));
    }

    void pause()
    {
        if (m_program.passWait.empty())
            return;
        const auto time = m_names.of("value", m_program.passWait + " us");
        tagged("value:" + m_program.passWait, [&] {
            if (m_program.passWaitKind == WaitKind::Blocking) {
                line("    wait_us({});", time);
            } else {
                line("    next_pass += {};", time);
                line("    if ((int32_t)(next_pass - clock_us()) > 0)");
                line("        wait_us(next_pass - clock_us());");
                line("    else");
                line("        next_pass = clock_us();");
            }
        });
    }

    const BoardSource &m_source;
    const Program &m_program;
    Names m_names;
    std::vector<std::string> m_lines;
    std::vector<std::string> m_open;
    std::vector<LineTag> m_tags;
    std::set<std::string> m_written;
    bool m_waitChain = false;
};

} // namespace

BoardCode writeBoardCode(const BoardSource &source)
{
    return Writer(source).write();
}

} // namespace badger::rules
