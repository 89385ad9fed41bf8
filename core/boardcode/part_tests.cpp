// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/boardcode/part_tests.h"

#include "core/base/medium.h"
#include "core/boardcode/names.h"
#include "core/boardcode/target.h"
#include "core/link/lines.h"
#include "core/nets/drive_map.h"

#include <algorithm>
#include <cassert>
#include <fmt/format.h>

namespace badger::boardcode
{

using parts::Kind;
using parts::Role;

namespace
{

int numberOf(const std::string &pin)
{
    const auto n = pinNumber(pin);
    assert(n && "pinOf gives only pins that the header knows");
    return n.value_or(0);
}

class TestWriter
{
public:
    TestWriter(const kit::Assembly &car, std::string workshop)
        : m_car(car), m_workshop(std::move(workshop)), m_nets(car)
    {
        // What these texts themselves use.
        m_names.reserve({"Tested", "wheel", "SLOW", "TRIG", "ECHO", "SIGNAL", "give", "turn",
                         "pulses", "forward", "backward", "speed", "words", "time"});
    }

    std::vector<BoardFile> write()
    {
        motors();
        for (const auto &fitted : m_car->parts)
            if (const auto *part = m_car.part(fitted)) {
                if (part->kind == Kind::Ranger)
                    ranger(fitted, *part);
                if (part->kind == Kind::Servo || part->kind == Kind::DriveServo)
                    servo(fitted, *part);
            }
        sensors();
        readings();
        outputs();
        return std::move(m_files);
    }

private:
    std::string pinOf(const kit::Instance &fitted, const parts::Terminal &t) const
    {
        return pinOf(fitted.id + "." + t.name);
    }
    /// Empty where no wire leads to a pin that the header knows.
    std::string pinOf(const std::string &terminal) const
    {
        auto pin = terminal.empty() ? std::string{} : nets::wiredPin(m_nets, terminal);
        return pinNumber(pin) ? pin : std::string{};
    }

    std::string head(const std::string &what, const std::string &caution) const
    {
        return fmt::format("// {}: part test, {}\n// {}; wiring revision {}\n"
                           "{}\n// {}\n"
                           "#include \"board_support.h\"\n\n",
                           medium::source(m_car->name), medium::source(what),
                           medium::source(m_workshop), m_car->wiringRevision, howToLoad, caution);
    }

    void file(const std::string &name, std::string text)
    {
        m_files.push_back(
            {identifier(m_car->name, false) + "_test_" + identifier(name, false) + ".cpp",
             std::move(text)});
    }

    static std::string start(const std::string &body)
    {
        return "void start()\n{\n    begin_serial(9600);\n" + body + "}\n\n";
    }

    void motors()
    {
        std::string wheels;
        std::string outputs;
        std::string turns;
        for (const auto &fitted : m_car->parts) {
            const auto *part = m_car.part(fitted);
            if (part == nullptr || part->kind != Kind::Motor)
                continue;
            const auto drive = nets::motorDrive(m_nets, fitted);
            const auto forward = drive ? pinOf(drive->forward) : std::string{};
            const auto backward = drive ? pinOf(drive->backward) : std::string{};
            if (forward.empty() || backward.empty()) {
                wheels += fmt::format("// {}: no pins to drive it\n", medium::source(fitted.id));
                continue;
            }
            const auto speed = drive->held ? std::string{} : pinOf(drive->enable);
            const bool pulsed = drive->enable.empty(); // its two inputs carry the speed
            const auto name = m_names.of("motor", fitted.id);
            wheels += fmt::format("const Tested {} = {{{}, {}, {}, {}}}; // {} {} {}\n", name,
                                  numberOf(forward), numberOf(backward),
                                  speed.empty() ? "NO_PIN" : std::to_string(numberOf(speed)),
                                  pulsed, forward, backward,
                                  pulsed          ? "speed on these two"
                                  : speed.empty() ? "held high: full speed"
                                                  : speed);
            outputs += fmt::format("    make_output({0}.forward);\n    make_output({0}.backward);\n"
                                   "    make_output({0}.speed);\n",
                                   name);
            turns += fmt::format("    turn({0}, true, \"{1} forward\\n\");\n"
                                 "    turn({0}, false, \"{1} backward\\n\");\n",
                                 name, medium::source(fitted.id));
        }
        if (turns.empty())
            return;
        file("motors",
             head("each motor alone, forward and backward",
                  "Wheels off the ground. A wheel that is held draws its stall current: seconds "
                  "only.") +
                 "struct Tested { uint8_t forward, backward, speed; bool pulsed; };\n" + wheels +
                 "const uint8_t SLOW = 150; // of 255\n\n"
                 "void give(const Tested &wheel, uint8_t forward, uint8_t backward)\n{\n"
                 "    if (wheel.pulsed) {\n        set_duty(wheel.forward, forward);\n"
                 "        set_duty(wheel.backward, backward);\n        return;\n    }\n"
                 "    set_level(wheel.forward, forward > 0);\n"
                 "    set_level(wheel.backward, backward > 0);\n    if (wheel.speed != NO_PIN)\n"
                 "        set_duty(wheel.speed, forward > 0 ? forward : backward);\n}\n\n"
                 "void turn(const Tested &wheel, bool forward, const char *words)\n{\n"
                 "    print_text(words);\n"
                 "    give(wheel, forward ? SLOW : 0, forward ? 0 : SLOW);\n"
                 "    wait_us(1000000);\n    give(wheel, 0, 0);\n    wait_us(1000000);\n}\n\n" +
                 start(outputs + "    wait_us(3000000); // time to let go\n") + "void pass()\n{\n" +
                 turns + "}\n");
    }

