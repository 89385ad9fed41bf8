// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/edit/kit_edits.h"
#include "core/nets/drive_map.h"
#include "core/pins/assignment.h"
#include "core/pins/planner.h"
#include "core/wiring/check.h"
#include "support/fixture.h"

#include <numeric>
#include <random>

using namespace badger;
using namespace badger::nets;
using namespace badger::pins;
using parts::Role;
using test::Bench;

namespace
{

/// The least cost by trying every assignment; impossible where there is none.
long byHand(const CostMatrix &costs, size_t row, std::vector<bool> &taken)
{
    if (row == costs.rows())
        return 0;
    long best = impossible;
    for (size_t c = 0; c < costs.columns(); ++c) {
        if (taken[c] || costs.at(row, c) == impossible)
            continue;
        taken[c] = true;
        const long rest = byHand(costs, row + 1, taken);
        taken[c] = false;
        if (rest != impossible)
            best = std::min(best, costs.at(row, c) + rest);
    }
    return best;
}

CostMatrix random(std::mt19937 &engine, int forbiddenOf10)
{
    CostMatrix costs(1 + engine() % 5, 1 + engine() % 6);
    for (size_t r = 0; r < costs.rows(); ++r)
        for (size_t c = 0; c < costs.columns(); ++c)
            costs.at(r, c) = int(engine() % 10) < forbiddenOf10 ? impossible : int(engine() % 5000);
    return costs;
}

PinNeed need(const char *terminal, const char *on, bool pwm = false, Role role = Role::Direction)
{
    PinNeed n;
    n.terminal = terminal;
    n.on = on;
    n.pwm = pwm;
    n.role = role;
    return n;
}

PinProblem onTheBoard(std::vector<PinNeed> needs, std::set<std::string> libraries)
{
    PinProblem p;
    p.board = io::shippedCatalogue().find("board-5v-8bit");
    p.boardId = "board";
    p.needs = std::move(needs);
    p.libraries = std::move(libraries);
    return p;
}

std::string pinOf(const PinPlan &plan, const std::string &terminal)
{
    for (const auto &c : plan.choices)
        if (c.terminal == terminal)
            return c.to;
    return {};
}

bool hasWay(const PinPlan &plan, const char *word)
{
    return std::any_of(plan.waysOut.begin(), plan.waysOut.end(), [&](const WayOut &w) {
        return english(w.what).find(word) != std::string::npos;
    });
}

parts::Part withoutClockOf(parts::Part board)
{
    board.clockPulses = false;
    return board;
}

} // namespace

class TestPlanner final : public QObject
{
    Q_OBJECT
private slots:
    void theCheapestAssignment()
    {
        std::mt19937 engine(4);
        int none = 0;
        for (int i = 0; i < 4000; ++i) {
            const auto costs = random(engine, i % 7);
            std::vector<bool> taken(costs.columns(), false);
            const long best = byHand(costs, 0, taken);
            const auto found = cheapest(costs);
            none += !found;
            QCOMPARE(found.has_value(), best != impossible);
            if (!found)
                continue;
            long sum = 0;
            std::set<size_t> used;
            for (size_t r = 0; r < costs.rows(); ++r) {
                sum += costs.at(r, (*found)[r]);
                QVERIFY(used.insert((*found)[r]).second);
            }
            QCOMPARE(sum, best);
        }
        QVERIFY(none > 200 && none < 3000); // both kinds came up
    }

    /// Where there is no assignment, fewer columns than rows are shown, and no other column serves
    /// any of those rows.
    void theProofHolds()
    {
        std::mt19937 engine(5);
        for (int i = 0; i < 4000; ++i) {
            const auto costs = random(engine, 3 + i % 6);
            const auto tight = tightSet(costs);
            QCOMPARE(tight.rows.empty(), cheapest(costs).has_value());
            if (tight.rows.empty())
                continue;
            QVERIFY(tight.rows.size() > tight.columns.size());
            for (const size_t r : tight.rows)
                for (size_t c = 0; c < costs.columns(); ++c)
                    if (std::find(tight.columns.begin(), tight.columns.end(), c) ==
                        tight.columns.end())
                        QCOMPARE(costs.at(r, c), impossible);
        }
    }

    void noColumnsAndNoRows()
    {
        QVERIFY(!cheapest(CostMatrix(2, 0)));
        QVERIFY(cheapest(CostMatrix(0, 3))->empty());
        QCOMPARE(tightSet(CostMatrix(2, 0)).rows.size(), size_t(2));
    }

