// SPDX-License-Identifier: GPL-3.0-or-later
#include "bench/campaign/built.h"

#include <algorithm>
#include <functional>
#include <random>

namespace badger::campaign
{

namespace
{

using parts::Kind;
using parts::Role;

class Builder
{
public:
    Builder(kit::Car car, const parts::Catalogue &catalogue)
        : m_car(std::move(car)), m_catalogue(catalogue)
    {
        const kit::Assembly whole(m_car, m_catalogue);
        for (const auto &f : whole.fitted())
            if (f.part->kind == Kind::Board && m_board.empty())
                m_board = f.instance->id;
    }

    kit::Car car() && { return std::move(m_car); }

    /// In the lead of the first pack.
    void link(const char *part)
    {
        const auto plus = packPlus();
        if (plus.empty())
            return;
        const auto id = add(part);
        for (auto &w : m_car.wires)
            for (auto *end : {&w.from, &w.to})
                if (*end == plus)
                    *end = id + ".OUT";
        for (auto &p : m_car.parts)
            for (auto &feed : p.feeds)
                if (feed.from == plus)
                    feed.from = id + ".OUT";
        wire(plus, id + ".IN", "red");
        feed(id, "IN", plus);
    }

    /// The board is fed by a pack of its own, behind a diode.
    void ownPack()
    {
        const auto jack = m_board + ".VIN";
        const auto old = std::find_if(m_car.wires.begin(), m_car.wires.end(), [&](const auto &w) {
            return w.from == jack || w.to == jack;
        });
        const auto ground = commonGround();
        if (m_board.empty() || ground.empty() || old == m_car.wires.end())
            return;
        m_car.wires.erase(old);
        const auto pack = add("cell-nimh");
        instance(pack).cellsInSeries = 7;
        instance(pack).cellsInParallel = 1;
        const auto diode = add("series-diode");
        wire(pack + ".PLUS", diode + ".IN", "red");
        wire(diode + ".OUT", jack, "red");
        wire(pack + ".MINUS", ground, "black");
        feed(diode, "IN", pack + ".PLUS");
        instance(m_board).feeds = {{"VIN", diode + ".OUT", {}}};
    }

    /// A second one on the first one's 5 V, with nothing on its pins.
    void secondBoard()
    {
        const auto rail = m_board + ".5V";
        const auto ground = commonGround();
        if (ground.empty() || !is5V())
            return;
        const auto id = add("board-5v-8bit-narrow");
        wire(id + ".5V", rail, "red");
        wire(id + ".GND1", ground, "black");
        feed(id, "5V", rail);
    }

    void light()
    {
        const auto pin = freePin();
        const auto ground = commonGround();
        if (pin.empty() || ground.empty())
            return;
        const auto id = add("led-green");
        instance(id).resistor_ohm = 330.0;
        wire(id + ".PLUS", pin, "orange");
        wire(id + ".MINUS", ground, "black");
        m_car.programPins[id + ".PLUS"] = kit::splitTerminal(pin).terminal;
    }

    void buzzer()
    {
        const auto pin = freePin();
        const auto ground = commonGround();
        if (pin.empty() || ground.empty() || !is5V()) // more than a pin of 3.3 V gives
            return;
        const auto id = add("buzzer");
        wire(id + ".PLUS", pin, "green");
        wire(id + ".MINUS", ground, "black");
        m_car.programPins[id + ".PLUS"] = kit::splitTerminal(pin).terminal;
    }

    void module(const char *part, std::initializer_list<const char *> signals)
    {
        const auto rail = m_board + ".5V";
        const auto ground = commonGround();
        if (ground.empty() || !is5V() || freePins() < signals.size())
            return;
        const auto id = add(part);
        wire(id + ".VCC", rail, "red");
        wire(id + ".GND", ground, "black");
        feed(id, "VCC", rail);
        for (const auto *signal : signals) {
            const auto pin = freePin();
            wire(id + "." + signal, pin, "white");
            m_car.programPins[id + "." + signal] = kit::splitTerminal(pin).terminal;
        }
    }

