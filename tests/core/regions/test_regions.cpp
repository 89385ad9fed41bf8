// SPDX-License-Identifier: GPL-3.0-or-later
// The cells of a mode cover every reading once, and say what a step does there.
#include "core/machine/made.h"
#include "core/regions/regions.h"
#include "support/fixture.h"

#include <array>
#include <random>

using namespace badger;
using regions::Atom;
using regions::Axis;
using regions::Outcome;
using test::made;

class TestRegions final : public QObject
{
    Q_OBJECT

    static bool lies(const Atom &a, double x)
    {
        return (a.openFrom ? x > a.from : x >= a.from) && (a.openTo ? x < a.to : x <= a.to);
    }

    /// Readings of each sensor: a number, or none.
    using Point = std::vector<std::optional<double>>;

    static machine::Mind mindAt(const machine::Machine &m, int mode, const Point &point)
    {
        auto mind = machine::freshMind(m);
        mind.mode = mode;
        for (size_t i = 0; i < m.sensors.size(); ++i)
            machine::hear(m, mind, static_cast<int>(i), point[i]);
        machine::derive(m, mind);
        return mind;
    }

    /// Which kind of atom is a reading in?
    static Atom::Kind kindAt(const machine::Sensor &s, const std::optional<double> &number)
    {
        if (!number)
            return Atom::Kind::None;
        return s.nearest && *number < *s.nearest     ? Atom::Kind::Near
               : s.farthest && *number > *s.farthest ? Atom::Kind::Wild
                                                     : Atom::Kind::Numbers;
    }

    /// Is the point in the cell? Numbers stand for their policies as in hear().
    static bool in(const machine::Machine &m, const regions::Regions &r, const regions::Cell &cell,
                   const machine::Mind &mind, const Point &point)
    {
        for (size_t k = 0; k < r.axes.size(); ++k) {
            const auto &axis = r.axes[k];
            const auto &a = axis.atoms[static_cast<size_t>(cell.atoms[k])];
            const auto sensor = static_cast<size_t>(std::max(0, axis.sensor));
            const auto &h = mind.held[sensor];
            const auto kind = kindAt(m.sensors[sensor], point[sensor]);
            switch (a.kind) {
            case Atom::Kind::Numbers:
                if (axis.of == Axis::Of::Pair) {
                    const auto &o = mind.held[static_cast<size_t>(axis.other)];
                    if (h.has && o.has && !lies(a, h.number - o.number))
                        return false;
                } else if (kind != Atom::Kind::Numbers || !lies(a, h.number)) {
                    return false;
                }
                break;
            case Atom::Kind::None:
            case Atom::Kind::Near:
            case Atom::Kind::Wild:
                if (kind != a.kind)
                    return false;
                break;
            case Atom::Kind::Yes:
            case Atom::Kind::No:
                if ((h.number != 0.0) != (a.kind == Atom::Kind::Yes))
                    return false;
                break;
            case Atom::Kind::Key:
                if (h.number != a.word)
                    return false;
                break;
            case Atom::Kind::Word:
                if (a.word != -1) // a fresh mind remembers nothing
                    return false;
                break;
            case Atom::Kind::Any:
                if (kind != Atom::Kind::Numbers)
                    return false;
                break;
            default:
                break;
            }
        }
        return true;
    }

    /// Every point is in one cell, and there the step does what the cell says.
    static void holds(const rules::Program &program, unsigned seed, int points)
    {
        const auto m = machine::lower(program);
        VERIFY_OK(m);
        std::mt19937 random(seed);
        for (size_t mode = 0; mode < m->modes.size(); ++mode) {
            const auto r = regions::of(program, *m, static_cast<int>(mode));
            VERIFY_OK(r);
            if (r->cells.empty())
                continue;
            for (int n = 0; n < points; ++n) {
                Point point;
                for (const auto &s : m->sensors)
                    point.push_back(somewhere(*m, s, random));
                auto mind = mindAt(*m, static_cast<int>(mode), point);
                const regions::Cell *found = nullptr;
                int hits = 0;
                for (const auto &cell : r->cells)
                    if (in(*m, *r, cell, mind, point)) {
                        found = &cell;
                        ++hits;
                    }
                QVERIFY2(hits == 1, qPrintable(QStringLiteral("%1, mode %2: %3 cells")
                                                   .arg(QString::fromStdString(program.name))
                                                   .arg(mode)
                                                   .arg(hits)));
                compare(*m, *found, mind);
            }
        }
    }

