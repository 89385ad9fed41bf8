// SPDX-License-Identifier: GPL-3.0-or-later
// Another part that is named was tried, and mends what it is named for.
#include "core/diagnose/all_findings.h"
#include "core/diagnose/diagnose.h"
#include "core/diagnose/verdict.h"
#include "core/edit/fixed_car.h"
#include "core/edit/kit_edits.h"
#include "core/edit/same_job.h"
#include "core/judge/kit_judgement.h"
#include "core/power/feeds.h"
#include "core/power/report.h"
#include "core/wiring/check.h"
#include "support/fixture.h"

#include <cmath>
#include <set>

using namespace badger;

namespace
{

kit::Car exchanged(kit::Car car, const std::string &from, const std::string &to)
{
    for (auto &p : car.parts)
        if (p.partId == from)
            p.partId = to;
    return car;
}

} // namespace

class TestWaysOut final : public QObject
{
    Q_OBJECT
private slots:
    /// On the demo's cars, and on each with every motor, driver and cell of the catalogue: what is
    /// named mends its finding, and nothing new is as severe.
    void whatIsNamedMends()
    {
        using parts::Kind;
        const auto w = test::demo();
        const auto catalogue = io::catalogueOf(w);
        int tried = 0;
        for (const auto &original : w.cars) {
            std::vector<kit::Car> cars = {original};
            for (const auto &other : catalogue.parts())
                if (other.kind == Kind::Motor || other.kind == Kind::Cell)
                    for (const auto &p : original.parts)
                        if (catalogue.find(p.partId)->kind == other.kind) {
                            cars.push_back(exchanged(original, p.partId, other.id));
                            break;
                        }
            for (const auto &car : cars) {
                const kit::Assembly assembly(car, catalogue);
                const auto before = test::allOf(assembly);
                for (const auto &f : before)
                    for (const auto &way : diagnose::waysOut(assembly, f)) {
                        const auto after = test::allOf({edit::applied(assembly, way), catalogue});
                        const auto words =
                            car.name + " " + f.code + " " + english(edit::words(assembly, way));
                        for (const auto &a : after) {
                            QVERIFY2(!diagnose::isSame(a, f) || a.severity > f.severity,
                                     words.c_str());
                            const bool known =
                                std::any_of(before.begin(), before.end(), [&](const Finding &x) {
                                    return diagnose::isSame(x, a);
                                });
                            // Terminals of another part have other names.
                            const auto count = [&](const std::vector<Finding> &all) {
                                return std::count_if(all.begin(), all.end(), [&](const Finding &x) {
                                    return x.code == a.code;
                                });
                            };
                            const bool counted =
                                !way.parts.empty() && count(after) <= count(before);
                            QVERIFY2(a.severity > f.severity || known || counted,
                                     (words + ": " + a.code).c_str());
                        }
                        ++tried;
                    }
            }
        }
        QVERIFY(tried >= 20);
    }

    /// The pack too far back: the shortest way ahead that mends it, and none shorter does.
    void aPackIsMovedNoFartherThanNeeded()
    {
        test::Bench b;
        auto &pack = b.instance("pack");
        QVERIFY(pack.mount.has_value());
        pack.mount->setBack_m = b.car.geometry.length_m;
        const auto codesOf = [&](const kit::Car &car) {
            std::set<std::string> codes;
            for (const auto &f :
                 judge::judgeKit({car, b.catalogue}, std::nullopt).findings.findings)
                codes.insert(f.code);
            return codes;
        };
        int moved = 0;
        for (const auto &f : test::allOf({b.car, b.catalogue}))
            for (const auto &way : diagnose::waysOut({b.car, b.catalogue}, f)) {
                if (way.moves.empty() || !way.parts.empty())
                    continue;
                ++moved;
                const auto &m = way.moves.front();
                QVERIFY(codesOf(edit::applied({b.car, b.catalogue}, way)).count(f.code) == 0);
                for (double less_m = 0.005; less_m < std::abs(m.back_m) - 0.001; less_m += 0.005) {
                    auto shorter = b.car;
                    for (auto &i : shorter.parts)
                        if (i.id == m.instance)
                            i.mount->setBack_m += m.back_m < 0.0 ? -less_m : less_m;
                    auto after = codesOf(shorter);
                    QVERIFY2(after.count(f.code) == 1 || after != codesOf(b.car),
                             (f.code + " " + std::to_string(less_m)).c_str());
                }
            }
        QVERIFY(moved > 0);
    }

