// SPDX-License-Identifier: GPL-3.0-or-later
// The harness that kit and program ask for.
#include "bench/campaign/facts.h"
#include "core/base/noise.h"
#include "core/motion/motion.h"
#include "core/nets/drive_map.h"
#include "core/wireup/proposal.h"
#include "support/kits.h"

using namespace badger;
using namespace badger::wireup;
using parts::Kind;
using parts::Role;
using test::Bench;
using test::Kit;

namespace
{

const std::vector<std::string> kitNames = {"Stop ahead",      "Look both ways",   "Three rangers",
                                           "Straddle a line", "Glide on an edge", "Keep a lane",
                                           "No board",        "Two servos"};

QByteArray wordsOf(const Proposal &p)
{
    std::string text = p.impossible ? "impossible: " + english(p.impossible->why) : "";
    for (const auto &f : p.left)
        text += f.code + " " + english(f.where) + ": " + english(f.what) + "\n";
    for (const auto &w : p.wrong)
        text += "wrong: " + english(w.what) + "\n";
    return QByteArray::fromStdString(text);
}

/// Read off the solved network by code that shares nothing with the checks: no limit is passed, no
/// part hangs without ground, nothing is on a serial pin, no input floats, and the wheels can turn.
void isHarmless(const kit::Car &car, const parts::Catalogue &catalogue, const char *what)
{
    const nets::Nets nets({car, catalogue});
    const circuit::CarNetwork network(nets);
    const auto facts = campaign::factsOf(network, campaign::drivingPatterns(network));
    QVERIFY2(facts.solved, what);
    for (const auto *list : {&facts.over, &facts.under})
        for (const auto &limit : *list)
            QFAIL((what + (": " + limit)).c_str());
    QVERIFY2(facts.apart.empty() && facts.serial.empty() && facts.open.empty(), what);
    const kit::Assembly assembly(car, catalogue);
    QVERIFY2(assembly.first(Kind::Motor) == nullptr || facts.repertoire.size() > 1, what);
}

/// The same conductors, by whatever wires.
bool sameConductors(const kit::Car &a, const kit::Car &b, const parts::Catalogue &catalogue)
{
    const nets::Nets na({a, catalogue});
    const nets::Nets nb({b, catalogue});
    for (const auto &x : na.all())
        for (const auto &y : na.all()) {
            // Which pin serves may differ; what no wire ends at does not count.
            const bool pin = x.terminal->role == Role::Pin || y.terminal->role == Role::Pin;
            const bool rail = x.part->kind == Kind::Rail || y.part->kind == Kind::Rail;
            if (!pin && !rail && nb.member(x.name) && nb.member(y.name) &&
                (x.net == y.net) != (nb.of(x.name) == nb.of(y.name)))
                return false;
        }
    return true;
}

size_t count(const Proposal &p, const std::string &from, const std::string &to)
{
    return static_cast<size_t>(std::count_if(p.wires.begin(), p.wires.end(), [&](const NewWire &w) {
        return (w.wire.from == from && w.wire.to == to) || (w.wire.from == to && w.wire.to == from);
    }));
}

bool names(const std::vector<WrongWire> &all, const kit::Wire &wire)
{
    return std::any_of(all.begin(), all.end(), [&](const WrongWire &w) { return w.wire == wire; });
}

} // namespace

class TestProposal final : public QObject
{
    Q_OBJECT
private slots:
    void everyKitIsWiredWhole()
    {
        for (const auto &name : kitNames) {
            const Kit kit(name);
            const auto catalogue = kit.catalogue();
            const auto p = proposal(kit.car, catalogue);
            QVERIFY2(p.complete() && !p.wires.empty(), name.c_str());
            QVERIFY2(p.left.empty(), wordsOf(p));
            isHarmless(p.car, catalogue, name.c_str());
            const auto table = motion::motion({p.car, catalogue});
            QVERIFY2(motion::rowFor(table, motion::Path::Ahead), name.c_str());
            for (const auto &terminal : nets::boardSignals(nets::Nets({p.car, catalogue})))
                QVERIFY2(p.car.programPins.count(terminal) == 1, terminal.c_str());
            for (const auto &w : p.wires)
                QVERIFY2(!w.wire.colour.empty() && !w.why.empty() &&
                             p.car.instance(w.module) != nullptr,
                         w.wire.from.c_str());
            // And then there is nothing left to do.
            const auto again = proposal(p.car, catalogue);
            QVERIFY2(again.empty() && again.complete() && again.car == p.car, name.c_str());
        }
    }

