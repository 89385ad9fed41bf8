// SPDX-License-Identifier: GPL-3.0-or-later
// The fewest wires for what has to be joined, against every tree there is.
#include "core/wireup/joining.h"
#include "support/fixture.h"

#include <numeric>

using namespace badger;
using namespace badger::wireup;

namespace
{

parts::Terminal hole(const std::string &name, int holes, parts::Role role = parts::Role::Signal)
{
    parts::Terminal t;
    t.name = name;
    t.role = role;
    t.holes = holes;
    return t;
}

/// A car of parts with one terminal each, with so many holes, and rails with a column of four.
struct Row {
    kit::Car car;
    parts::Catalogue catalogue;
    Conductor conductor;

    Row(const std::vector<int> &holes, int rails)
    {
        std::vector<parts::Part> all;
        for (int n = 1; n <= 4; ++n) {
            parts::Part p;
            p.id = "plug-" + std::to_string(n);
            p.kind = parts::Kind::Ranger;
            p.terminals = {hole("T", n)};
            all.push_back(p);
        }
        parts::Part rail;
        rail.id = "rail";
        rail.kind = parts::Kind::Rail;
        rail.terminals = {hole("U1", 4, parts::Role::Through)};
        all.push_back(rail);
        catalogue = parts::Catalogue(all);
        const auto fit = [&](const std::string &id, const std::string &part) {
            kit::Instance i;
            i.id = id;
            i.partId = part;
            car.parts.push_back(i);
        };
        for (size_t i = 0; i < holes.size(); ++i) {
            fit("p" + std::to_string(i), "plug-" + std::to_string(holes[i]));
            conductor.ends.push_back({"p" + std::to_string(i) + ".T", {}, {}, i % 3 == 1});
        }
        for (int i = 0; i < rails; ++i)
            fit("r" + std::to_string(i), "rail");
    }
};

/// Is there a tree of these nodes in which none has more edges than holes? Every sequence of Prüfer
/// is a tree; a node has one edge more than it stands in there.
bool treeExists(const std::vector<int> &holes)
{
    const size_t n = holes.size();
    if (n < 2)
        return true;
    std::vector<size_t> sequence(n - 2, 0);
    while (true) {
        std::vector<int> edges(n, 1);
        for (const size_t s : sequence)
            ++edges[s];
        bool fits = true;
        for (size_t i = 0; i < n; ++i)
            fits &= edges[i] <= holes[i];
        if (fits)
            return true;
        size_t at = 0;
        while (at < sequence.size() && ++sequence[at] == n)
            sequence[at++] = 0;
        if (at == sequence.size())
            return false;
    }
}

} // namespace

class TestJoining final : public QObject
{
    Q_OBJECT
private slots:
    /// Every row of two to five plugs with one to three holes each.
    void fewestOfAllTrees()
    {
        int rails = 0;
        for (const size_t n : {2U, 3U, 4U, 5U}) {
            std::vector<int> holes(n, 1);
            while (true) {
                rails += check(holes);
                size_t at = 0;
                while (at < n && ++holes[at] == 4)
                    holes[at++] = 1;
                if (at == n)
                    break;
            }
        }
        QVERIFY(rails > 20); // some rows needed one
    }

    void whatIsWiredStays()
    {
        Row row({3, 2, 1, 1, 1}, 1);
        row.car.wires = {{"p1.T", "p3.T", "red", {}}};
        const auto j = joining({row.car, row.catalogue}, {row.conductor});
        QCOMPARE(j.wires.size(), size_t(3)); // four pieces
        QVERIFY(j.crowded.empty() && j.elsewhere.empty() && j.wantRail.empty());
        for (const auto &w : j.wires)
            QVERIFY(w.wire.from != "p3.T" && w.wire.to != "p3.T"); // its hole is taken
    }

    void aFullPieceIsCrowdedAndSaid()
    {
        Row row({1, 1, 1}, 0);
        row.car.wires = {{"p0.T", "p1.T", "red", {}}};
        const auto j = joining({row.car, row.catalogue}, {row.conductor});
        QCOMPARE(j.wires.size(), size_t(1));
        QCOMPARE(j.crowded.size(), size_t(1));
    }

    void withoutARailItIsAskedFor()
    {
        const Row row({1, 1, 1}, 0);
        const auto j = joining({row.car, row.catalogue}, {row.conductor});
        QVERIFY(j.wires.empty());
        QCOMPARE(j.wantRail.size(), size_t(1));
    }

    /// An end that hangs on another conductor already is left there.
    void anotherConductorKeepsItsOwn()
    {
        Row row({2, 2, 2, 2}, 0);
        Conductor a;
        Conductor b;
        a.ends = {row.conductor.ends[0], row.conductor.ends[1]};
        b.ends = {row.conductor.ends[2], row.conductor.ends[3]};
        row.car.wires = {{"p0.T", "p3.T", "red", {}}};
        const auto j = joining({row.car, row.catalogue}, {a, b});
        QCOMPARE(j.wires.size(), size_t(1));
        QCOMPARE(j.elsewhere, std::vector<std::string>{"p3.T"});
    }

private:
    /// How many rails were wired.
    static int check(const std::vector<int> &holes)
    {
        int rails = 0;
        auto nodes = holes;
        while (!treeExists(nodes)) {
            nodes.push_back(4);
            ++rails;
        }
        const Row row(holes, 3);
        const kit::Assembly car(row.car, row.catalogue);
        const auto j = joining(car, {row.conductor});
        if (j.wires.size() != nodes.size() - 1 || !j.crowded.empty())
            qFatal("a row of %zu took %zu wires, not %zu", holes.size(), j.wires.size(),
                   nodes.size() - 1);
        // One piece, and no hole takes more than it has.
        std::map<std::string, int> ends;
        std::map<std::string, std::string> root;
        const std::function<std::string(std::string)> find = [&](std::string x) {
            while (root.count(x) != 0 && root[x] != x)
                x = root[x];
            return x;
        };
        for (const auto &w : j.wires) {
            ++ends[w.wire.from];
            ++ends[w.wire.to];
            root[find(w.wire.from)] = find(w.wire.to);
        }
        for (const auto &e : row.conductor.ends)
            if (find(e.terminal) != find("p0.T"))
                qFatal("%s hangs alone", e.terminal.c_str());
        for (const auto &[name, n] : ends)
            if (n >
                holesOf(*car.find(kit::splitTerminal(name).instance)->part, *car.terminal(name)))
                qFatal("%s has %d wires", name.c_str(), n);
        return rails;
    }
};

BADGER_TEST(TestJoining)
#include "test_joining.moc"