    /// A fuse goes between the pack and all that hung on it, and gets a place that was free.
    void aFuseGoesIntoTheLead()
    {
        test::Bench b;
        const kit::Assembly car(b.car, b.catalogue);
        const auto all = test::allOf(car);
        const auto *missing = test::find(all, "fuse-missing");
        QVERIFY(missing);
        const auto ways = diagnose::waysOut(car, *missing);
        QCOMPARE(ways.size(), size_t(1));
        QCOMPARE(english(edit::words(car, ways.front())),
                 std::string("one more part: fuse between pack.PLUS and what hangs on it"));
        const auto after = edit::applied(car, ways.front());
        const auto wired = [&](const char *from, const char *to) {
            return std::any_of(after.wires.begin(), after.wires.end(), [&](const kit::Wire &w) {
                return w.from == from && w.to == to && w.colour == "red";
            });
        };
        QVERIFY(wired("pack.PLUS", "fuse.IN") && wired("fuse.OUT", "switch.IN"));
        QVERIFY(!wired("pack.PLUS", "switch.IN"));
        QCOMPARE(after.wires.size(), b.car.wires.size() + 1);
        QVERIFY(after.instance("fuse")->mount.has_value());
        // What the kit says of the feeds follows the wires: the fuse carries what the switch does.
        QVERIFY(power::disputedFeeds({after, b.catalogue}).empty());
        const auto tree = power::report({after, b.catalogue}).tree;
        const power::State running{kit::Charge::Nominal, power::Load::Running,
                                   power::Case::Typical};
        COMPARE_NEAR(tree.at(tree.indexOf("fuse"), running).amps_A,
                     tree.at(tree.indexOf("switch"), running).amps_A, 1e-6);
        for (const auto &f : test::allOf({after, b.catalogue}))
            QVERIFY2(std::any_of(all.begin(), all.end(),
                                 [&](const Finding &g) { return diagnose::isSame(f, g); }),
                     f.code.c_str());
    }

    /// Four motors stall at 2.7 A, which the fuse of 3 A bears. At worst it is 3.6 A, and one more
    /// thin wire carries that, too, as the lead's one does: the fuse is not to blame.
    void aLeadThatIsThinGetsAFuse()
    {
        const auto w = test::demo();
        const auto catalogue = io::catalogueOf(w);
        auto car = *w.car("Redshank");
        auto wires = car.wires;
        for (const auto *link : {"fuse", "switch"})
            edit::removePart(car, catalogue, link);
        for (const auto &wire : wires)
            if (wire.from == "switch.OUT")
                car.wires.push_back({"pack.PLUS", wire.to, "red", {}});
        QVERIFY(car.wires.size() + 2 == wires.size()); // pack to fuse, fuse to switch
        const auto all = test::allOf({car, catalogue});
        const auto *missing = test::find(all, "fuse-missing");
        QVERIFY(missing);
        QVERIFY(test::find(all, "wire-over-current"));
        QCOMPARE(diagnose::waysOut({car, catalogue}, *missing).size(), size_t(1));
        // One of 2 A may blow.
        auto weak = *catalogue.find("fuse");
        weak.figures["limit_A"] = {2.0, 2.0, 2.0, "test", {}};
        Pieces<parts::Part> own;
        own.push_back(weak);
        QVERIFY(diagnose::waysOut({car, catalogue.with(own)}, *missing).empty());
    }

    /// Each kind of support, at an end of the deck that holds the car up.
    void aSupportIsPutOn()
    {
        test::Bench b;
        edit::removePart(b.car, b.catalogue, "support");
        const kit::Assembly car(b.car, b.catalogue);
        const auto all = test::allOf(car);
        const auto *missing = test::find(all, "support-missing");
        QVERIFY(missing);
        const auto ways = diagnose::waysOut(car, *missing);
        QCOMPARE(ways.size(), size_t(3));
        std::set<std::string> kinds;
        for (const auto &way : ways) {
            const auto after = edit::applied(car, way);
            const auto &put = after.parts.back();
            kinds.insert(put.partId);
            // The mass lies behind the middle of this deck, and the axle 150 mm behind the nose.
            QVERIFY(put.mount && put.mount->setBack_m < 0.15);
            const auto then = test::allOf({after, b.catalogue});
            for (const auto *code : {"support-missing", "car-tips", "car-tips-easily"})
                QVERIFY2(!test::find(then, code), code);
        }
        QCOMPARE(kinds.size(), size_t(3));
    }

    void aWheelThatDoesNotFitIsExchanged()
    {
        test::Bench b;
        for (const auto &p : b.catalogue.parts())
            if (p.kind == parts::Kind::Wheel && p.shape == "spline")
                for (auto &i : b.car.parts)
                    if (b.catalogue.find(i.partId)->kind == parts::Kind::Wheel)
                        i.partId = p.id;
        bool found = false;
        for (const auto &f : test::allOf({b.car, b.catalogue}))
            if (f.code == "wheel-does-not-fit") {
                found = true;
                const auto ways = diagnose::waysOut({b.car, b.catalogue}, f);
                QVERIFY(!ways.empty());
                QVERIFY(english(edit::words({b.car, b.catalogue}, ways.front())).find(" as ") !=
                        std::string::npos);
            }
        QVERIFY(found);
    }

