// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/kit/balance.h"
#include "core/kit/check.h"
#include "support/kits.h"

using namespace badger;
using test::Kit;

namespace
{

/// A car of two masses and a support, so that the moments can be taken by hand.
kit::Car lever(double packAhead_m)
{
    kit::Car car;
    car.name = "Lever";
    car.geometry = {0.2, 0.15, 0.13, 0.15, {}, 0.0, 0.0, {}};
    const auto add = [&](const char *id, const char *part, std::optional<double> ahead_m) {
        kit::Instance i;
        i.id = id;
        i.partId = part;
        if (ahead_m)
            i.mount = kit::Mount{car.geometry.axleToNose_m - *ahead_m};
        car.parts.push_back(i);
        return &car.parts.back();
    };
    add("board", "board-5v-8bit", 0.05); // 25 g
    auto *pack = add("pack", "cell-nimh", packAhead_m);
    pack->cellsInSeries = 5; // 135 g
    pack->cellsInParallel = 1;
    add("support", "skid", 0.10); // 5 g
    return car;
}

} // namespace

class TestBalance final : public QObject
{
    Q_OBJECT
private slots:
    void byHand()
    {
        const auto &c = io::shippedCatalogue();
        const auto b = kit::balance({lever(0.02), c});
        COMPARE_NEAR(b.mass_kg, 0.165, 1e-9);
        // (25 x 50 + 135 x 20 + 5 x 100) / 165 mm
        COMPARE_NEAR(b.centre.x_m, (25 * 0.05 + 135 * 0.02 + 5 * 0.1) / 165, 1e-9);
        COMPARE_NEAR(*b.axleShare, 1.0 - b.centre.x_m / 0.10, 1e-9);
        QVERIFY(b.rearmost_m == b.foremost_m);
    }

    void tips()
    {
        const auto &c = io::shippedCatalogue();
        const auto found = [&](double ahead_m) {
            return kit::checkBuild({lever(ahead_m), c}).findings;
        };
        QVERIFY(test::find(found(-0.03), "car-tips")->severity == Severity::Error);
        QVERIFY(!test::find(found(0.02), "car-tips"));
        QVERIFY(test::find(found(-0.01), "car-tips-easily"));
        QVERIFY(test::find(found(0.06), "axle-light"));
        // Beyond the support is tipping, too.
        QVERIFY(test::find(found(0.14), "car-tips"));
    }

    void unknownPlaceWidens()
    {
        const auto &c = io::shippedCatalogue();
        auto car = lever(0.02);
        car.parts[1].mount.reset();
        const auto b = kit::balance({car, c});
        QCOMPARE(b.withoutPlace, std::vector<std::string>{"pack"});
        QVERIFY(b.rearmost_m < b.centre.x_m && b.centre.x_m < b.foremost_m);
        COMPARE_NEAR(b.foremost_m - b.rearmost_m, 0.2 * 135 / 165, 1e-9); // nose to tail
        const auto found = kit::checkBuild({car, c}).findings;
        QVERIFY(test::find(found, "place-unknown") && test::find(found, "car-may-tip"));
    }

    void unknownMassIsNamed()
    {
        Kit k;
        k.forget("board-5v-8bit", "mass_kg");
        const auto b = kit::balance({k.car, k.catalogue()});
        QCOMPARE(b.withoutMass, std::vector<std::string>{"board"});
        QVERIFY(test::find(kit::checkBuild({k.car, k.catalogue()}).findings, "mass-unknown"));
    }

    void massOfACar()
    {
        // 6 x 27 + 4 + 5 + 30 + 25 + 2 x 29 + 2 x 35 + 5 + 9 g and the deck of 31.5 dm2 x 3.5 kg/m2
        const Kit k;
        const auto b = kit::balance({k.car, k.catalogue()});
        COMPARE_NEAR(b.mass_kg,
                     0.162 + 0.004 + 0.005 + 0.030 + 0.025 + 0.058 + 0.070 + 0.005 + 0.009 +
                         0.21 * 0.15 * 3.5,
                     1e-9);
        QVERIFY(b.low_kg < b.mass_kg && b.mass_kg < b.high_kg);
        QVERIFY(b.withoutMass.empty() && b.withoutPlace.empty());
        const auto why = kit::whyBalance({k.car, k.catalogue()});
        QVERIFY(english(why.result).ends_with(" %"));
        QVERIFY(why.steps.size() > 10);
    }