    /// Every board that can carry a kit: a harness without a finding about its wires, or a proof.
    void everyBoardThatCanCarryIt()
    {
        int wired = 0;
        for (const auto &name : kitNames)
            for (const auto *board : {"board-5v-8bit", "board-5v-8bit-narrow", "chip-14-pin",
                                      "computer-3v3", "controller-ports"}) {
                Kit kit(name);
                const auto catalogue = kit.catalogue();
                if (kit.car.instance("board") == nullptr)
                    continue;
                edit::exchangePart(kit.car, catalogue, "board", board);
                const auto p = proposal(kit.car, catalogue);
                const auto what = name + " with " + board;
                if (p.impossible) {
                    QVERIFY2(!p.impossible->why.empty() && !p.impossible->frees.empty(),
                             what.c_str());
                    QVERIFY(p.car == kit.car);
                    continue;
                }
                ++wired;
                // Whether the source is strong enough for this board is the kit's business.
                for (const auto &f : p.left)
                    QVERIFY2(f.evidence || f.code == "mission-gap", (what + ": " + f.code).c_str());
                QVERIFY2(motion::rowFor(motion::motion({p.car, catalogue}), motion::Path::Ahead),
                         what.c_str());
            }
        QVERIFY2(wired >= 14, qPrintable(QString::number(wired)));
    }

    /// Any part of a harness is completed to the same conductors, and stays where it is.
    void halfDrawnHarnessesAreCompleted()
    {
        Noise noise(17);
        for (int round = 0; round < 60; ++round) {
            const Kit kit(kitNames[size_t(round) % kitNames.size()]);
            const auto catalogue = kit.catalogue();
            const auto whole = proposal(kit.car, catalogue).car;
            auto half = whole;
            const double share = 0.2 + 0.7 * noise.uniform();
            std::erase_if(half.wires, [&](const auto &) { return noise.uniform() > share; });
            half.programPins.clear();
            const auto p = proposal(half, catalogue);
            QVERIFY2(p.complete(), wordsOf(p));
            QVERIFY(p.left.empty());
            QVERIFY(std::equal(half.wires.begin(), half.wires.end(), p.car.wires.begin()));
            QVERIFY2(sameConductors(whole, p.car, catalogue),
                     kitNames[size_t(round) % kitNames.size()].c_str());
            QVERIFY(p.car.wires.size() <= whole.wires.size() + 1);
        }
    }