    /// What a mission lacks is put on, under a free name.
    void whatAMissionLacksIsPutOn()
    {
        test::Bench b;
        b.car.wires.clear();
        b.car.mission = kit::Mission{};
        b.car.mission->behaviour = "edge-glide"; // reads a reflectance sensor that the car has not
        bool found = false;
        for (const auto &f : test::allOf({b.car, b.catalogue}))
            if (f.code == "mission-gap")
                for (const auto &way : diagnose::waysOut({b.car, b.catalogue}, f)) {
                    found = true;
                    QVERIFY(way.parts.front().instance.empty());
                    QCOMPARE(edit::applied({b.car, b.catalogue}, way).parts.size(),
                             b.car.parts.size() + 1);
                }
        QVERIFY(found);
    }

    /// Wires of an exchanged driver go to the terminals of the same job, and the wiring has a new
    /// revision.
    void aFixOfWiresMakesARevision()
    {
        test::Bench b;
        Fix fix;
        const auto &w = b.car.wires.front();
        fix.out.push_back({w.from, w.to, w.colour});
        QCOMPARE(edit::applied({b.car, b.catalogue}, fix).wiringRevision, b.car.wiringRevision + 1);
        Fix none;
        QCOMPARE(edit::applied({b.car, b.catalogue}, none).wiringRevision, b.car.wiringRevision);
    }

    /// Whichever two drivers are exchanged, no two terminals of one job become one, and what drove
    /// a channel's output high drives the same output high.
    void driversKeepTheirChannels()
    {
        using parts::Role;
        const auto &catalogue = io::shippedCatalogue();
        int pairs = 0;
        for (const auto &from : catalogue.parts())
            for (const auto &to : catalogue.parts()) {
                if (from.kind != parts::Kind::Driver || to.kind != from.kind)
                    continue;
                ++pairs;
                std::set<std::string> taken;
                for (const auto &t : from.terminals) {
                    const auto now = edit::sameJob(from, t.name, to);
                    const auto *other = to.terminal(now);
                    if (other == nullptr)
                        continue;
                    QCOMPARE(other->role, t.role);
                    QCOMPARE(other->channel, t.channel);
                    QVERIFY2(t.role == Role::Ground || taken.insert(now).second,
                             (from.id + " " + to.id + " " + now).c_str());
                    if (t.role == Role::Direction && !other->output.empty())
                        QCOMPARE(edit::sameJob(from, t.output, to), other->output);
                }
            }
        QVERIFY(pairs >= 25);
    }

    void whatNothingMendsKeepsItsWords()
    {
        const auto w = test::demo();
        const kit::Assembly car(*w.car("Redshank"), io::catalogueOf(w));
        auto findings = judge::judgeKit(car, std::nullopt).findings.findings;
        const auto mended = diagnose::withWaysOut(car, findings);
        QCOMPARE(mended.size(), findings.size());
        bool some = false;
        for (size_t i = 0; i < mended.size(); ++i) {
            if (findings[i].code == "channel-over-peak") {
                some = true;
                QVERIFY(english(mended[i].mend).find("tried on a copy") != std::string::npos);
            } else if (diagnose::waysOut(car, findings[i]).empty()) {
                QVERIFY(mended[i].mend == findings[i].mend);
            }
        }
        QVERIFY(some);
        // Asked to stop at once, it leaves all as they were.
        QVERIFY(diagnose::withWaysOut(car, findings, [] { return true; }) == findings);
    }

    /// A car of many parts has hundreds of findings; what is not tried any more is said.
    void aGreatCarIsNotTriedForMinutes()
    {
        test::Bench b("Avocet");
        for (int i = 0; i < 50; ++i) {
            kit::Instance fitted;
            fitted.partId = i % 3 ? "gear-motor-plastic" : "dual-bridge-module";
            fitted.id = fitted.partId + std::to_string(i);
            fitted.side = i % 2 ? kit::Side::Left : kit::Side::Right;
            b.car.parts.push_back(fitted);
        }
        const kit::Assembly car(b.car, b.catalogue);
        int said = 0;
        for (const auto &f : diagnose::withWaysOut(car, test::allOf(car)))
            said += english(f.mend).find("Not every other part was tried") != std::string::npos;
        QVERIFY(said > 0);
        test::Bench own("Avocet");
        const kit::Assembly small(own.car, own.catalogue);
        for (const auto &f : diagnose::withWaysOut(small, test::allOf(small)))
            QVERIFY(english(f.mend).find("Not every") == std::string::npos);
    }
};

BADGER_TEST(TestWaysOut)
#include "test_ways_out.moc"