    /// Two thirds of 5 V are high for either board.
    void divider()
    {
        const auto ground = commonGround();
        for (auto &w : m_car.wires)
            for (auto [from, to] : {std::pair{&w.from, &w.to}, std::pair{&w.to, &w.from}})
                if (from->ends_with(".ECHO") && kit::splitTerminal(*to).instance == m_board &&
                    !ground.empty()) {
                    const auto pin = *to;
                    const auto id = add("divider-1k-2k");
                    *to = id + ".IN";
                    wire(id + ".OUT", pin, "yellow");
                    wire(id + ".GND", ground, "black");
                    return;
                }
    }

private:
    std::string add(const char *part)
    {
        kit::Instance i;
        i.partId = part;
        i.id = "more-" + std::to_string(++m_more);
        m_car.parts.push_back(i);
        return i.id;
    }
    kit::Instance &instance(const std::string &id)
    {
        return *std::find_if(m_car.parts.begin(), m_car.parts.end(),
                             [&](const kit::Instance &i) { return i.id == id; });
    }
    void wire(const std::string &a, const std::string &b, const char *colour)
    {
        m_car.wires.push_back({a, b, colour, {}});
    }
    void feed(const std::string &id, const char *to, const std::string &from)
    {
        instance(id).feeds.push_back({to, from, {}});
    }
    bool is5V() const
    {
        const kit::Assembly car(m_car, m_catalogue);
        const auto *board = car.find(m_board);
        const auto *logic = board ? board->part->figure("logic_V") : nullptr;
        return logic != nullptr && logic->typical == 5.0;
    }
    bool isWired(const std::string &terminal) const
    {
        return std::any_of(m_car.wires.begin(), m_car.wires.end(), [&](const kit::Wire &w) {
            return w.from == terminal || w.to == terminal;
        });
    }
    std::string packPlus() const
    {
        const kit::Assembly whole(m_car, m_catalogue);
        for (const auto &f : whole.fitted())
            if (f.part->kind == Kind::Cell)
                return f.instance->id + ".PLUS";
        return {};
    }
    /// A minus is a thick lead: there is room for one more.
    std::string commonGround() const
    {
        const auto plus = packPlus();
        return plus.empty() ? plus : kit::splitTerminal(plus).instance + ".MINUS";
    }
    /// Not one that loading, the boot light, the bus or a speed needs.
    std::string freePin() const
    {
        const auto all = everyFreePin();
        return all.empty() ? std::string() : all.front();
    }
    size_t freePins() const { return everyFreePin().size(); }
    std::vector<std::string> everyFreePin() const
    {
        std::vector<std::string> free;
        if (m_board.empty())
            return free;
        const kit::Assembly car(m_car, m_catalogue);
        for (const auto &t : car.find(m_board)->part->terminals) {
            const auto pin = m_board + "." + t.name;
            const bool used = std::any_of(m_car.programPins.begin(), m_car.programPins.end(),
                                          [&](const auto &p) { return p.second == t.name; });
            if (t.role == Role::Pin && !used && !isWired(pin) && !t.serial && !t.bootLight &&
                !t.pwm && t.bus.empty())
                free.push_back(pin);
        }
        return free;
    }

    kit::Car m_car;
    const parts::Catalogue &m_catalogue;
    std::string m_board;
    int m_more = 0;
};

} // namespace

std::vector<kit::Car> built(const std::vector<kit::Car> &from, const parts::Catalogue &catalogue,
                            int many, unsigned seed)
{
    using Step = std::function<void(Builder &)>;
    const std::vector<Step> steps = {
        [](Builder &b) { b.link("fuse"); },
        [](Builder &b) { b.link("switch"); },
        [](Builder &b) { b.ownPack(); },
        [](Builder &b) { b.secondBoard(); },
        [](Builder &b) { b.light(); },
        [](Builder &b) { b.buzzer(); },
        [](Builder &b) { b.module("push-button-high", {"OUT"}); },
        [](Builder &b) { b.module("push-button-low", {"OUT"}); },
        [](Builder &b) {
            b.module("ranger-4-pin", {"TRIG", "ECHO"});
        },
        [](Builder &b) { b.divider(); },
    };
    std::mt19937 random(seed);
    std::vector<kit::Car> all;
    for (int i = 0; i < many && !from.empty(); ++i) {
        Builder b(from[static_cast<size_t>(i) % from.size()], catalogue);
        auto order = steps;
        std::shuffle(order.begin(), order.end(), random);
        const size_t count = 2 + random() % 3;
        for (size_t k = 0; k < count; ++k)
            order[k](b);
        all.push_back(std::move(b).car());
        all.back().name += " " + std::to_string(i);
    }
    return all;
}

} // namespace badger::campaign