    void placesFollowTheirCarriers()
    {
        Kit k("Look both ways");
        const auto c = k.catalogue();
        QVERIFY(*kit::placeOf({k.car, c}, k.part("ranger")) ==
                *kit::placeOf({k.car, c}, k.part("servo")));
        // Motors sit inside of the wheels, mirrored.
        const auto left = *kit::placeOf({k.car, c}, k.part("left"));
        const auto right = *kit::placeOf({k.car, c}, k.part("right"));
        COMPARE_NEAR(left.y_m, -right.y_m, 1e-12);
        QVERIFY(left.y_m > 0.0 && left.y_m < 0.065);
        // Two that carry each other sit nowhere.
        k.part("servo").mount.reset();
        k.part("servo").carriedBy = "ranger";
        QVERIFY(!kit::placeOf({k.car, c}, k.part("ranger")));
    }

    void outsideTheCar()
    {
        Kit k;
        k.part("switch").mount->offset_m = 0.12;
        const auto found = kit::checkBuild({k.car, k.catalogue()}).findings;
        QVERIFY(english(test::find(found, "part-outside-car")->where) == "switch");
    }

    void twoPartsOnOnePlace()
    {
        Kit k;
        QVERIFY(!test::find(kit::checkBuild({k.car, k.catalogue()}).findings, "parts-overlap"));
        k.part("driver").mount = k.part("board").mount;
        const auto found = kit::checkBuild({k.car, k.catalogue()}).findings;
        const auto *f = test::find(found, "parts-overlap");
        QVERIFY(f && f->severity == Severity::Advice);
        QVERIFY(english(f->where).find("driver") != std::string::npos);
    }

    void wheelBore()
    {
        Kit k;
        k.part("wheel").partId = "wheel-43mm"; // D 3 mm on a double-D of 5.4 mm
        auto found = kit::checkBuild({k.car, k.catalogue()}).findings;
        const auto *f = test::find(found, "wheel-does-not-fit");
        QVERIFY(f && f->severity == Severity::Error);
        QVERIFY(english(f->mend).find("65 mm wheel") != std::string::npos);
        // Right shape, too loose.
        k.part("wheel").partId = "wheel-65mm";
        k.set("wheel-65mm", "bore_m", 0.0057);
        QVERIFY(test::find(kit::checkBuild({k.car, k.catalogue()}).findings, "wheel-does-not-fit"));
        QVERIFY(
            !test::find(kit::checkBuild({Kit().car, k.catalogue()}).findings, "support-missing"));
    }

    void casterAndNoSupport()
    {
        const auto w = test::demo();
        const auto &c = io::shippedCatalogue();
        QVERIFY(test::find(kit::checkBuild({*w.car("Godwit"), c}).findings, "caster-carries"));
        Kit k;
        k.take("support");
        QVERIFY(test::find(kit::checkBuild({k.car, c}).findings, "support-missing"));
        // Four driven wheels need none.
        QVERIFY(!test::find(kit::checkBuild({*w.car("Redshank"), c}).findings, "support-missing"));
    }

    void sheetsOfRoundDecks()
    {
        kit::Geometry g{0.2, 0.15, 0.13, 0.15, kit::DeckShape::Disc, 0.075, 0.0, {}};
        COMPARE_NEAR(kit::deckArea_m2(g), 3.14159265 * 0.075 * 0.075, 1e-9);
        g.deck = kit::DeckShape::TwoDiscs;
        COMPARE_NEAR(kit::deckArea_m2(g), 2 * 3.14159265 * 0.075 * 0.075, 1e-9);
        g.deck = kit::DeckShape::Rectangle;
        COMPARE_NEAR(kit::deckArea_m2(g), 0.03, 1e-12);
    }

    /// Two discs that touch, as long as the car; that do not touch; of another length.
    void twoDiscsMakeOneDeck()
    {
        Kit k;
        const auto severity = [&](double r_m, double apart_m, double length_m) {
            k.car.geometry.deck = kit::DeckShape::TwoDiscs;
            k.car.geometry.discRadius_m = r_m;
            k.car.geometry.discsApart_m = apart_m;
            k.car.geometry.length_m = length_m;
            const auto found = kit::checkBuild({k.car, k.catalogue()}).findings;
            const auto *f = test::find(found, "discs-apart");
            return f ? std::string(name(f->severity)) : std::string();
        };
        QCOMPARE(severity(0.075, 0.0606, 0.2106), std::string());
        QCOMPARE(severity(0.075, 0.0606, 0.214), std::string()); // a saw's cut
        QCOMPARE(severity(0.075, 0.0606, 0.25), std::string("warning"));
        QCOMPARE(severity(0.075, 0.150, 0.300), std::string("error"));
        QCOMPARE(severity(0.075, 0.149, 0.299), std::string());
        k.car.geometry.deck = kit::DeckShape::Disc;
        QVERIFY(!test::find(kit::checkBuild({k.car, k.catalogue()}).findings, "discs-apart"));
    }
};

BADGER_TEST(TestBalance)
#include "test_balance.moc"
