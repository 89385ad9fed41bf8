// SPDX-License-Identifier: GPL-3.0-or-later
// Another part that is named was tried, and mends what it is named for.
#include "core/edit/swaps.h"
#include "core/judge/kit_judgement.h"
#include "core/wiring/check.h"
#include "support/fixture.h"

#include <set>

using namespace badger;

namespace
{

std::vector<Finding> allOf(const kit::Assembly &car)
{
    auto all = judge::judgeKit(car, std::nullopt).findings.findings;
    if (!car->wires.empty())
        for (auto &f : wiring::check(car).findings)
            all.push_back(std::move(f));
    return all;
}

kit::Car exchanged(kit::Car car, const std::string &from, const std::string &to)
{
    for (auto &p : car.parts)
        if (p.partId == from)
            p.partId = to;
    return car;
}

} // namespace

class TestSwaps final : public QObject
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
                const auto before = allOf(assembly);
                for (const auto &f : before)
                    for (const auto &swap : edit::swapsFor(assembly, f)) {
                        const auto after = allOf({edit::applied(assembly, swap), catalogue});
                        std::set<std::pair<std::string, std::string>> known;
                        for (const auto &b : before)
                            known.insert({b.code, b.target});
                        for (const auto &a : after) {
                            QVERIFY2(a.code != f.code || a.target != f.target ||
                                         a.severity > f.severity,
                                     (car.name + " " + f.code + " " + swap.part).c_str());
                            QVERIFY2(a.severity > f.severity ||
                                         known.count({a.code, a.target}) != 0,
                                     (car.name + " " + f.code + " " + swap.part + ": " + a.code)
                                         .c_str());
                        }
                        ++tried;
                    }
            }
        }
        QVERIFY(tried >= 20);
    }

    void whatNothingMendsKeepsItsWords()
    {
        const auto w = test::demo();
        const kit::Assembly car(*w.car("Redshank"), io::catalogueOf(w));
        auto findings = judge::judgeKit(car, std::nullopt).findings.findings;
        const auto mended = edit::withSwaps(car, findings);
        QCOMPARE(mended.size(), findings.size());
        bool some = false;
        for (size_t i = 0; i < mended.size(); ++i) {
            if (findings[i].code == "channel-over-peak") {
                some = true;
                QVERIFY(english(mended[i].mend).find("tried on a copy") != std::string::npos);
            } else if (edit::swapsFor(car, findings[i]).empty()) {
                QVERIFY(mended[i].mend == findings[i].mend);
            }
        }
        QVERIFY(some);
        // Asked to stop at once, it leaves all as they were.
        QVERIFY(edit::withSwaps(car, findings, [] { return true; }) == findings);
    }
};

BADGER_TEST(TestSwaps)
#include "test_swaps.moc"