    void aWrongWireIsNamedAndKept_data()
    {
        QTest::addColumn<QString>("before");
        QTest::addColumn<QString>("from");
        QTest::addColumn<QString>("to");
        const auto row = [](const char *name, const char *before, const char *from,
                            const char *to) {
            QTest::newRow(name) << QString(before) << QString(from) << QString(to);
        };
        // Which wire's end was put elsewhere, by its first end.
        row("trigger to ground", "ranger.TRIG", "ranger.TRIG", "board.GND3");
        row("signal to the rail", "ranger.ECHO", "ranger.ECHO", "board.5V");
        row("supply on an input", "switch.OUT", "switch.OUT", "driver.IN2");
        row("pack past the switch", "switch.OUT", "pack.PLUS", "driver.VS");
        row("ground on a pin", "driver.IN1", "pack.MINUS", "board.D2");
        row("motor on a pin", "driver.OUT1", "driver.OUT1", "board.D9");
        row("pack on a pin", "pack.PLUS", "pack.PLUS", "board.D9");
        row("outputs joined", "driver.OUT1", "driver.OUT1", "left.B");
        row("no PWM", "driver.ENA", "driver.ENA", "board.D12");
        row("serial", "ranger.TRIG", "ranger.TRIG", "board.D1");
        row("two on a pin", "ranger.TRIG", "ranger.TRIG", "board.D2");
        row("two pins", "ranger.TRIG", "board.D12", "board.D13");
    }
    void aWrongWireIsNamedAndKept()
    {
        QFETCH(QString, before);
        QFETCH(QString, from);
        QFETCH(QString, to);
        const Kit kit;
        const auto catalogue = kit.catalogue();
        const auto whole = proposal(kit.car, catalogue).car;
        auto car = whole;
        car.programPins.clear();
        const auto it = std::find_if(car.wires.begin(), car.wires.end(), [&](const kit::Wire &w) {
            return w.from == before.toStdString();
        });
        QVERIFY(it != car.wires.end());
        it->from = from.toStdString();
        it->to = to.toStdString();
        const auto wrong = *it;
        const auto p = proposal(car, catalogue);
        QVERIFY2(names(p.wrong, wrong), wordsOf(p));
        QVERIFY(!p.complete());
        QVERIFY(std::equal(car.wires.begin(), car.wires.end(), p.car.wires.begin()));
        // Once it is off, the rest is completed.
        std::erase(car.wires, wrong);
        const auto mended = proposal(car, catalogue);
        QVERIFY2(mended.complete() && mended.left.empty(), wordsOf(mended));
        QVERIFY(sameConductors(whole, mended.car, catalogue));
    }

    /// What may be wired otherwise than the kit thinks is no fault.
    void otherWaysAreNotWrong()
    {
        Kit kit;
        const auto catalogue = kit.catalogue();
        kit.car.wires = {{"board.5V", "driver.ENA", "red", {}},      // full speed by hand
                         {"driver.5V", "ranger.VCC", "red", {}},     // the driver's own rail
                         {"driver.OUT2", "left.A", "red", {}},       // turned: the program follows
                         {"board.GND2", "driver.GND", "black", {}}}; // ground in another order
        const auto p = proposal(kit.car, catalogue);
        QVERIFY2(p.wrong.empty(), wordsOf(p));
        QVERIFY2(p.complete(), wordsOf(p));
        QCOMPARE(count(p, "driver.OUT1", "left.B"), size_t(1));
        QVERIFY(p.car.programPins.count("driver.ENA") == 0);
    }

    void theProgramsPinsAreTaken()
    {
        Kit kit;
        kit.car.programPins = {{"ranger.TRIG", "A2"}, {"driver.ENA", "D12"}, {"driver.IN1", "D9"}};
        const auto p = proposal(kit.car, kit.catalogue());
        QCOMPARE(count(p, "ranger.TRIG", "board.A2"), size_t(1));
        QCOMPARE(count(p, "driver.IN1", "board.D9"), size_t(1));
        QVERIFY(p.car.programPins.at("driver.ENA") != "D12"); // it has no PWM, and that is said
        QVERIFY(std::any_of(p.noted.begin(), p.noted.end(), [](const Say &s) {
            return english(s).find("no longer D12") != std::string::npos;
        }));
    }

    /// A module that is low over light holds its wheel the other way round.
    void modulesThatAreLowOverLight()
    {
        Kit kit("No board");
        for (const auto *eye : {"left-eye", "right-eye"})
            kit.part(eye).partId = "infrared-light-low";
        const auto catalogue = kit.catalogue();
        const auto p = proposal(kit.car, catalogue);
        QVERIFY2(p.complete() && p.left.empty(), wordsOf(p));
        const auto table = motion::motion({p.car, catalogue});
        const auto *ahead = motion::rowFor(table, motion::Path::Ahead);
        QVERIFY(ahead != nullptr);
        for (size_t i = 0; i < table.inputs.size(); ++i)
            QCOMPARE(table.inputs[i].levelName(ahead->levels[i]), std::string("light"));
        QVERIFY(motion::rowFor(table, motion::Path::PivotLeft) != nullptr);
        QCOMPARE(std::count_if(p.parts.begin(), p.parts.end(),
                               [](const Brought &b) { return b.partId == "pull-down-10k"; }),
                 std::ptrdiff_t(2));
    }

