// SPDX-License-Identifier: GPL-3.0-or-later
// Laws that the power tree keeps whatever the parts are: what flows in flows out, nothing is
// lifted above what feeds it, more load never gives more volts.
#include "support/kits.h"

#include <random>

using namespace badger;
using namespace badger::power;
using kit::Charge;
using test::Kit;

namespace
{

constexpr double tiny = 1e-6; // leaks of the network

std::vector<State> allStates()
{
    std::vector<State> all;
    for (const auto charge : kit::charges)
        for (const auto load : power::loads)
            for (const auto figures : power::cases)
                all.push_back({charge, load, figures});
    return all;
}

/// A kit with the figures of its parts moved by up to a half. Figures of one unit move together:
/// a cell stays fuller when fresh, a motor stays hungrier when held.
Kit bent(const std::string &name, unsigned seed)
{
    std::mt19937 random(seed);
    std::uniform_real_distribution<double> factor(0.6, 1.5);
    Kit k(name);
    for (const auto &i : std::vector(k.car.parts)) {
        std::map<std::string, double> factors;
        for (auto &[key, figure] : k.bend(i.partId).figures) {
            const auto unit = key.substr(key.find_last_of('_') + 1);
            const double f = factors.try_emplace(unit, factor(random)).first->second;
            figure.low *= f;
            figure.typical *= f;
            figure.high *= f;
        }
    }
    return k;
}

/// Below a volt a part takes less than its current (circuit/curve): where a rail is that low, less
/// is drawn than with better figures.
bool railsStand(const Tree &t, State s)
{
    return std::all_of(t.nodes.begin(), t.nodes.end(), [&](const Node &n) {
        return n.kind != NodeKind::Output || t.at(t.indexOf(n.id), s).volts_V > 1.0;
    });
}

std::string place(const Node &n, State s)
{
    return n.id + ", " + name(s.charge) + ", " + name(s.load) + ", " + name(s.figures);
}

} // namespace

class TestNetwork final : public QObject
{
    Q_OBJECT

    static void eachKit()
    {
        QTest::addColumn<std::string>("kit");
        QTest::addColumn<unsigned>("seed");
        for (const auto &k : io::startingKits())
            for (unsigned seed = 0; seed < 12; ++seed)
                QTest::addRow("%s, figures %u", k.name.c_str(), seed) << k.name << seed;
    }
    static Tree tree()
    {
        QFETCH(std::string, kit);
        QFETCH(unsigned, seed);
        const auto k = seed == 0 ? Kit(kit) : bent(kit, seed);
        return solve({k.car, k.catalogue()});
    }

private slots:
    void whatFlowsInFlowsOut_data() { eachKit(); }
    void whatFlowsInFlowsOut()
    {
        const auto t = tree();
        QVERIFY(t.nodes.size() >= 5);
        for (const auto s : allStates())
            for (size_t i = 0; i < t.nodes.size(); ++i) {
                double below = 0.0;
                for (const int child : t.childrenOf(int(i)))
                    below += t.at(child, s).amps_A;
                const auto &v = t.at(int(i), s);
                // A part may use some itself; a linear regulator passes on what it takes.
                QVERIFY2(v.amps_A >= below - tiny, place(t.nodes[i], s).c_str());
                const auto kind = t.nodes[i].kind;
                if (kind == NodeKind::Source || kind == NodeKind::Link || kind == NodeKind::Channel)
                    QVERIFY2(std::abs(v.amps_A - below) < tiny, place(t.nodes[i], s).c_str());
            }
    }

    void nothingIsLifted_data() { eachKit(); }
    void nothingIsLifted()
    {
        const auto t = tree();
        for (const auto s : allStates())
            for (size_t i = 0; i < t.nodes.size(); ++i) {
                const auto &n = t.nodes[i];
                const auto &v = t.at(int(i), s);
                QVERIFY2(std::isfinite(v.volts_V) && std::isfinite(v.amps_A), place(n, s).c_str());
                if (!v.voltsKnown)
                    continue;
                if (n.parent >= 0)
                    QVERIFY2(v.volts_V <= t.at(n.parent, s).volts_V + tiny, place(n, s).c_str());
                QVERIFY2(v.ceiling_V >= v.volts_V - tiny, place(n, s).c_str());
                QVERIFY2(!v.heat_W || *v.heat_W >= 0.0, place(n, s).c_str());
                // The volts are the sum their derivation shows; none are left below zero.
                if (n.kind == NodeKind::Source || n.kind == NodeKind::Link)
                    COMPARE_NEAR(std::max(0.0, v.feed_V - v.ohm_V - v.fixed_V), v.volts_V, tiny);
            }
    }

