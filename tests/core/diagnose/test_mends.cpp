// SPDX-License-Identifier: GPL-3.0-or-later
// What is offered mends, and does not burn anything.
#include "core/circuit/strain.h"
#include "core/diagnose/diagnose.h"
#include "core/diagnose/verdict.h"
#include "core/edit/fixed_car.h"
#include "core/power/check.h"
#include "core/power/report.h"
#include "core/wiring/check.h"
#include "support/fixture.h"

#include <random>
#include <set>

using namespace badger;
using test::Bench;

namespace
{

const Finding *find(const std::vector<Finding> &all, const std::string &code)
{
    return test::find(all, code);
}

std::vector<Finding> wiresOf(const Bench &b)
{
    return diagnose::wires({b.car, b.catalogue});
}

std::string offered(const Bench &b, const std::string &code)
{
    const auto found = wiresOf(b);
    const auto *f = find(found, code);
    if (f == nullptr)
        return "no such finding";
    return f->fix ? english(edit::words({b.car, b.catalogue}, *f->fix)) : "none";
}

/// Limits that are passed, counted without the checks.
size_t limits(const kit::Car &car, const parts::Catalogue &catalogue)
{
    const kit::Assembly a(car, catalogue);
    const nets::Nets nets(a);
    const circuit::CarNetwork net(nets);
    const auto looked = circuit::look(net);
    return static_cast<size_t>(std::count_if(looked.strains.begin(), looked.strains.end(),
                                             [](const auto &s) { return !s.stalled; }));
}

} // namespace