    /// A small resistor that lies about is no pull-down: it would load what drives the input.
    void aSmallResistorIsLeftAlone()
    {
        Kit kit("No board");
        const auto id = kit.fit("resistor-330").id;
        const auto p = proposal(kit.car, kit.catalogue());
        QVERIFY2(p.complete() && p.left.empty(), wordsOf(p));
        for (const auto &w : p.wires)
            QVERIFY(!w.wire.from.starts_with(id + ".") && !w.wire.to.starts_with(id + "."));
    }

    /// Parts that were taken from the catalogue one by one say little; the rest is said for them.
    void whatThePartsDoNotSay()
    {
        Kit kit("Look both ways");
        kit.part("switch").feeds.clear();
        kit.part("fuse").feeds.clear();
        for (const auto *id : {"driver", "board"})
            kit.part(id).feeds = {{id == std::string("driver") ? "VM" : "VIN", "pack.PLUS", {}}};
        kit.part("servo").feeds.clear();
        kit.part("ranger").feeds.clear();
        kit.part("left").drivenBy.clear();
        kit.fit("led-red");
        const auto p = proposal(kit.car, kit.catalogue());
        QVERIFY2(p.complete() && p.left.empty(), wordsOf(p));
        QCOMPARE(count(p, "pack.PLUS", "fuse.IN"), size_t(1));
        QCOMPARE(count(p, "fuse.OUT", "switch.IN"), size_t(1));
        QCOMPARE(count(p, "switch.OUT", "board.VIN"), size_t(1));
        QCOMPARE(count(p, "servo-pack.PLUS", "servo.VCC"), size_t(1)); // not on the board's rail
        QVERIFY(p.car.instance("led")->resistor_ohm.value_or(0.0) > 100.0);
        QVERIFY(p.noted.size() >= 5);
    }

    /// 5 V of a ranger are too many for the pins of a 3.3 V computer.
    void dividersAreBrought()
    {
        Bench b("Whimbrel");
        b.car.wires.clear();
        b.car.programPins.clear();
        const auto p = proposal(b.car, b.catalogue);
        QVERIFY2(p.complete(), wordsOf(p));
        QCOMPARE(std::count_if(p.parts.begin(), p.parts.end(),
                               [](const Brought &x) { return x.partId == "divider-1k-2k"; }),
                 std::ptrdiff_t(1));
        QCOMPARE(count(p, "ranger.ECHO", "divider.IN"), size_t(1));
        QVERIFY(std::none_of(p.left.begin(), p.left.end(),
                             [](const Finding &f) { return f.code == "signal-over-volts"; }));
        // The wire to the divider and the one behind it carry one signal: one colour.
        std::set<std::string> colours;
        for (const auto &w : p.wires)
            if (w.wire.from == "divider.OUT" || w.wire.from == "divider.IN" ||
                w.wire.to == "divider.IN")
                colours.insert(w.wire.colour);
        QCOMPARE(colours.size(), size_t(1));
    }