    void moreLoadIsNeverMoreVolts_data() { eachKit(); }
    void moreLoadIsNeverMoreVolts()
    {
        const auto t = tree();
        for (size_t i = 0; i < t.nodes.size(); ++i)
            for (const auto figures : power::cases) {
                const auto at = [&](Charge c, Load l) -> const Values & {
                    return t.at(int(i), {c, l, figures});
                };
                for (const auto c : kit::charges)
                    for (const auto &[less, more] : {std::pair{Load::Idle, Load::Running},
                                                     std::pair{Load::Running, Load::Stalled}}) {
                        if (!railsStand(t, {c, more, figures}) ||
                            !railsStand(t, {c, less, figures}))
                            continue;
                        QVERIFY2(at(c, more).volts_V <= at(c, less).volts_V + tiny,
                                 t.nodes[i].id.c_str());
                        QVERIFY2(at(c, more).amps_A >= at(c, less).amps_A - tiny,
                                 t.nodes[i].id.c_str());
                    }
                for (const auto l : power::loads) {
                    // At worst a held motor has the current of better cells and the resistances of
                    // worse ones: greater than any one pack gives.
                    if (l == Load::Stalled && figures == Case::Worst)
                        continue;
                    QVERIFY(at(Charge::Fresh, l).volts_V >= at(Charge::Nominal, l).volts_V - tiny);
                    QVERIFY(at(Charge::Nominal, l).volts_V >=
                            at(Charge::NearEmpty, l).volts_V - tiny);
                }
            }
    }

    void theWorstCaseIsNeverBetter_data() { eachKit(); }
    void theWorstCaseIsNeverBetter()
    {
        const auto t = tree();
        for (size_t i = 0; i < t.nodes.size(); ++i)
            for (const auto c : kit::charges)
                for (const auto l : power::loads) {
                    const auto &typical = t.at(int(i), {c, l, Case::Typical});
                    const auto &worst = t.at(int(i), {c, l, Case::Worst});
                    const auto where = place(t.nodes[i], {c, l, Case::Worst});
                    if (!railsStand(t, {c, l, Case::Worst}))
                        continue;
                    QVERIFY2(worst.volts_V <= typical.volts_V + tiny, where.c_str());
                    QVERIFY2(worst.ceiling_V >= typical.ceiling_V - tiny, where.c_str());
                    QVERIFY2(worst.amps_A >= typical.amps_A - tiny, where.c_str());
                }
    }

    void aSourceTooWeakSaysSo()
    {
        Kit k;
        k.set("cell-nimh", "resistance_ohm", 3.0);
        const State stalled{Charge::Nominal, Load::Stalled, Case::Typical};
        const auto t = solve({k.car, k.catalogue()});
        // What is left drives the motors and the board: E - I R, with the amps that then flow.
        const auto &v = t.at(t.indexOf("pack"), stalled);
        QVERIFY(v.volts_V > 0.0 && v.volts_V < 0.5 * v.own_V);
        COMPARE_NEAR(v.volts_V, v.own_V - 18.0 * v.amps_A, tiny);
        const auto found = check({k.car, k.catalogue()}, report({k.car, k.catalogue()})).findings;
        QVERIFY(test::find(found, "pack-sags"));
    }

    /// What the pack gives is what heats up on the way and what the consumers take.
    void energyIsKept()
    {
        for (const auto &k : io::startingKits()) {
            const auto t = solve({k.car, io::shippedCatalogue()});
            for (const auto s : allStates()) {
                double given_W = 0.0;
                double heat_W = 0.0;
                for (size_t i = 0; i < t.nodes.size(); ++i) {
                    const auto &v = t.at(int(i), s);
                    if (t.nodes[i].kind == NodeKind::Source)
                        given_W += v.feed_V * v.amps_A;
                    heat_W += v.heat_W.value_or(0.0);
                }
                QVERIFY2(heat_W <= given_W + tiny, k.name.c_str());
            }
        }
    }
};

BADGER_TEST(TestNetwork)
#include "test_network.moc"
