// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/pins/planner.h"

#include "core/pins/assignment.h"

#include <algorithm>
#include <fmt/format.h>
#include <fmt/ranges.h>
#include <map>

namespace badger::pins
{

using parts::Role;

namespace
{

// A move outweighs any waste: waste is below 64 a function, and boards have fewer than 64 pins.
constexpr int moveCost = 1 << 12;
constexpr int twitchCost = 32;  ///< a motor that jumps at every start
constexpr int pwmCost = 16;     ///< PWM pins are the scarcest
constexpr int analogueCost = 8; ///< then those that read volts
constexpr int busCost = 4;      ///< then the two-wire bus
constexpr int bootCost = 2;     ///< a pin with a light is handy for tests
constexpr int newHoleCost = 1;  ///< a hole already in use has its header in reach

std::vector<const parts::Terminal *> pinsOf(const parts::Part &board)
{
    std::vector<const parts::Terminal *> pins;
    for (const auto &t : board.terminals)
        if (t.role == Role::Pin)
            pins.push_back(&t);
    return pins;
}

bool hasPwm(const PinProblem &problem, const parts::Terminal &pin)
{
    return pin.pwm && pwmTakenBy(*problem.board, pin, problem.libraries).empty();
}

/// To which group of speed lines each shared PWM channel is given.
using Given = std::map<std::string, std::string>;

/// What it costs to put a function on a pin; impossible where it cannot be there.
int costOf(const PinProblem &problem, const PinNeed &need, const parts::Terminal &pin,
           const std::set<std::string> &inUse, const Given &given)
{
    if (need.fixed)
        return pin.name == need.on ? 0 : impossible;
    const bool pwm = hasPwm(problem, pin);
    const auto channel = given.find(pin.pwmChannel);
    if (need.pwm && channel != given.end() && channel->second != need.group)
        return impossible;
    if (problem.blocked.count(pin.name) || !canServe(problem, need, pin))
        return impossible;
    int cost = 0;
    if (!need.on.empty() && need.on != pin.name)
        cost += moveCost;
    if (acts(need) && pin.bootLight)
        cost += twitchCost;
    if (pwm != need.pwm) // by the clock a speed is less steady
        cost += pwmCost;
    if (pin.analogue && !need.analogue)
        cost += analogueCost;
    if (!pin.bus.empty())
        cost += busCost;
    if (pin.bootLight)
        cost += bootCost;
    if (!inUse.count(pin.name))
        cost += newHoleCost;
    return cost;
}

CostMatrix costs(const PinProblem &problem, const std::vector<const parts::Terminal *> &pins,
                 const Given &given = {})
{
    std::set<std::string> inUse;
    for (const auto &n : problem.needs)
        inUse.insert(n.on);
    CostMatrix matrix(problem.needs.size(), pins.size());
    for (size_t i = 0; i < problem.needs.size(); ++i)
        for (size_t k = 0; k < pins.size(); ++k)
            matrix.at(i, k) = costOf(problem, problem.needs[i], *pins[k], inUse, given);
    return matrix;
}

/// The board's PWM channels that several pins share, with those pins.
std::map<std::string, std::vector<std::string>> sharedChannels(const PinProblem &problem)
{
    std::map<std::string, std::vector<std::string>> shared;
    if (problem.board->clockPulses)
        return shared; // the clock gives each pin a speed of its own
    for (const auto &t : problem.board->terminals)
        if (!t.pwmChannel.empty() && hasPwm(problem, t))
            shared[t.pwmChannel].push_back(t.name);
    std::erase_if(shared, [](const auto &s) { return s.second.size() < 2; });
    return shared;
}

std::set<std::string> speedGroups(const PinProblem &problem)
{
    std::set<std::string> groups;
    for (const auto &n : problem.needs)
        if (n.pwm)
            groups.insert(n.group);
    return groups;
}

/// Calls `visit` with every way to give the shared channels to the groups of speed lines, until it
/// says no more; false where there are too many ways to try.
template <class Visit> bool eachGiving(const PinProblem &problem, Visit visit)
{
    const auto shared = sharedChannels(problem);
    const auto groups = speedGroups(problem);
    size_t ways = 1;
    if (!groups.empty())
        for (size_t i = 0; i < shared.size(); ++i)
            if ((ways *= groups.size()) > mostGivings)
                return false;
    const std::vector<std::string> names(groups.begin(), groups.end());
    for (size_t way = 0; way < ways; ++way) {
        Given given;
        size_t rest = way;
        if (!names.empty())
            for (const auto &[channel, pins] : shared) {
                given[channel] = names[rest % names.size()];
                rest /= names.size();
            }
        if (!visit(given))
            break;
    }
    return true;
}

using Columns = std::vector<size_t>;

/// The cheapest map over all ways to give the PWM channels out; `tried` turns false where there are
/// too many of them.
std::optional<Columns> solve(const PinProblem &problem,
                             const std::vector<const parts::Terminal *> &pins, bool &tried)
{
    std::optional<Columns> best;
    long bestCost = 0;
    tried = eachGiving(problem, [&](const Given &given) {
        const auto matrix = costs(problem, pins, given);
        const auto found = cheapest(matrix);
        if (!found)
            return true;
        long cost = 0;
        for (size_t i = 0; i < found->size(); ++i)
            cost += matrix.at(i, (*found)[i]);
        if (!best || cost < bestCost) {
            best = found;
            bestCost = cost;
        }
        return true;
    });
    return best;
}

Say list(const std::vector<std::string> &words)
{
    return joined(words, ", ");
}

Say nameOf(const PinNeed &need)
{
    return need.sharing.empty() ? Say(need.terminal)
                                : say("{} with {}", need.terminal, list(need.sharing));
}

/// Why the pins that the competing functions cannot use are out of reach.
Say others(const PinProblem &problem, const std::vector<const parts::Terminal *> &pins, bool pwm)
{
    std::map<std::string, std::vector<std::string>> taken; // by library
    for (const auto *pin : pins)
        if (const auto by = pwmTakenBy(*problem.board, *pin, problem.libraries);
            pin->pwm && !by.empty())
            taken[by].push_back(pin->name);
    Say words;
    if (pwm)
        for (const auto &[library, names] : taken)
            words +=
                say(" The {} library takes the timer behind the PWM of {}.", library, list(names));
    std::vector<std::string> blocked;
    std::vector<std::string> serial;
    for (const auto *pin : pins) {
        if (pin->serial)
            serial.push_back(pin->name);
        if (problem.blocked.count(pin->name))
            blocked.push_back(pin->name);
    }
    if (!blocked.empty())
        words += say(" {0} {1|serves|serve} something else.", list(blocked), blocked.size());
    if (!pwm && !serial.empty())
        words += say(" {} stay free for loading.", list(serial));
    return words;
}

void prove(const PinProblem &problem, const std::vector<const parts::Terminal *> &pins,
           const CostMatrix &matrix, PinPlan &plan)
{
    const auto tight = tightSet(matrix);
    bool pwm = true;
    bool analogue = true;
    std::vector<Say> names;
    for (const size_t row : tight.rows) {
        plan.competing.push_back(problem.needs[row].terminal);
        names.push_back(nameOf(problem.needs[row]));
        pwm &= problem.needs[row].pwm;
        analogue &= problem.needs[row].analogue;
    }
    for (const size_t column : tight.columns)
        plan.pins.push_back(pins[column]->name);
    const auto what = pwm ? say("PWM") : analogue ? say("an analogue pin") : say("a pin");
    const auto left = plan.pins.empty()
                          ? say("the {} has none left", problem.board->name)
                          : say("only {0} {1|is|are} left", list(plan.pins), plan.pins.size());
    const auto count = names.size();
    constexpr size_t mostNamed = 9; // more are no help to a reader; plan.competing has them all
    if (count > mostNamed) {
        names.resize(mostNamed - 1);
        names.push_back(say("and {} more", count - names.size()));
    }
    plan.proof = say("{0} {0|function needs|functions need} {1}: {2}; {3}.{4}", count, what,
                     joined(names, ", "), left, others(problem, pins, pwm));
}

/// Each function has its pin, but the motors do not have a PWM channel each.
void proveByChannels(const PinProblem &problem, bool tried, PinPlan &plan)
{
    std::vector<Say> channels;
    for (const auto &[channel, pins] : sharedChannels(problem)) {
        channels.push_back(joined(pins, " with "));
        plan.pins.insert(plan.pins.end(), pins.begin(), pins.end());
    }
    for (const auto &n : problem.needs)
        if (n.pwm)
            plan.competing.push_back(n.terminal);
    const auto groups = speedGroups(problem);
    const std::vector<std::string> names(groups.begin(), groups.end());
    plan.proof =
        !tried ? say("the {} shares so many PWM channels that not every way to give them out was "
                     "tried.",
                     problem.board->name)
        : groups.size() > channels.size()
            ? say("{0} motor channels need a PWM channel each: {1}; the {2} has {3} that "
                  "{3|is|are} "
                  "shared by pins: {4}.",
                  groups.size(), list(names), problem.board->name, channels.size(),
                  joined(channels, ", "))
            : say("each of {} needs a PWM channel of its own with pins for its lines; however they "
                  "are given out ({}), one goes without.",
                  list(names), joined(channels, ", "));
}

/// A relaxation of the problem, with its price.
struct Relaxed {
    WayOut way;
    PinProblem problem;
};

std::vector<Relaxed> relaxations(const PinProblem &problem)
{
    std::vector<Relaxed> all;
    const auto add = [&](Say what, Say cost, auto change) {
        Relaxed r{{std::move(what), std::move(cost)}, problem};
        change(r.problem);
        all.push_back(std::move(r));
    };
    const auto without = [](PinProblem &p, const std::string &terminal) {
        std::erase_if(p.needs, [&](const PinNeed &n) { return n.terminal == terminal; });
    };
    if (problem.libraries.count("tone"))
        add(say("drop tone: let the buzzer be plainly on or off"),
            say("it beeps at one pitch only"), [](PinProblem &p) { p.libraries.erase("tone"); });
    for (const auto &n : problem.needs) {
        const auto instance = kit::splitTerminal(n.terminal).instance;
        for (const auto &other : problem.needs)
            if (n.role == Role::Trigger && other.role == Role::Echo &&
                kit::splitTerminal(other.terminal).instance == instance)
                add(say("join trigger and echo of {} on one pin", instance),
                    say("the program turns the pin round between ping and echo"),
                    [&](PinProblem &p) { without(p, other.terminal); });
        if (n.role == Role::Enable)
            add(say("tie {} high", n.terminal), say("that side knows only stop and full speed"),
                [&](PinProblem &p) { without(p, n.terminal); });
    }
    std::vector<std::string> bus;
    for (const auto *pin : pinsOf(*problem.board))
        if (!pin->bus.empty() && !problem.blocked.count(pin->name))
            bus.push_back(pin->name);
    if (bus.size() != 2)
        return all;
    const auto expander = [&](const Say &what, auto which) {
        add(what, say("one more module, and {} for its two-wire bus", list(bus)),
            [&](PinProblem &p) {
                std::erase_if(p.needs, which);
                p.blocked.insert(bus.begin(), bus.end());
                if (std::none_of(p.needs.begin(), p.needs.end(),
                                 [](const PinNeed &n) { return n.servo; }))
                    p.libraries.erase("servo");
            });
    };
    expander(say("put the servos on a servo expander"), [](const PinNeed &n) { return n.servo; });
    expander(say("put the speed lines on a PWM expander"), [](const PinNeed &n) { return n.pwm; });
    expander(say("put the plain outputs on a pin expander"),
             [](const PinNeed &n) { return acts(n) && !n.pwm && !n.servo; });
    return all;
}

bool solvable(const PinProblem &problem)
{
    if (problem.needs.size() > pinsOf(*problem.board).size())
        return false; // two functions would share a pin, wherever they go
    bool tried = true;
    return solve(problem, pinsOf(*problem.board), tried).has_value();
}

struct Ways {
    std::vector<WayOut> ways;
    bool all = true; ///< every pair was tried
};

/// Single changes that help; where none does, pairs of them.
Ways waysOut(const PinProblem &problem)
{
    const auto first = relaxations(problem);
    Ways found;
    for (const auto &r : first)
        if (solvable(r.problem))
            found.ways.push_back(r.way);
    if (!found.ways.empty())
        return found;
    // A pair for each two functions; boards of today make some dozens.
    constexpr size_t mostPairs = 1000;
    std::set<std::set<std::string>> seen;
    for (const auto &r : first)
        for (const auto &second : relaxations(r.problem)) {
            const auto a = english(r.way.what);
            const auto b = english(second.way.what);
            if (a == b || !seen.insert({a, b}).second)
                continue;
            if (seen.size() > mostPairs) {
                found.all = false;
                return found;
            }
            if (solvable(second.problem))
                found.ways.push_back({say("{}, and {}", r.way.what, second.way.what),
                                      r.way.cost + "; " + second.way.cost});
        }
    return found;
}

} // namespace

bool acts(const PinNeed &need)
{
    return need.role == Role::Direction || need.role == Role::Enable ||
           (need.role == Role::Signal && !need.light);
}

bool takesSpeed(const parts::Part &board, const parts::Terminal &pin,
                const std::set<std::string> &libraries)
{
    return board.clockPulses || (pin.pwm && pwmTakenBy(board, pin, libraries).empty());
}

bool canServe(const PinProblem &problem, const PinNeed &need, const parts::Terminal &pin)
{
    return !pin.serial && (!need.analogue || pin.analogue) &&
           (!need.pwm || takesSpeed(*problem.board, pin, problem.libraries));
}

std::string pwmTakenBy(const parts::Part &board, const parts::Terminal &pin,
                       const std::set<std::string> &libraries)
{
    for (const auto &taking : board.libraries)
        if (!pin.timer.empty() && taking.timer == pin.timer && libraries.count(taking.library))
            return taking.library;
    return {};
}

PinPlan planPins(const PinProblem &problem)
{
    PinPlan plan;
    if (problem.board == nullptr || problem.needs.empty())
        return plan;
    const auto pins = pinsOf(*problem.board);
    bool tried = true;
    const auto best = solve(problem, pins, tried);
    if (!best) {
        const auto matrix = costs(problem, pins);
        if (cheapest(matrix))
            proveByChannels(problem, tried, plan);
        else
            prove(problem, pins, matrix, plan);
        auto found = waysOut(problem);
        plan.waysOut = std::move(found.ways);
        if (!found.all)
            plan.proof +=
                say(" There are so many functions that not every pair of changes was tried.");
        return plan;
    }
    for (size_t i = 0; i < problem.needs.size(); ++i) {
        const auto &n = problem.needs[i];
        plan.choices.push_back({n.terminal, n.sharing, n.on, pins[(*best)[i]]->name});
        plan.moves += plan.choices.back().moved();
        plan.additions += plan.choices.back().added();
    }
    return plan;
}

} // namespace badger::pins