    void whereThereIsNone()
    {
        const auto refused = [](const kit::Car &car, const parts::Catalogue &catalogue,
                                const char *says) {
            const auto p = proposal(car, catalogue);
            QVERIFY2(p.impossible, says);
            QVERIFY2(english(p.impossible->why).find(says) != std::string::npos, wordsOf(p));
            QVERIFY(!p.impossible->frees.empty());
            QVERIFY(p.car == car && p.wires.empty() && p.parts.empty());
        };
        // A buzzer's tones and a servo leave four PWM pins: one motor line more is too many.
        Kit many("Look both ways");
        many.fit("buzzer");
        refused(many.car, many.catalogue(), "need PWM");
        // Three rangers and a servo on the bare chip.
        Kit chip("Three rangers");
        chip.fit("regulator-5v");
        edit::exchangePart(chip.car, chip.catalogue(), "board", "chip-14-pin");
        refused(chip.car, chip.catalogue(), "need a pin");
        // Parts without terminals, without a source, without a board and without a driver.
        Kit bare;
        bare.bend("ranger-4-pin").terminals.clear();
        bare.part("ranger").feeds.clear();
        refused(bare.car, bare.catalogue(), "no terminals");
        Kit weak("Keep a lane");
        for (const auto *id : {"pack", "fuse", "switch"})
            weak.take(id);
        refused(weak.car, weak.catalogue(), "feeds");
        Kit blind;
        blind.take("board");
        refused(blind.car, blind.catalogue(), "without a board");
        refused(kit::Car{}, many.catalogue(), "no part");
        Kit idle;
        idle.take("driver");
        refused(idle.car, idle.catalogue(), "no channel");
    }

    /// Wires that are right by themselves and leave no map: which to move is the first way out.
    void wiresThatTakeTheLastPin()
    {
        Kit kit("Look both ways"); // four PWM lines, a servo: D3, D5, D6, D11
        const auto catalogue = kit.catalogue();
        kit.car.wires = {{"ranger.TRIG", "board.D5", "grey", {}}};
        const auto p = proposal(kit.car, catalogue);
        QVERIFY(p.impossible && !p.impossible->frees.empty());
        QCOMPARE(english(p.impossible->frees.front().what).substr(0, 29),
                 std::string("move ranger.TRIG from D5 to D"));
    }

    void twoBoards()
    {
        Kit kit;
        kit.fit("board-5v-8bit-narrow");
        const auto catalogue = kit.catalogue();
        const auto p = proposal(kit.car, catalogue);
        QVERIFY2(p.complete(), wordsOf(p));
        // The second is fed and grounded, and serves no signal.
        const nets::Nets nets({p.car, catalogue});
        QVERIFY(nets.wired("board-2.VIN"));
        QVERIFY(nets.of("board-2.GND1") == nets.of("pack.MINUS"));
        for (const auto &w : p.wires)
            QVERIFY(w.wire.to.find("board-2.D") == std::string::npos);
    }

    void moduleByModuleAndWireByWire()
    {
        const Kit kit("Three rangers");
        const auto catalogue = kit.catalogue();
        const auto whole = proposal(kit.car, catalogue);
        // One module, with the wires by which it reaches its supply.
        const auto one = moduleOf(whole, catalogue, "ahead");
        QCOMPARE(one.parts.size(), size_t(1)); // the rail that it hangs on
        QCOMPARE(count(one, "board.5V", "rail.PLUS"), size_t(1));
        QVERIFY(one.wires.size() >= 5 && one.wires.size() <= 7);
        QVERIFY(one.car.programPins.count("ahead.TRIG") == 1);
        QVERIFY(one.car.programPins.count("left-ranger.TRIG") == 0);
        const auto motor = moduleOf(whole, catalogue, "left");
        QCOMPARE(motor.wires.size(), size_t(2));
        QVERIFY(motor.parts.empty() && motor.car.instance("rail") == nullptr);
        // All modules in turn come to the whole; so do its wires one by one.
        auto car = kit.car;
        for (const auto &i : kit.car.parts) {
            const auto p = proposal(car, catalogue);
            car = moduleOf(p, catalogue, i.id).car;
        }
        auto p = proposal(car, catalogue);
        QVERIFY(p.wires.empty());
        QVERIFY(sameConductors(whole.car, car, catalogue));
        car = kit.car;
        size_t steps = 0;
        for (p = proposal(car, catalogue); !p.wires.empty(); p = proposal(car, catalogue)) {
            car = firstOf(p, catalogue, 1).car;
            QVERIFY(++steps < 60);
        }
        QCOMPARE(steps, whole.wires.size());
        QVERIFY(sameConductors(whole.car, car, catalogue));
    }
};

BADGER_TEST(TestProposal)
#include "test_proposal.moc"