class TestMends final : public QObject
{
    Q_OBJECT
private slots:
    /// The fault whose mend once was to join ground to the pack's minus, which shorts it.
    void aReversedPackIsTurned()
    {
        Bench b;
        b.turn("pack.PLUS", "pack.MINUS");
        QCOMPARE(offered(b, "pack-backwards"),
                 std::string("Change over what is wired to pack.PLUS and to pack.MINUS."));
    }
    void aPlugTheWrongWayRoundIsTurned()
    {
        Bench b;
        b.turn("ranger.VCC", "ranger.GND");
        QCOMPARE(offered(b, "plug-backwards"),
                 std::string("Change over what is wired to ranger.VCC and to ranger.GND."));
    }
    /// On a car without wires one wire is no fix: it would only turn the question into another.
    void withoutWiresNoWireIsAFix()
    {
        for (const auto &car : test::demo().cars) {
            Bench b(car.name);
            b.car.wires.clear();
            auto found = power::check({b.car, b.catalogue}, power::report({b.car, b.catalogue}));
            for (const auto &f :
                 diagnose::withWaysOut({b.car, b.catalogue}, std::move(found.findings)))
                QVERIFY2(!f.fix || f.fix->in.empty(), (car.name + " " + f.code).c_str());
        }
    }
    void aShortIsTakenOff()
    {
        Bench b;
        b.car.wires.push_back({"board.5V", "board.GND3", "pink"});
        QCOMPARE(offered(b, "supply-to-ground"),
                 std::string("Take off the wire from board.5V to board.GND3."));
        b.car.wires.back() = {"pack.PLUS", "driver.GND", "pink"};
        QCOMPARE(offered(b, "supply-to-ground"),
                 std::string("Take off the wire from pack.PLUS to driver.GND."));
    }
    void aWireGoesBackToWhereOneIsMissing()
    {
        Bench b;
        b.wire("driver.IN1").to = "board.GND3";
        QCOMPARE(offered(b, "signal-held"),
                 std::string("Move the wire's end from board.GND3 to board.D2; its other end stays "
                             "on driver.IN1."));
        Bench c;
        c.wire("ranger.VCC") = {"pack.PLUS", "ranger.VCC", "red"};
        QCOMPARE(offered(c, "supply-outside-window"),
                 std::string("Move the wire's end from pack.PLUS to board.5V; its other end stays "
                             "on ranger.VCC."));
    }
    /// An end that slipped off a motor, off a ground, off a driver's output.
    void aSlippedEndGoesBack()
    {
        const auto slips = [](const char *car, const std::string &stays, const std::string &was,
                              const std::string &to) {
            Bench b(car);
            for (auto &w : b.car.wires)
                for (auto [end, other] : {std::pair(&w.from, &w.to), {&w.to, &w.from}})
                    if (*end == was && *other == stays)
                        *end = to;
            const auto found = diagnose::wires({b.car, b.catalogue});
            return hasError(found) ? english(found.front().mend) : std::string("no error");
        };
        const auto back = [](const std::string &stays, const std::string &was,
                             const std::string &to) {
            return "Move the wire's end from " + to + " to " + was + "; its other end stays on " +
                   stays + ".";
        };
        QCOMPARE(slips("Avocet", "driver.OUT4", "right.A", "board.D4"),
                 back("driver.OUT4", "right.A", "board.D4"));
        QCOMPARE(slips("Redshank", "right-front.A", "driver.OUT14", "board.5V"),
                 back("right-front.A", "driver.OUT14", "board.5V"));
        const auto ground = slips("Turnstone", "pack.MINUS", "driver.GND4", "left-eye.VCC");
        QVERIFY2(ground.starts_with("Move the wire's end from left-eye.VCC to ") &&
                     ground.find("GND") != std::string::npos && // any ground
                     ground.ends_with("; its other end stays on pack.MINUS."),
                 ground.c_str());
    }
    /// A motor's wire on a pin lifts the whole rail: what follows from it is mended with it, not by
    /// a jumper on the enable that gets the rail's volts.
    void whatFollowsIsMendedAtItsRoot()
    {
        Bench b;
        for (auto &w : b.car.wires)
            for (auto *end : {&w.from, &w.to})
                if (*end == "right.A")
                    *end = "board.D4";
        int errors = 0;
        for (const auto &f : diagnose::wires({b.car, b.catalogue})) {
            if (f.severity != Severity::Error)
                continue;
            ++errors;
            QVERIFY2(english(f.mend).find("from board.D4 to right.A") != std::string::npos,
                     english(f.mend).c_str());
            QVERIFY(f.then.size() >= 4);
        }
        QCOMPARE(errors, 1);
    }
    void whatIsMissingIsJoined()
    {
        Bench b;
        b.unwire("ranger.GND");
        const auto words = offered(b, "module-ungrounded");
        QVERIFY2(words.starts_with("Join ranger.GND to ") && words.ends_with(" with a black wire."),
                 words.c_str());
        Bench c("Redshank");
        c.unwire("driver.EN9");
        QVERIFY(offered(c, "enable-floats") != "no such finding");
    }
    /// More current than a thin wire bears is no reason to put one past the fuse.
    void nothingIsPutPastAFuse()
    {
        for (const auto *name : {"Redshank", "Sanderling", "Curlew"}) {
            Bench b(name);
            for (const auto &f : diagnose::wires({b.car, b.catalogue})) {
                if (!f.fix)
                    continue;
                const auto car = edit::applied({b.car, b.catalogue}, *f.fix);
                QVERIFY2(!find(wiring::check({car, b.catalogue}).findings, "link-bypassed"),
                         english(f.mend).c_str());
            }
        }
    }
    /// The regulator's wire hangs on a motor output: nothing is fed from there, though the driver
    /// is dead and it would do no harm yet.
    void nothingIsFedFromAMotorsWires()
    {
        Bench b("Turnstone");
        auto &w = b.wire("regulator.OUT");
        (w.from == "regulator.OUT" ? w.to : w.from) = "driver.OUT3";
        for (const auto &f : diagnose::wires({b.car, b.catalogue})) {
            if (!f.fix)
                continue;
            const auto car = edit::applied({b.car, b.catalogue}, *f.fix);
            const nets::Nets nets({car, b.catalogue});
            for (const auto &in : f.fix->in)
                QVERIFY2(!nets.has(nets.of(in.from), parts::Role::SupplyIn) ||
                             !nets.has(nets.of(in.from), parts::Role::MotorOut),
                         english(f.mend).c_str());
        }
    }
    /// What is wrong at the servo is not mended by taking the driver's supply away.
    void noOtherPartLosesItsSupply()
    {
        Bench b("Curlew");
        auto &w = b.wire("servo.VCC");
        (w.from == "servo.VCC" ? w.to : w.from) = "driver.BO1";
        for (const auto &f : diagnose::wires({b.car, b.catalogue}))
            if (f.fix)
                for (const auto &out : f.fix->out)
                    QVERIFY2(out.from != "driver.VM" && out.to != "driver.VM",
                             english(f.mend).c_str());
    }
    /// A jumper beside a wire would join what is wired there to the rail.
    void aJumperTakesThePlaceOfAWire()
    {
        Bench b;
        b.wire("driver.ENA").to = "board.GND3";
        b.car.programPins.erase("driver.ENA");
        const auto found = diagnose::wires({b.car, b.catalogue});
        for (const auto &f : found)
            if (f.fix && !f.fix->jumpers.empty())
                QVERIFY2(!f.fix->out.empty(), english(f.mend).c_str());
    }
    /// Ten cells on the module's regulator, four on the jack: a number of cells that was tried.
    void cellsAreTried()
    {
        const auto offeredFor = [](int cells, const char *code) {
            Bench b;
            b.instance("pack").cellsInSeries = cells;
            const kit::Assembly car(b.car, b.catalogue);
            auto found = power::check(car, power::report(car)).findings;
            std::erase_if(found, [](const Finding &f) { return f.severity == Severity::Advice; });
            for (const auto &f : found)
                for (const auto &way : diagnose::waysOut(car, f)) {
                    if (f.code != code || way.cells.empty())
                        continue;
                    // What is offered was tried: nothing of the kind is left.
                    const auto after = edit::applied(car, way);
                    const kit::Assembly mended(after, b.catalogue);
                    const auto now = power::check(mended, power::report(mended)).findings;
                    const auto *left = find(now, code);
                    return left && left->severity != Severity::Advice
                               ? std::string("it stays")
                               : english(edit::words(car, way));
                }
            return std::string("nothing");
        };
        QCOMPARE(offeredFor(10, "regulator-over-volts"),
                 std::string("Put 8 cells into pack, not 10."));
        const auto few = offeredFor(4, "supply-outside-window");
        QVERIFY2(few == "Put 6 cells into pack, not 4.", few.c_str());
    }
    void anOpenSwitchIsJoinedBehindTheFuse()
    {
        Bench b("Curlew");
        b.unwire("switch.IN");
        const auto words = offered(b, "module-unpowered");
        QVERIFY2(words == "Join switch.IN to fuse.OUT with a red wire.", words.c_str());
        Bench c; // no fuse on this one
        c.unwire("switch.IN");
        QCOMPARE(offered(c, "module-unpowered"),
                 std::string("Join switch.IN to pack.PLUS with a red wire."));
    }
    void pinsMoveAsPlanned()
    {
        Bench b("Curlew");
        QCOMPARE(offered(b, "pwm-taken-by-servo"),
                 std::string("Move ranger.ECHO from board.D11 to board.D10. Move driver.BIN2 from "
                             "board.D10 to board.D11. The program's pins follow."));
    }
    void leadsAreChangedOver()
    {
        Bench b("Redshank");
        b.turn("left-front.A", "left-front.B");
        const auto words = offered(b, "motors-fight");
        QVERIFY2(words.starts_with("Change over what is wired to "), words.c_str());
    }

