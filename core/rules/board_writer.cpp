// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/rules/board_writer.h"

#include "core/base/medium.h"
#include "core/rules/board_pass.h"
#include "core/rules/board_text.h"
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

class Writer : private BoardText
{
public:
    explicit Writer(const BoardSource &source) : BoardText(source) {}

    BoardCode write()
    {
        head();
        pins();
        constants();
        wheels();
        states();
        writeReadings(*this);
        decide();
        entry();
        BoardCode code;
        code.files.push_back(
            {identifier(given.car.name, false) + "_" + identifier(program.name, false) + ".cpp",
             fmt::format("{}\n", fmt::join(lines, "\n"))});
        code.files.push_back({"board_support.h", std::string(embedded::boardSupport)});
        code.tags = std::move(tags);
        return code;
    }

private:
    void head()
    {
        line("// {}, program '{}', version {}", medium::source(given.car.name),
             medium::source(program.name), program.version);
        line("// {}; wiring revision {}", medium::source(given.workshop), given.car.wiringRevision);
        const std::string load = howToLoad;
        line("{}", load.substr(0, load.find('\n')));
        line("{}", load.substr(load.find('\n') + 1));
        line("// Wheels off the ground and the motor supply open while this is loaded.");
        line("#include \"board_support.h\"");
        blank();
    }

    void pins()
    {
        line("// pins, as the car is wired");
        for (const auto &[reading, p] : given.pingPins) {
            line("const uint8_t {} = {}; // {}", names.of("trig", reading + " trig"),
                 numberOf(p.first), medium::source(p.first));
            line("const uint8_t {} = {}; // {}", names.of("echo", reading + " echo"),
                 numberOf(p.second), medium::source(p.second));
        }
        line("struct Wheel {{ uint8_t forward, backward, speed; }};");
        for (const auto &[name, w] : {std::pair{"LEFT", &given.left}, {"RIGHT", &given.right}}) {
            const bool none = w->pins.enable.empty();
            line("const Wheel {} = {{{}, {}, {}}}; // {} {} {}", name, numberOf(w->pins.forward),
                 numberOf(w->pins.backward),
                 none ? "NO_PIN" : std::to_string(numberOf(w->pins.enable)), w->pins.forward,
                 w->pins.backward,
                 !none           ? w->pins.enable
                 : w->drive.held ? "enable held high"
                                 : "speed on these two");
        }
        blank();
    }

    std::string constantName(const Value &value, const Reading &reading)
    {
        return names.of("distance:" + std::string(units::info(reading.unit).symbol),
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
                    distanceConstant(*program.value(c.value), *program.reading(c.reading));
        };
        through(program.everywhere);
        for (const auto &s : program.states)
            through(s.rules);
        for (const auto &v : program.values)
            tagged("value:" + v.name, [&] {
                if (v.kind == ValueKind::Speed)
                    line("const uint8_t {} = {}; // {}, of 255", names.of("value", v.name),
                         std::lround(*v.si), medium::source(v.meaning));
                if (v.kind == ValueKind::Duration)
                    line("const uint32_t {} = {}; // {}", names.of("value", v.name + " us"),
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
        if (given.left.drive.enable.empty()) {
            line("    set_duty(pins.forward, forward ? counts : 0);");
            line("    set_duty(pins.backward, backward ? counts : 0);");
        } else {
            line("    set_level(pins.forward, forward);");
            line("    set_level(pins.backward, backward);");
            line("    if (pins.speed != NO_PIN)");
            line("        set_duty(pins.speed, counts);");
        }
        line("}}");
        blank();
        line("void turn(const Wheel &pins, int counts)");
        line("{{");
        line("    set_wheel(pins, counts > 0, counts < 0, counts < 0 ? -counts : counts);");
        line("}}");
        blank();
        line("void brake(const Wheel &pins) {{ set_wheel(pins, {}); }}", levels(given.brake));
        line("void coast(const Wheel &pins) {{ set_wheel(pins, {}); }}", levels(given.coast));
        blank();
    }

    std::string wheelCall(const char *pins, const Wheel &wheel)
    {
        if (wheel.sense == 0)
            return fmt::format("brake({});", pins);
        return fmt::format("turn({}, {}{});", pins, wheel.sense < 0 ? "-" : "",
                           names.of("value", wheel.speed));
    }

    void stateCase(const State &s)
    {
        tagged("state:" + s.name, [&] {
            line("    case {}: // {}", names.of("state", s.name), english(words(s.motion)));
            if (s.motion.wheels == Wheels::Drive) {
                line("        {}", wheelCall("LEFT", s.motion.left));
                line("        {}", wheelCall("RIGHT", s.motion.right));
            } else {
                const auto *call = s.motion.wheels == Wheels::Brake ? "brake" : "coast";
                line("        {}(LEFT);", call);
                line("        {}(RIGHT);", call);
            }
            if (s.wait) {
                const auto time = names.of("value", s.wait->duration + " us");
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
        for (const auto &s : program.states)
            ids.push_back(names.of("state", s.name));
        line("enum State {{ {} }};", fmt::join(ids, ", "));
        line("State state;");
        if (hasWaits())
            line("uint32_t state_end;");
        if (program.passWaitKind == WaitKind::Timed)
            line("uint32_t next_pass;");
        blank();
        line("void go(State next)");
        line("{{");
        line("    state = next;");
        line("    switch (state) {{");
        for (const auto &s : program.states)
            stateCase(s);
        line("    }}");
        line("}}");
        blank();
    }

    bool hasWaits() const
    {
        return std::any_of(program.states.begin(), program.states.end(),
                           [](const State &s) { return s.wait.has_value(); });
    }

    std::string condition(const Condition &c)
    {
        const auto &r = *program.reading(c.reading);
        const auto id = readingName(r);
        const auto test = fmt::format("{} {} {}", id, symbol(c.compare),
                                      constantName(*program.value(c.value), r));
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
                line("{}    go({});", indent, names.of("state", r.go));
                if (r.endsPass)
                    line("{}    return;", indent);
                line("{}}}", indent);
            });
        });
    }

    void decide()
    {
        line("void decide({})", arguments(true));
        line("{{");
        const bool ownRules =
            std::any_of(program.states.begin(), program.states.end(),
                        [](const State &s) { return !s.wait && !s.rules.empty(); });
        if (ownRules)
            line("    const State began = state;");
        for (const auto &r : program.everywhere)
            rule(r, "    ");
        if (ownRules) {
            line("    switch (began) {{");
            for (const auto &s : program.states) {
                if (s.wait || s.rules.empty())
                    continue;
                line("    case {}:", names.of("state", s.name));
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
        line("    begin_serial({});", program.prints.baud);
        line("    print_text(\"{} {} version {}\\r\\n\");", medium::source(given.car.name),
             medium::source(program.name), program.version);
        for (const auto *w : {"LEFT", "RIGHT"})
            line("    make_output({}.forward), make_output({}.backward), make_output({}.speed);", w,
                 w, w);
        for (const auto &[reading, p] : given.pingPins)
            line("    make_output({}), make_input({});", names.of("trig", reading + " trig"),
                 names.of("echo", reading + " echo"));
        line("    go({});", names.of("state", program.states.front().name));
        if (program.passWaitKind == WaitKind::Timed)
            line("    next_pass = clock_us();");
        line("}}");
        blank();
        line("void pass()");
        line("{{");
        writePass(*this);
        line("}}");
    }

    std::set<std::string> m_written;
};

} // namespace

BoardCode writeBoardCode(const BoardSource &source)
{
    return Writer(source).write();
}

} // namespace badger::rules
