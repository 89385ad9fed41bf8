// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/base/pieces.h"
#include "support/fixture.h"

#include <random>

using namespace badger;

namespace
{

/// A value that counts how often it is copied.
struct Counted {
    int n = 0;
    inline static int copies = 0;

    Counted(int value = 0) : n(value) {}
    Counted(const Counted &other) : n(other.n) { ++copies; }
    Counted(Counted &&) = default;
    Counted &operator=(const Counted &other)
    {
        n = other.n;
        ++copies;
        return *this;
    }
    bool operator==(const Counted &other) const { return n == other.n; }
};

Pieces<Counted> hundred()
{
    Pieces<Counted> all;
    for (int i = 0; i < 100; ++i)
        all.push_back(Counted(i));
    return all;
}

} // namespace

class TestPieces final : public QObject
{
    Q_OBJECT
private slots:
    void aCopyCopiesNoPiece()
    {
        auto all = hundred();
        Counted::copies = 0;
        auto copy = all;
        QVERIFY(copy.shares(all));
        QVERIFY(copy == all);
        QCOMPARE(Counted::copies, 0);
        copy[7].n = -1; // this one alone
        QCOMPARE(Counted::copies, 1);
        QCOMPARE(std::as_const(all)[7].n, 7);
        QCOMPARE(std::as_const(copy)[7].n, -1);
        QVERIFY(!(copy == all) && !copy.shares(all));
        for (size_t i = 0; i < all.size(); ++i)
            QCOMPARE(copy.piece(i) == all.piece(i), i != 7);
        copy[7].n = 7; // the same content in a piece of its own
        QVERIFY(copy == all);
        QVERIFY(!copy.shares(all));
        QCOMPARE(Counted::copies, 1); // it was its own already
    }

    void readingSharesAndWritingDoesNot()
    {
        const auto all = hundred();
        auto copy = all;
        Counted::copies = 0;
        int sum = 0;
        for (const auto &c : std::as_const(copy))
            sum += c.n;
        QCOMPARE(sum, 4950);
        QCOMPARE(Counted::copies, 0);
        for (auto &c : copy)
            c.n += 1;
        QCOMPARE(Counted::copies, 100);
        QCOMPARE(all.front().n, 0);
        QCOMPARE(std::as_const(copy).back().n, 100);
    }

    /// Whatever is done to it, it is what a vector would be, and its copies stay what they were.
    void itIsAVector()
    {
        const unsigned seed = 9;
        std::mt19937 random(seed);
        std::vector<Counted> model;
        Pieces<Counted> pieces;
        std::vector<std::pair<std::vector<Counted>, Pieces<Counted>>> kept;
        for (int step = 0; step < 4000; ++step) {
            const auto some = [&](size_t n) { return static_cast<size_t>(random()) % n; };
            const int value = int(some(1000));
            switch (model.empty() ? 0 : some(6)) {
            case 0:
                model.push_back(Counted(value));
                pieces.push_back(Counted(value));
                break;
            case 1: {
                const size_t i = some(model.size());
                model[i].n = value;
                pieces[i].n = value;
                break;
            }
            case 2: {
                const auto i = std::ptrdiff_t(some(model.size()));
                model.erase(model.begin() + i);
                pieces.erase(pieces.begin() + i);
                break;
            }
            case 3:
                std::erase_if(model, [&](const Counted &c) { return c.n == value; });
                pieces.eraseIf([&](const Counted &c) { return c.n == value; });
                break;
            case 4: {
                const auto i = std::ptrdiff_t(some(model.size()));
                model.insert(model.begin() + i, Counted(value));
                pieces.insert(pieces.begin() + i, Counted(value));
                break;
            }
            default:
                if (kept.size() < 50)
                    kept.emplace_back(model, pieces);
                std::sort(model.begin(), model.end(),
                          [](const Counted &a, const Counted &b) { return a.n < b.n; });
                std::vector<Counted> sorted(pieces.begin(), pieces.end());
                std::sort(sorted.begin(), sorted.end(),
                          [](const Counted &a, const Counted &b) { return a.n < b.n; });
                pieces = Pieces<Counted>(sorted);
            }
            QVERIFY(Pieces<Counted>(model) == pieces);
        }
        for (const auto &[was, copy] : kept)
            QVERIFY(Pieces<Counted>(was) == copy);
    }

    void anEditOfAWorkshopTouchesOnePiece()
    {
        const auto before = test::demo();
        auto after = before;
        QVERIFY(after == before);
        after.cars[3].team = "others";
        for (size_t i = 0; i < before.cars.size(); ++i)
            QCOMPARE(after.cars.piece(i) == before.cars.piece(i), i != 3);
        QVERIFY(after.programs.shares(before.programs) && after.trials.shares(before.trials));
        VERIFY_OK(io::takesBack(after, before, io::catalogueOf(after)));
    }

    /// What the whole reader refuses, the reader of the touched pieces refuses, and the other way
    /// round, for whatever an edit may do.
    void takesBackSaysWhatTheReaderSays()
    {
        const auto before = test::demo();
        const std::vector<std::function<void(workshop::Workshop &)>> edits = {
            [](auto &w) { w.cars[1].name = "Avocet"; },
            [](auto &w) { w.cars[0].geometry.track_m = -1.0; },
            [](auto &w) { w.cars[2].wires[0].to = "board.D99"; },
            [](auto &w) { w.programs[0].readings[0].medianOf = 2; },
            [](auto &w) { w.programs.clear(); },
            [](auto &w) { w.programs[0].name = "other"; },
            [](auto &w) { w.programs[0].id = {"other"}; },
            [](auto &w) { w.floors[0].name = "other"; },
            [](auto &w) { w.floors[0].id = {"other"}; },
            [](auto &w) { w.floors[1].id = w.floors[0].id; },
            [](auto &w) { w.cars[1].id = w.cars[0].id; },
            [](auto &w) { w.cars[0].id = {}; },
            [](auto &w) { w.trials[1].id = w.trials[0].id; },
            [](auto &w) { w.trials[1].program = {"gone"}; },
            [](auto &w) { w.floors[0].walls.clear(); },
            [](auto &w) { w.trials[1].car = {"nobody"}; },
            [](auto &w) { w.trials[1].battery_V = -3.0; },
            [](auto &w) { w.cars.erase(w.cars.begin()); },
            [](auto &w) { w.cars.erase(w.cars.begin() + 4); },
            [](auto &w) { w.name = std::string(3000, 'x'); },
            [](auto &w) { w.parts.push_back(*io::shippedCatalogue().find("led-red")); },
            [](auto &w) {
                auto part = *io::shippedCatalogue().find("dual-bridge-module");
                part.terminals.pop_back();
                w.parts.push_back(part);
            },
            [](auto &w) { w.cars[5].team = "x"; },
            [](auto &w) { w.trials.clear(); },
        };
        for (size_t i = 0; i < edits.size(); ++i) {
            auto after = before;
            edits[i](after);
            const auto whole = io::readWorkshop(io::writeWorkshop(after));
            const auto touched = io::takesBack(after, before, io::catalogueOf(after));
            QVERIFY2(
                whole.has_value() == touched.has_value(),
                qPrintable(QStringLiteral("edit %1: %2 / %3")
                               .arg(i)
                               .arg(QString::fromStdString(whole ? "taken"
                                                                 : english(whole.error().text())),
                                    QString::fromStdString(
                                        touched ? "taken" : english(touched.error().text())))));
            if (!whole)
                QCOMPARE(english(touched.error().what), english(whole.error().what));
        }
    }
};

BADGER_TEST(TestPieces)
#include "test_pieces.moc"
