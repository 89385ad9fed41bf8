// SPDX-License-Identifier: GPL-3.0-or-later
// How a wheel is told to turn, to brake and to coast, by the driver that it has.
#include "core/boardcode/scope.h"

#include <algorithm>

namespace badger::boardcode
{

namespace
{

class Wheels
{
public:
    explicit Wheels(Scope &scope) : m(scope) {}

    std::vector<Item> items()
    {
        if (m.wires.servoWheels)
            servoWheels();
        else if (m.wires.left.pins.enable.empty() && !m.wires.left.held)
            twoInputs();
        else
            enabled();
        return std::move(m_items);
    }

private:
    void add(Item item)
    {
        m_items.push_back(std::move(item));
        m_items.push_back(gap());
    }

    static Expr pin(const char *of) { return name(std::string("pins.") + of); }
    Item wheelFunction(const char *id, Body body)
    {
        auto f = function(Type::Nothing, id, std::move(body));
        f.arguments = {{m.wires.servoWheels ? Type::ServoWheel : Type::Wheel, "pins"}};
        return f;
    }
    Item turnFunction(Body body)
    {
        auto f = wheelFunction("turn", std::move(body));
        f.arguments.emplace_back(Type::Whole, "counts");
        return f;
    }

    void servoWheels()
    {
        const auto to = [](Expr pulse) {
            return Body{run(call("set_servo", {pin("signal"), std::move(pulse)}))};
        };
        add(turnFunction(to(call("wheel_pulse", {name("pins"), name("counts")}))));
        add(wheelFunction("brake", to(pin("neutral"))));
        if (coasts())
            add(wheelFunction("coast", to(pin("neutral"))));
    }

    /// The inputs of the bridge carry the speed themselves.
    void twoInputs()
    {
        auto f = wheelFunction("set_wheel",
                               {run(call("set_duty", {pin("forward"), name("forward")})),
                                run(call("set_duty", {pin("backward"), name("backward")}))});
        f.arguments.emplace_back(Type::Small, "forward");
        f.arguments.emplace_back(Type::Small, "backward");
        add(f);
        const auto wheel = [](Expr forward, Expr backward) {
            return Body{
                run(call("set_wheel", {name("pins"), std::move(forward), std::move(backward)}))};
        };
        const auto counts = name("counts");
        add(turnFunction({choose({{op(counts, "<", whole(0)), wheel(whole(0), minus(counts))},
                                  {std::nullopt, wheel(counts, whole(0))}})}));
        const auto steady = [&](const nets::Levels &l) {
            return wheel(whole(l.forward ? 255 : 0), whole(l.backward ? 255 : 0));
        };
        add(wheelFunction("brake", steady(m.wires.brake)));
        if (coasts())
            add(wheelFunction("coast", steady(m.wires.coast)));
    }

    void enabled()
    {
        auto f = wheelFunction("set_wheel",
                               {run(call("set_level", {pin("forward"), name("forward")})),
                                run(call("set_level", {pin("backward"), name("backward")})),
                                when(op(pin("speed"), "!=", name("NO_PIN")),
                                     {run(call("set_duty", {pin("speed"), name("counts")}))})});
        f.arguments.emplace_back(Type::Truth, "forward");
        f.arguments.emplace_back(Type::Truth, "backward");
        f.arguments.emplace_back(Type::Small, "counts");
        add(f);
        const auto wheel = [](Expr forward, Expr backward, Expr counts) {
            return Body{run(call("set_wheel", {name("pins"), std::move(forward),
                                               std::move(backward), std::move(counts)}))};
        };
        const auto counts = name("counts");
        add(turnFunction(wheel(op(counts, ">", whole(0)), op(counts, "<", whole(0)),
                               call("magnitude", {counts}))));
        const auto steady = [&](const nets::Levels &l) {
            return wheel(truth(l.forward), truth(l.backward), whole(l.enable ? 255 : 0));
        };
        add(wheelFunction("brake", steady(m.wires.brake)));
        if (coasts())
            add(wheelFunction("coast", steady(m.wires.coast)));
    }

    bool coasts() const
    {
        return std::any_of(
            m.program.states.begin(), m.program.states.end(),
            [](const rules::State &s) { return s.motion.wheels == rules::Wheels::Coast; });
    }

    Scope &m;
    std::vector<Item> m_items;
};

} // namespace

std::vector<Item> wheelItems(Scope &scope)
{
    return Wheels(scope).items();
}

} // namespace badger::boardcode