    void ranger(const kit::Instance &fitted, const parts::Part &part)
    {
        std::string trigger;
        std::string echo;
        for (const auto &t : part.terminals) {
            if (t.role == Role::Trigger)
                trigger = pinOf(fitted, t);
            if (t.role == Role::Echo)
                echo = pinOf(fitted, t);
        }
        if (echo.empty())
            return;
        if (trigger.empty())
            trigger = echo; // one line for both
        file(fitted.id,
             head(fitted.id + " before a flat target",
                  "Stand a book square before it, 30 cm away.") +
                 fmt::format("const uint8_t TRIG = {}; // {}\nconst uint8_t ECHO = {}; // {}\n\n",
                             numberOf(trigger), trigger, numberOf(echo), echo) +
                 start("    make_output(TRIG);\n    make_input(ECHO);\n") +
                 "// Echo times are shown as they are; at 20 degrees C 58 us are a centimetre.\n"
                 "void pass()\n{\n    const uint32_t time = echo_us(TRIG, ECHO, 30000);\n"
                 "    if (time == 0) {\n        print_text(\"no echo\\n\");\n    } else {\n"
                 "        print_number((int32_t)time);\n        print_text(\" us, \");\n"
                 "        print_number((float)time / 58.3f);\n        print_text(\" cm\\n\");\n"
                 "    }\n    wait_us(200000);\n}\n");
    }

    void servo(const kit::Instance &fitted, const parts::Part &part)
    {
        const auto signal =
            std::find_if(part.terminals.begin(), part.terminals.end(),
                         [](const parts::Terminal &t) { return t.role == Role::Signal; });
        const auto pin = signal == part.terminals.end() ? std::string{} : pinOf(fitted, *signal);
        if (pin.empty())
            return;
        const bool drives = part.kind == Kind::DriveServo;
        // Pulses by the clock: no library, so no timer is taken while parts are tested.
        const auto body =
            drives ? std::string("    pulses(1300, 50);\n    pulses(1500, 100); // it should stand "
                                 "still: turn its trimmer\n    pulses(1700, 50);\n    pulses(1500, "
                                 "100);\n")
                   : std::string("    pulses(1472, 150); // straight ahead\n    pulses(1250, 50);\n"
                                 "    pulses(1472, 50);\n    pulses(1700, 50);\n");
        file(fitted.id,
             head(fitted.id + (drives ? ", both ways and still"
                                      : ", straight ahead, then a little each way"),
                  drives ? "Wheels off the ground." : "Fingers out of the horn's way.") +
                 fmt::format("const uint8_t SIGNAL = {}; // {}\n\n", numberOf(pin), pin) +
                 "void pulses(uint32_t length_us, int count)\n{\n"
                 "    print_number((int32_t)length_us);\n    print_text(\" us\\n\");\n"
                 "    for (int i = 0; i < count; ++i) {\n        set_level(SIGNAL, true);\n"
                 "        wait_us(length_us);\n        set_level(SIGNAL, false);\n"
                 "        wait_us(20000 - length_us);\n    }\n}\n\n" +
                 start("    make_output(SIGNAL);\n") + "void pass()\n{\n" + body + "}\n");
    }