    void curlewNeedsTwoMoves()
    {
        Bench b("Curlew");
        const auto plan = planPins(pinProblem({b.car, b.catalogue}));
        QVERIFY(plan.possible());
        QCOMPARE(plan.moves, 2);
        QCOMPARE(plan.additions, 0);
        QCOMPARE(pinOf(plan, "driver.BIN2"), std::string("D11"));
        // The echo goes to a pin whose PWM nobody misses.
        const auto echo = pinOf(plan, "ranger.ECHO");
        const auto *pin = pinProblem({b.car, b.catalogue}).board->terminal(echo);
        QVERIFY(!pin->pwm ||
                !pwmTakenBy(*pinProblem({b.car, b.catalogue}).board, *pin, {"servo"}).empty());
        b.car = withPlan(b.car, b.catalogue, plan);
        QVERIFY(!hasError(wiring::check({b.car, b.catalogue}).findings));
        QCOMPARE(b.car.wires.size(), size_t(22));
        QCOMPARE(b.car.programPins.at("driver.BIN2"), std::string("D11"));
        // Nothing more to do.
        QCOMPARE(planPins(pinProblem({b.car, b.catalogue})).moves, 0);
        VERIFY_OK(io::verify(b.workshop));
    }

    void aServoIsAdded()
    {
        // Enables on D5 and D10, direction lines on D2 D4 D6 D7, a ranger on D3 and D11.
        Bench b;
        const std::map<std::string, std::string> pins = {
            {"driver.ENA", "D5"},  {"driver.ENB", "D10"}, {"driver.IN1", "D2"},
            {"driver.IN2", "D4"},  {"driver.IN3", "D6"},  {"driver.IN4", "D7"},
            {"ranger.TRIG", "D3"}, {"ranger.ECHO", "D11"}};
        for (const auto &[terminal, pin] : pins)
            b.wire(terminal).to = "board." + pin;
        edit::addPart(b.car, b.catalogue, "pan-servo-21");
        const auto plan = planPins(pinProblem({b.car, b.catalogue}));
        QCOMPARE(plan.moves, 2);
        QCOMPARE(plan.additions, 1);
        const auto enable = pinOf(plan, "driver.ENB");
        QVERIFY2(enable == "D3" || enable == "D6" || enable == "D11", enable.c_str());
        // It changes places: the line that was there goes to D10.
        for (const auto &[terminal, pin] : pins)
            if (pin == enable)
                QCOMPARE(pinOf(plan, terminal), std::string("D10"));
    }

    void sevenSpeedLinesBesideServoAndTone()
    {
        std::vector<PinNeed> needs;
        for (const auto *name : {"a.IN1", "a.IN2", "b.IN1", "b.IN2", "c.IN1", "c.IN2", "d.IN1"})
            needs.push_back(need(name, "", true));
        const auto plan = planPins(onTheBoard(needs, {"servo", "tone"}));
        QVERIFY(!plan.possible());
        QCOMPARE(plan.competing.size(), size_t(7));
        QCOMPARE(plan.pins, (std::vector<std::string>{"D5", "D6"}));
        QVERIFY2(english(plan.proof).find("7 functions need PWM") != std::string::npos,
                 english(plan.proof).c_str());
        QVERIFY(english(plan.proof).find("only D5, D6 are left") != std::string::npos);
        QVERIFY(english(plan.proof)
                    .find("The servo library takes the timer behind the PWM of D9, D10") !=
                std::string::npos);
        QVERIFY(english(plan.proof)
                    .find("The tone library takes the timer behind the PWM of D3, D11") !=
                std::string::npos);
        QVERIFY(hasWay(plan, "PWM expander"));
        QVERIFY(!hasWay(plan, "drop tone")); // alone it does not suffice
    }

    void whatFreesAPin()
    {
        // Three speed lines with servo and tone: without the tone there are four pins.
        const auto plan = planPins(onTheBoard({need("driver.ENA", "D5", true, Role::Enable),
                                               need("driver.ENB", "D6", true, Role::Enable),
                                               need("other.EN", "D3", true, Role::Enable)},
                                              {"servo", "tone"}));
        QVERIFY(!plan.possible());
        QVERIFY(hasWay(plan, "drop tone") && hasWay(plan, "tie driver.ENA high"));
        for (const auto &w : plan.waysOut)
            QVERIFY2(!w.cost.empty(), english(w.what).c_str());
    }