    static std::optional<double> somewhere(const machine::Machine &m, const machine::Sensor &s,
                                           std::mt19937 &random)
    {
        if (s.source == rules::Source::Digital)
            return double(random() % 2);
        if (s.source == rules::Source::Key)
            return double(random() % 5);
        if (s.source != rules::Source::Analogue && random() % 5 == 0)
            return std::nullopt;
        // Near the constants more often than not.
        double x = 1.0 + double(random() % 400);
        if (random() % 2 && !m.asks.empty())
            x = m.asks[random() % m.asks.size()].constant + double(random() % 7) - 3.0;
        x = std::clamp(x, 1.0, s.source == rules::Source::Analogue ? 1023.0 : s.limit);
        return s.whole ? std::trunc(x) : x + 0.25 * double(random() % 4);
    }

    static void compare(const machine::Machine &m, const regions::Cell &cell, machine::Mind &mind)
    {
        const auto settled = machine::settle(m, mind);
        QCOMPARE(cell.outcome == Outcome::Stop, settled == machine::Settled::Stop);
        if (settled != machine::Settled::Rules)
            return;
        machine::Walk walk{mind.mode, 0, 0};
        std::vector<int> fired;
        for (int b = machine::next(m, mind, walk); b >= 0; b = machine::next(m, mind, walk)) {
            fired.push_back(b);
            if (m.branches[static_cast<size_t>(b)].endsPass)
                break;
        }
        QCOMPARE(cell.fired, fired);
        QCOMPARE(cell.outcome == Outcome::Rule, !fired.empty());
    }

private slots:
    void everyReadingIsInOneCellOfEveryTemplate()
    {
        for (const auto &t : io::templates()) {
            if (t.name == "fan" || t.name == "edge-glide" || t.name == "wall-hold")
                continue; // a scan is heard in one look of many; the others have no rules
            for (const char *policy : {"clear", "blocked", "skip", "stop"})
                holds(t.choice("no-echo") ? made(t.name, {{"no-echo", policy}}) : made(t.name), 11,
                      t.name == "fixed-rangers" ? 60 : 150);
        }
    }

    /// The same where what is too near and what is too far count apart, each by every policy.
    void whatIsSetApartIsInCellsOfItsOwn()
    {
        const std::array policies = {"clear", "blocked", "hold", "skip", "stop"};
        for (const auto &t : io::templates()) {
            if (!t.choice("too-near") || t.name == "fan")
                continue;
            for (size_t n = 0; n < policies.size(); ++n)
                holds(made(t.name, {{"no-echo", policies[n]},
                                    {"too-near", "6cm"},
                                    {"too-near-as", policies[(n + 1) % policies.size()]},
                                    {"too-far", "310cm"},
                                    {"too-far-as", policies[(n + 3) % policies.size()]},
                                    {"limit", "400cm"}}),
                      29, t.name == "fixed-rangers" ? 60 : 150);
        }
    }

    /// Strict on both sides: holes at exactly 18 and 45; with <= on both none.
    void theHolesOfTheWorkedExample()
    {
        const auto strict = made(
            "keep-station",
            {{"near", "18cm"}, {"far", "45cm"}, {"near-compare", "lt"}, {"far-compare", "lt"}});
        const auto m = machine::lower(strict);
        const auto r = regions::of(strict, *m, 0);
        VERIFY_OK(r);
        std::vector<double> holes;
        for (const auto &cell : r->cells)
            if (cell.outcome == Outcome::Hole) {
                const auto &a = r->axes[0].atoms[static_cast<size_t>(cell.atoms[0])];
                QCOMPARE(a.from, a.to);
                holes.push_back(a.from);
            }
        QCOMPARE(holes, (std::vector<double>{18.0, 45.0}));
        const auto closed = made("keep-station", {{"near", "18cm"}, {"far", "45cm"}});
        for (const auto &cell : regions::of(closed, *machine::lower(closed), 0)->cells)
            QVERIFY(cell.outcome == Outcome::Rule);
    }