    void sensors()
    {
        std::string pins;
        std::string inputs;
        std::string prints;
        for (const auto &fitted : m_car->parts) {
            const auto *part = m_car.part(fitted);
            if (part == nullptr || part->kind == Kind::Divider)
                continue;
            for (const auto &t : part->terminals) {
                const bool analogue = t.role == Role::AnalogueOut;
                if (!analogue && t.role != Role::DigitalOut)
                    continue;
                const auto pin = pinOf(fitted, t);
                if (pin.empty() || (analogue && pin.front() != 'A'))
                    continue;
                const auto name = m_names.of("sensor", fitted.id + " " + t.name);
                pins += fmt::format("const uint8_t {} = {}; // {}\n", name, numberOf(pin), pin);
                inputs += fmt::format("    make_input({});\n", name);
                prints += fmt::format("    print_text(\"{} {} \");\n", medium::source(fitted.id),
                                      medium::source(t.name));
                prints +=
                    analogue
                        ? fmt::format("    print_number((int32_t)analogue({}));\n", name)
                        : fmt::format("    print_text(level({}) ? \"high\" : \"low\");\n", name);
                prints += "    print_text(\"  \");\n";
            }
        }
        if (pins.empty())
            return;
        file("sensors",
             head("sensors over both surfaces", "Hold them over light, then over dark.") + pins +
                 "\n" + start(inputs) + "void pass()\n{\n" + prints +
                 "    print_text(\"\\n\");\n    wait_us(300000);\n}\n");
    }

    /// A name that a channel may have, and no other one has yet.
    static std::string channelName(const std::string &wish, const std::vector<link::Channel> &taken)
    {
        std::string name;
        for (const char c : wish) {
            const bool big = c >= 'A' && c <= 'Z';
            const bool small = c >= 'a' && c <= 'z';
            if (small || big || (!name.empty() && ((c >= '0' && c <= '9') || c == '-')))
                name += big ? static_cast<char>(c - 'A' + 'a') : c;
        }
        name = (name.empty() ? "sensor" : name).substr(0, link::longestName - 3);
        auto free = name;
        for (int n = 2; std::any_of(taken.begin(), taken.end(),
                                    [&](const link::Channel &t) { return t.name == free; });
             ++n)
            free = fmt::format("{}-{}", name, n);
        return free;
    }