    void joiningTriggerAndEchoFreesAPin()
    {
        // Eighteen pins, nineteen functions.
        std::vector<PinNeed> needs;
        for (int i = 0; i < 17; ++i) {
            needs.push_back(need("", "", false, Role::DigitalOut));
            needs.back().terminal = "eye" + std::to_string(i) + ".OUT";
        }
        needs.push_back(need("ranger.TRIG", "", false, Role::Trigger));
        needs.push_back(need("ranger.ECHO", "", false, Role::Echo));
        const auto plan = planPins(onTheBoard(needs, {}));
        QVERIFY(!plan.possible());
        QVERIFY(hasWay(plan, "join trigger and echo of ranger"));
        QVERIFY(english(plan.proof).find("D0, D1 stay free for loading") != std::string::npos);
        QVERIFY(english(plan.proof).find("and 11 more") !=
                std::string::npos); // a sentence, no list
        QCOMPARE(plan.competing.size(), size_t(19));
    }

    void plainFunctionsLeaveTheScarcePinsAlone()
    {
        const auto plan = planPins(onTheBoard({need("a.OUT", "", false, Role::DigitalOut),
                                               need("b.OUT", "", false, Role::DigitalOut)},
                                              {}));
        for (const auto &c : plan.choices)
            QVERIFY2(c.to == "D2" || c.to == "D4" || c.to == "D7" || c.to == "D8" || c.to == "D12",
                     c.to.c_str());
    }

    void joinedLinesStayOne()
    {
        Bench b;
        b.wire("ranger.ECHO").to = "board.D8";
        const auto problem = pinProblem({b.car, b.catalogue});
        const auto one = std::find_if(problem.needs.begin(), problem.needs.end(),
                                      [](const PinNeed &n) { return n.terminal == "ranger.TRIG"; });
        QCOMPARE(one->sharing, std::vector<std::string>{"ranger.ECHO"});
        QCOMPARE(planPins(problem).moves, 0);
    }

    void whatElseHangsOnAPinBlocksIt()
    {
        Bench b;
        b.car.wires.push_back({"board.D9", "switch.OUT", "red"});
        const auto problem = pinProblem({b.car, b.catalogue});
        QVERIFY(problem.blocked.count("D9"));
        for (const auto &c : planPins(problem).choices)
            QVERIFY(c.to != "D9");
    }

    void withoutABoardThereIsNothingToPlan()
    {
        Bench b("Turnstone");
        const auto problem = pinProblem({b.car, b.catalogue});
        QVERIFY(problem.board == nullptr && problem.needs.empty());
        QVERIFY(planPins(problem).possible());
    }

    /// From any tangle of the signal wires the plan leads to a car without a pin error, and what it
    /// kept it did not touch.
    void anyTangleIsUntangled()
    {
        std::mt19937 engine(6);
        for (int i = 0; i < 120; ++i) {
            Bench b(i % 2 ? "Curlew" : "Avocet");
            const auto problem = pinProblem({b.car, b.catalogue});
            for (const auto &n : problem.needs) {
                const auto &pins = problem.board->terminals;
                const auto *pin = &pins[engine() % pins.size()];
                while (pin->role != Role::Pin)
                    pin = &pins[engine() % pins.size()];
                for (auto &w : b.car.wires)
                    if (w.from == n.terminal)
                        w.to = "board." + pin->name;
            }
            const auto tangled = pinProblem({b.car, b.catalogue});
            const auto plan = planPins(tangled);
            QVERIFY(plan.possible());
            const auto before = b.car;
            b.car = withPlan(b.car, b.catalogue, plan);
            QCOMPARE(planPins(pinProblem({b.car, b.catalogue})).moves, 0);
            int differ = 0;
            for (size_t k = 0; k < before.wires.size(); ++k)
                differ += !(before.wires[k] == b.car.wires[k]);
            QVERIFY(differ >= plan.moves);
            for (const auto &f : wiring::check({b.car, b.catalogue}).findings)
                QVERIFY2(f.severity != Severity::Error, english(f.what).c_str());
        }
    }