    void fractionsHaveHolesBetweenWholeNumbersToo()
    {
        auto p = made("keep-station", {{"near", "18cm"},
                                       {"far", "18.5cm"},
                                       {"near-compare", "lt"},
                                       {"far-compare", "lt"},
                                       {"numbers", "fraction"}});
        auto count = [](const rules::Program &program) {
            int rules = 0;
            const auto m = machine::lower(program);
            const auto all = regions::of(program, *m, 0);
            for (const auto &cell : all->cells)
                rules += cell.outcome == Outcome::Rule && cell.fired.front() == 1;
            return rules;
        };
        QCOMPARE(count(p), 1); // the stretch between, which no whole number reaches
        p = made(
            "keep-station",
            {{"near", "18cm"}, {"far", "18.5cm"}, {"near-compare", "lt"}, {"far-compare", "lt"}});
        QCOMPARE(count(p), 0);
    }

    void differencesThatCannotBeAreLeftOut()
    {
        const auto p = made("glance", {{"tolerance", "3cm"}});
        const auto m = machine::lower(p);
        for (size_t mode = 0; mode < m->modes.size(); ++mode) {
            const auto r = regions::of(p, *m, static_cast<int>(mode));
            for (const auto &cell : r->cells)
                for (size_t k = 0; k < r->axes.size(); ++k) {
                    const auto &axis = r->axes[k];
                    if (axis.of != Axis::Of::Pair)
                        continue;
                    const auto &a = cell.at[static_cast<size_t>(axis.sensor)];
                    const auto &b = cell.at[static_cast<size_t>(axis.other)];
                    QVERIFY(a && b); // clear is a number
                    QVERIFY(lies(axis.atoms[static_cast<size_t>(cell.atoms[k])], *a - *b));
                }
        }
    }

    void rowsHoldEveryCellOnce()
    {
        for (const auto &t : io::templates()) {
            const auto p = made(t.name);
            const auto m = machine::lower(p);
            for (size_t mode = 0; mode < m->modes.size(); ++mode) {
                const auto r = regions::of(p, *m, static_cast<int>(mode));
                const auto rows = regions::rows(*m, *r);
                QVERIFY(rows.size() <= r->cells.size());
                for (const auto &cell : r->cells) {
                    int hits = 0;
                    for (const auto &row : rows) {
                        bool inside = row.cell->to == cell.to && row.cell->fired == cell.fired;
                        for (size_t k = 0; k < r->axes.size() && inside; ++k) {
                            const auto &a = r->axes[k].atoms[static_cast<size_t>(cell.atoms[k])];
                            inside = a.kind == row.atoms[k].kind && a.word == row.atoms[k].word &&
                                     a.from >= row.atoms[k].from && a.to <= row.atoms[k].to;
                        }
                        hits += inside;
                    }
                    QCOMPARE(hits, 1);
                }
            }
        }
    }

    void tooManyTogetherIsSaid()
    {
        auto p = made("fixed-rangers");
        for (int i = 0; i < 40; ++i) {
            const auto name = "v" + std::to_string(i);
            p.values.push_back({name, "", rules::ValueKind::Distance, 0.05 + 0.07 * i});
            p.everywhere.push_back({name, {{"nearest", rules::Compare::Less, name}}, "drives"});
        }
        const auto r = regions::of(p, *machine::lower(p), 0);
        QVERIFY(!r);
        QVERIFY(english(r.error().text()).find("left, ahead, right") != std::string::npos);
    }
};

BADGER_TEST(TestRegions)
#include "test_regions.moc"