    /// Every fix that is offered for any slip of a hand stands the same test again here: made on a
    /// copy, the finding is gone, nothing new is as severe, no more limits are passed.
    void noOfferBurnsAnything()
    {
        std::mt19937 random(5);
        int offers = 0;
        for (int n = 0; n < 60; ++n) {
            const auto names = std::vector<std::string>{"Avocet",    "Curlew",   "Dunlin",
                                                        "Turnstone", "Redshank", "Ruff"};
            Bench b(names[random() % names.size()]);
            std::vector<std::string> ends;
            for (const auto &w : b.car.wires)
                ends.insert(ends.end(), {w.from, w.to});
            const auto any = [&] { return ends[random() % ends.size()]; };
            auto &w = b.car.wires[random() % b.car.wires.size()];
            if (random() % 2 == 0)
                (random() % 2 == 0 ? w.from : w.to) = any();
            else
                b.car.wires.push_back({any(), any(), "pink"});
            const auto before = diagnose::verdictOf({b.car, b.catalogue}, diagnose::Of::Wires);
            for (const auto &f : wiresOf(b)) {
                if (f.severity != Severity::Error || !f.fix)
                    continue;
                ++offers;
                const auto car = edit::applied({b.car, b.catalogue}, *f.fix);
                const auto what = english(f.what) + " " + english(f.mend);
                QVERIFY2(limits(car, b.catalogue) <= limits(b.car, b.catalogue), what.c_str());
                const auto after = diagnose::verdictOf({car, b.catalogue}, diagnose::Of::Wires);
                QVERIFY2(after.count(Severity::Error) < before.count(Severity::Error),
                         what.c_str());
            }
        }
        QVERIFY(offers > 30);
    }
};

BADGER_TEST(TestMends)
#include "test_mends.moc"