    /// A program that pulses by the clock has a speed on every pin; PWM pins come first all the same.
    void theClockGivesSpeedsAnywhere()
    {
        auto problem = onTheBoard({need("driver.AIN1", "P5", true), need("driver.BIN1", "", true),
                                   need("ranger.TRIG", "", false)},
                                  {});
        const auto *clocked = io::shippedCatalogue().find("computer-3v3");
        problem.board = clocked;
        const auto plan = planPins(problem);
        QVERIFY(plan.possible());
        QCOMPARE(pinOf(plan, "driver.AIN1"), std::string("P5")); // a move costs more
        QVERIFY(clocked->terminal(pinOf(plan, "driver.BIN1"))->pwm);
        QVERIFY(!clocked->terminal(pinOf(plan, "ranger.TRIG"))->pwm);
        const auto withoutClock = withoutClockOf(*clocked);
        problem.board = &withoutClock;
        QVERIFY(pinOf(planPins(problem), "driver.AIN1") != "P5");
    }

    /// Two inputs of each of two motors on a board with two PWM channels of two pins each.
    void motorsShareNoPwmChannel()
    {
        auto problem =
            onTheBoard({need("driver.AIN1", "P12", true), need("driver.AIN2", "P13", true),
                        need("driver.BIN1", "P18", true), need("driver.BIN2", "P19", true)},
                       {});
        const auto *clocked = io::shippedCatalogue().find("computer-3v3");
        problem.board = clocked;
        for (auto &n : problem.needs)
            n.group = n.terminal.substr(0, 8);    // "driver.A"
        QCOMPARE(planPins(problem).moves, 0); // by the clock each pin has a speed of its own
        const auto withoutClock = withoutClockOf(*clocked);
        problem.board = &withoutClock;
        const auto plan = planPins(problem);
        QVERIFY(plan.possible());
        QCOMPARE(plan.moves, 2); // one input of each motor changes its place
        const auto channel = [&](const char *terminal) {
            return problem.board->terminal(pinOf(plan, terminal))->pwmChannel;
        };
        QCOMPARE(channel("driver.AIN1"), channel("driver.AIN2"));
        QCOMPARE(channel("driver.BIN1"), channel("driver.BIN2"));
        QVERIFY(channel("driver.AIN1") != channel("driver.BIN1"));

        problem.needs.push_back(need("third.IN1", "", true));
        problem.needs.back().group = "third";
        QVERIFY(!planPins(problem).possible()); // five lines, four pins
        problem.needs.erase(problem.needs.begin() + 1);
        const auto none = planPins(problem);
        QVERIFY(!none.possible());
        QVERIFY2(english(none.proof)
                     .starts_with(
                         "3 motor channels need a PWM channel each: driver.A, driver.B, third;"),
                 english(none.proof).c_str());
        QCOMPARE(none.pins.size(), size_t(4));
    }

    /// The least number of moves by trying every map of the pins.
    void channelsLikeByHand()
    {
        const auto withoutClock = withoutClockOf(*io::shippedCatalogue().find("computer-3v3"));
        const auto *board = &withoutClock;
        std::vector<std::string> pins;
        for (const auto &t : board->terminals)
            if (t.role == Role::Pin && t.pwm)
                pins.push_back(t.name);
        std::sort(pins.begin(), pins.end());
        std::mt19937 engine(11);
        for (int i = 0; i < 200; ++i) {
            PinProblem p = onTheBoard({}, {});
            p.board = board;
            for (size_t n = 0; n < 2 + engine() % 3; ++n) {
                auto one = need(("d.X" + std::to_string(n)).c_str(), "", true);
                one.on = pins[engine() % pins.size()];
                one.group = std::string("g") + std::to_string(engine() % 3);
                p.needs.push_back(one);
            }
            int best = -1;
            auto order = pins;
            do {
                int moves = 0;
                bool good = true;
                for (size_t a = 0; a < p.needs.size(); ++a) {
                    moves += order[a] != p.needs[a].on;
                    for (size_t b = 0; b < a; ++b)
                        good &= p.needs[a].group == p.needs[b].group ||
                                board->terminal(order[a])->pwmChannel !=
                                    board->terminal(order[b])->pwmChannel;
                }
                if (good && (best < 0 || moves < best))
                    best = moves;
            } while (std::next_permutation(order.begin(), order.end()));
            const auto plan = planPins(p);
            QCOMPARE(plan.possible(), best >= 0);
            if (best >= 0)
                QCOMPARE(plan.moves, best);
        }
    }
};

BADGER_TEST(TestPlanner)
#include "test_planner.moc"