    /// Every sensor in lines that the Tune station reads (core/link/lines.h).
    void readings()
    {
        constexpr int every_ms = 100;
        link::Header header{identifier(m_car->name, false).substr(0, 24) + "-w" +
                                std::to_string(m_car->wiringRevision),
                            every_ms,
                            {}};
        std::string inputs;
        std::string values;
        const auto add = [&](const std::string &wish, link::ChannelUnit unit,
                             const std::string &begin, const std::string &value) {
            if (header.channels.size() >= link::mostChannels)
                return;
            header.channels.push_back({channelName(wish, header.channels), unit});
            inputs += begin;
            values += "    say(\" \");\n" + value;
        };
        for (const auto &fitted : m_car->parts) {
            const auto *part = m_car.part(fitted);
            if (part == nullptr || part->kind == Kind::Divider)
                continue;
            std::string trigger;
            for (const auto &t : part->terminals)
                if (t.role == Role::Trigger)
                    trigger = pinOf(fitted, t);
            for (const auto &t : part->terminals) {
                const auto pin = pinOf(fitted, t);
                if (pin.empty())
                    continue;
                const int number = numberOf(pin);
                if (t.role == Role::Echo)
                    add(fitted.id, link::ChannelUnit::Microseconds,
                        fmt::format("    make_output({0});\n    make_input({1});\n",
                                    trigger.empty() ? number : numberOf(trigger), number),
                        fmt::format("    say_echo(echo_us({}, {}, 250000)); // {}\n",
                                    trigger.empty() ? number : numberOf(trigger), number, pin));
                const auto wish = part->kind == Kind::Strip ? fitted.id + "-" + t.name : fitted.id;
                if (t.role == Role::DigitalOut)
                    add(wish, link::ChannelUnit::Level,
                        fmt::format("    make_input({});\n", number),
                        fmt::format("    say_number(level({}) ? 1 : 0); // {}\n", number, pin));
                if (t.role == Role::AnalogueOut && pin.front() == 'A')
                    add(wish, link::ChannelUnit::Counts,
                        fmt::format("    make_input({});\n", number),
                        fmt::format("    say_number(analogue({})); // {}\n", number, pin));
            }
        }
        const auto line =
            header.channels.empty() ? Result<std::string>(std::string()) : link::written(header);
        if (!line || line->empty()) // no sensor, or more of them than a line names
            return;
        file(
            "readings",
            head("every sensor, for the Tune station", "Wheels off the ground.") +
                fmt::format("const char HEADER[] = \"{}\\n\";\nconst char SIGN[] = \"={:02X} \";\n",
                            line->substr(0, line->size() - 1), link::tagOf(header)) +
                "uint16_t sum;      // of the line so far\n"
                "uint16_t number;   // of the sample\n"
                "uint32_t time_ms, counted_us, header_ms;\n\n"
                "void say(const char *text)\n{\n    print_text(text);\n"
                "    for (; *text; ++text) {\n"
                "        sum ^= (uint16_t)((uint16_t)(uint8_t)*text << 8);\n"
                "        for (uint8_t bit = 0; bit < 8; ++bit)\n"
                "            sum = (uint16_t)(sum & 0x8000 ? (sum << 1) ^ 0x1021 : sum << 1);\n"
                "    }\n}\n\n"
                "void say_number(uint32_t value)\n{\n    char digits[11];\n"
                "    char *at = digits + 10;\n    *at = 0;\n    do {\n"
                "        *--at = (char)('0' + value % 10);\n        value /= 10;\n"
                "    } while (value);\n    say(at);\n}\n\n"
                "void say_echo(uint32_t time)\n{\n    if (time == 0)\n        say(\"none\");\n"
                "    else\n        say_number(time);\n}\n\n"
                "// Closes a line with its check: four figures of base sixteen.\n"
                "void finish()\n{\n    say(\" \");\n    char check[7] = \"!0000\\n\";\n"
                "    for (uint8_t i = 0; i < 4; ++i) {\n"
                "        const uint8_t digit = (uint8_t)((sum >> (12 - 4 * i)) & 15);\n"
                "        check[i + 1] = (char)(digit < 10 ? '0' + digit : 'A' + digit - 10);\n"
                "    }\n    print_text(check);\n}\n\n"
                "void start()\n{\n    begin_serial(115200);\n" +
                inputs + "    print_text(HEADER);\n}\n\n" +
                fmt::format("void pass()\n{{\n    const uint32_t now_us = clock_us();\n"
                            "    time_ms += (now_us - counted_us) / 1000;\n"
                            "    counted_us += (now_us - counted_us) / 1000 * 1000;\n"
                            "    if (asked('?') || time_ms - header_ms >= 3000) {{\n"
                            "        print_text(HEADER);\n        header_ms = time_ms;\n    }}\n"
                            "    sum = 0xFFFF;\n    say(SIGN);\n    say_number(number++);\n"
                            "    say(\" \");\n    say_number(time_ms);\n{}    finish();\n"
                            "    const uint32_t took_us = clock_us() - now_us;\n"
                            "    if (took_us < {}UL)\n        wait_us({}UL - took_us);\n}}\n",
                            values, every_ms * 1000, every_ms * 1000));
    }

    void outputs()
    {
        std::string pins;
        std::string begin;
        std::string blinks;
        for (const auto &fitted : m_car->parts) {
            const auto *part = m_car.part(fitted);
            if (part == nullptr || (part->kind != Kind::Led && part->kind != Kind::Buzzer))
                continue;
            const auto pin =
                part->terminals.empty() ? std::string{} : pinOf(fitted, part->terminals.front());
            if (pin.empty())
                continue;
            const auto name = m_names.of("output", fitted.id);
            pins += fmt::format("const uint8_t {} = {}; // {}\n", name, numberOf(pin), pin);
            begin += fmt::format("    make_output({});\n", name);
            blinks += fmt::format("    print_text(\"{}\\n\");\n    set_level({}, true);\n"
                                  "    wait_us(500000);\n    set_level({}, false);\n"
                                  "    wait_us(500000);\n",
                                  medium::source(fitted.id), name, name);
        }
        if (pins.empty())
            return;
        file("outputs", head("lights and buzzers, one after the other",
                             "A tester LED with 330 ohm shows what a pin gives.") +
                            pins + "\n" + start(begin) + "void pass()\n{\n" + blinks + "}\n");
    }

    const kit::Assembly &m_car;
    std::string m_workshop;
    nets::Nets m_nets;
    Names m_names;
    std::vector<BoardFile> m_files;
};

} // namespace

Result<std::vector<BoardFile>> partTests(const kit::Assembly &car, const std::string &workshop)
{
    const auto where = "car '" + car->name + "'";
    if (auto ok = boardIsKnown(car); !ok)
        return tl::unexpected(ok.error());
    auto files = TestWriter(car, workshop).write();
    if (files.empty())
        return fail(Error::Kind::Missing, where, "no wire leads from a part to a pin",
                    "wire the car first");
    files.push_back({supportFile(Target::Board), supportText(Target::Board)});
    return files;
}

} // namespace badger::boardcode
