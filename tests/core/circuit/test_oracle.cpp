// SPDX-License-Identifier: GPL-3.0-or-later
// A general circuit library solves the same networks, written for it with the same straight pieces.
#include "bench/campaign/mutations.h"
#include "core/circuit/car_network.h"
#include "core/io/shipped.h"
#include "core/power/check.h"
#include "core/wiring/check.h"
#include "support/fixture.h"

#include <ngspice/sharedspice.h>
#include <random>
#include <set>

using namespace badger;
using namespace badger::circuit;
using test::Bench;

namespace
{

/// The library, which talks by callbacks and holds one circuit at a time.
class Oracle
{
public:
    Oracle()
    {
        ngSpice_Init(
            [](char *line, int, void *self) {
                static_cast<Oracle *>(self)->m_said += std::string(line) + "\n";
                return 0;
            },
            [](char *, int, void *) { return 0; }, [](int, bool, bool, int, void *) { return 0; },
            nullptr, nullptr, nullptr, this);
    }

    /// Volts by node; empty where it found no answer. `about` are volts to begin near, to a volt.
    std::map<int, double> solve(const Network &n, const std::vector<double> &about)
    {
        m_said.clear();
        std::vector<std::string> lines = {"* a car"};
        for (int i = 1; i < n.nodes; ++i)
            lines.push_back("Rleak" + std::to_string(i) + " n" + std::to_string(i) + " 0 1e9");
        for (size_t i = 0; i < n.branches.size(); ++i)
            add(lines, i, n.branches[i]);
        for (size_t i = 0; i < n.regulators.size(); ++i)
            add(lines, i, n.regulators[i]);
        for (int i = 1; i < n.nodes; ++i)
            lines.push_back(".nodeset V(" + node(i) +
                            ")=" + number(std::round(about[static_cast<size_t>(i)])));
        for (const auto *option :
             {"reltol=1e-6", "vntol=1e-9", "abstol=1e-12", "gmin=1e-15", "itl1=150"})
            lines.push_back(std::string(".options ") + option);
        lines.emplace_back(".op");
        lines.emplace_back(".end");
        std::vector<char *> deck;
        for (auto &l : lines)
            deck.push_back(l.data());
        deck.push_back(nullptr);
        std::map<int, double> volts;
        command("destroy all");
        if (ngSpice_Circ(deck.data()) != 0)
            return volts;
        command("op");
        for (int i = 1; i < n.nodes; ++i) {
            const auto name = "n" + std::to_string(i);
            auto *v = ngGet_Vec_Info(const_cast<char *>(name.c_str()));
            if (v == nullptr || v->v_length < 1)
                return {};
            volts[i] = v->v_realdata[0];
        }
        command("remcirc");
        return volts;
    }
    const std::string &said() const { return m_said; }

private:
    static void command(const char *words) { ngSpice_Command(const_cast<char *>(words)); }

    static std::string node(int n) { return n == 0 ? "0" : "n" + std::to_string(n); }
    static std::string number(double v) { return QString::number(v, 'g', 15).toStdString(); }

    /// The corners of a curve as the library's table, with a long piece to either side.
    static void add(std::vector<std::string> &lines, size_t i, const Branch &b)
    {
        const auto corners = cornersOf(b.curve);
        if (const auto p = b.curve.at(0.0); corners.size() <= 3 && isStraight(b.curve)) {
            // E - I R: a resistor, and a source before it where there is one.
            const double ohm = 1.0 / p.slope_S;
            const auto middle = "m" + std::to_string(i);
            lines.push_back("R" + std::to_string(i) + " " + node(b.from) + " " + middle + " " +
                            number(ohm));
            lines.push_back("V" + std::to_string(i) + " " + middle + " " + node(b.to) + " " +
                            number(-p.amps_A * ohm));
            return;
        }
        const auto across = "V(" + node(b.from) + "," + node(b.to) + ")";
        std::string table;
        for (const double v : corners)
            table += "," + number(v) + "," + number(b.curve.at(v).amps_A);
        lines.push_back("B" + std::to_string(i) + " " + node(b.from) + " " + node(b.to) +
                        " I=pwl(" + across + table + ")");
    }

    static bool isStraight(const Curve &c)
    {
        const double slope = c.at(0.0).slope_S;
        return c.at(-1e4).slope_S == slope && c.at(1e4).slope_S == slope;
    }

    /// Where the slope changes, found from outside, and two far ends.
    static std::vector<double> cornersOf(const Curve &curve)
    {
        constexpr double far = 2e4;
        std::vector<double> all = {-far};
        for (double v = -far; v < far;) {
            const double share = curve.nextCorner(v, far - v);
            if (share >= 1.0)
                break;
            v += share * (far - v);
            all.push_back(v);
        }
        all.push_back(far);
        return all;
    }

    /// min(set - (out - ground), in - out - dropout) into the regulator's own line.
    static void add(std::vector<std::string> &lines, size_t i, const Regulator &r)
    {
        const auto room =
            "(V(" + node(r.in) + ")-V(" + node(r.out) + ")-" + number(r.dropout_V) + ")";
        const auto set =
            "(" + number(r.set_V) + "-V(" + node(r.out) + ")+V(" + node(r.ground) + "))";
        constexpr double slope = 1e4;
        const double full = r.limit_A / slope;
        const double soft = r.limit_A / r.set_V;
        constexpr double far = 2e4;
        std::string table;
        for (const auto &[v, a] : {std::pair{-far, -far * leak_S},
                                   {0.0, 0.0},
                                   {full, r.limit_A},
                                   {far, r.limit_A + soft * (far - full)}})
            table += "," + number(v) + "," + number(a);
        lines.push_back("Breg" + std::to_string(i) + " " + node(r.in) + " " + node(r.out) +
                        " I=pwl(min(" + room + "," + set + ")" + table + ")");
    }

    std::string m_said;
};

/// The most that Kirchhoff's current law is missed by at a node.
double missing_A(const Network &n, const std::map<int, double> &volts)
{
    std::vector<double> in(static_cast<size_t>(n.nodes), 0.0);
    const auto v = [&](int node) { return node == 0 ? 0.0 : volts.at(node); };
    for (const auto &b : n.branches) {
        const double amps = b.curve.at(v(b.from) - v(b.to)).amps_A;
        in[static_cast<size_t>(b.from)] -= amps;
        in[static_cast<size_t>(b.to)] += amps;
    }
    double most = 0.0;
    for (size_t i = 1; i < in.size(); ++i)
        if (std::none_of(n.regulators.begin(), n.regulators.end(), [&](const Regulator &r) {
                return r.in == int(i) || r.out == int(i); // steep: microvolts are milliamperes
            }))
            most = std::max(most, std::abs(in[i]));
    return most;
}

/// The nets that ohms, or more than a tenth of a milliampere, join to ground. A bridge's output
/// without a load or a part that gets nothing hangs at the very corner of a line, by nanoamperes.
std::set<int> driven(const CarNetwork &net, const Network &n, const Answer &a)
{
    std::set<int> reached = {0};
    const auto v = [&](int k) { return a.solution.volts_V[static_cast<size_t>(k)]; };
    for (bool grows = true; grows;) {
        grows = false;
        const auto join = [&](int from, int to) {
            if (reached.count(from) != reached.count(to))
                grows |= reached.insert(reached.count(from) ? to : from).second;
        };
        for (size_t i = 0; i < n.branches.size(); ++i) {
            const auto &b = n.branches[i];
            const auto what = net.elements()[i].what;
            const bool ohms = what == What::Source || what == What::Link ||
                              what == What::Resistor || what == What::Jumper ||
                              what == What::PinHigh || what == What::PinLow ||
                              what == What::SensorHigh || what == What::SensorLow;
            if (b.curve.at(v(b.from) - v(b.to)).slope_S > 1e-6 &&
                (ohms || std::abs(a.solution.amps_A[i]) > 1e-4))
                join(b.from, b.to);
        }
        for (size_t i = 0; i < n.regulators.size(); ++i)
            if (a.solution.regulators_A[i] > 1e-4)
                join(n.regulators[i].in, n.regulators[i].out);
    }
    return reached;
}

/// A demo car with its figures bent and one or two of its wires elsewhere.
kit::Car bent(Bench &b, std::mt19937 &random)
{
    auto car = b.car;
    std::vector<std::string> ends;
    for (const auto &w : car.wires)
        ends.insert(ends.end(), {w.from, w.to});
    for (auto i = random() % 3; i > 0; --i) {
        auto &w = car.wires[random() % car.wires.size()];
        (random() % 2 == 0 ? w.from : w.to) = ends[random() % ends.size()];
    }
    for (auto &i : car.parts)
        if (i.cellsInSeries > 1)
            i.cellsInSeries += static_cast<int>(random() % 3) - 1;
    return car;
}

/// Supply inputs that leave their window while the car runs, by volts of the library alone; none
/// where it has no answer.
std::optional<std::set<std::string>> outsideByTheLibrary(Oracle &oracle, const kit::Assembly &car)
{
    const nets::Nets nets(car);
    const CarNetwork net(nets);
    const Conditions c{kit::Charge::Nominal, Moving::Running, Figures::Typical, true, true};
    const std::vector<Level> high(net.outputs().size(), Level::High);
    const auto mine = net.solve(c, high); // tells which halves are on, and where to begin
    const auto network = net.network(c, high, mine.halves);
    const auto theirs = oracle.solve(network, mine.solution.volts_V);
    if (!mine.solved || theirs.empty() || missing_A(network, theirs) > 1e-5)
        return std::nullopt;
    const auto volts = [&](size_t member) {
        const int node = member == noMember ? 0 : net.nodeOf(member);
        const auto it = theirs.find(node);
        return it == theirs.end() ? 0.0 : it->second;
    };
    std::set<std::string> outside;
    for (size_t i = 0; i < nets.all().size(); ++i) {
        const auto &m = nets.all()[i];
        if (m.terminal->role != parts::Role::SupplyIn || !m.terminal->window || m.wires == 0 ||
            net.nodeOf(i) < 0)
            continue;
        const double v = volts(i) - volts(net.groundOf(i));
        if (v > m.terminal->window->high_V + 0.01)
            outside.insert(m.name + " over");
        if (v < 0.97 * m.terminal->window->low_V)
            outside.insert(m.name + " under");
    }
    return outside;
}

std::set<std::string> said(const kit::Assembly &car)
{
    auto all = wiring::check(car).findings;
    for (auto &f : power::check(car, power::report(car)).findings)
        all.push_back(std::move(f));
    std::set<std::string> keys;
    for (const auto &f : all)
        if (f.severity != Severity::Advice)
            keys.insert(f.code + "|" + english(f.where) + "|" + name(f.severity));
    return keys;
}

} // namespace

class TestOracle final : public QObject
{
    Q_OBJECT
private slots:
    /// 300 networks of cars, right and wrong ones, idle and running: every net within a millivolt.
    /// The corners of the lines make the library go round in circles in about every fourth; those
    /// are counted and left.
    void theLibraryHasTheSameVolts()
    {
        std::mt19937 random(2026);
        Oracle oracle;
        const std::vector<std::string> names = {"Avocet",   "Curlew",   "Dunlin",     "Godwit",
                                                "Plover",   "Redshank", "Sanderling", "Ruff",
                                                "Whimbrel", "Turnstone"};
        int compared = 0;
        int answered = 0;
        int unanswered = 0;
        double worst_V = 0.0;
        for (int i = 0; answered < 120 && i < 300; ++i) {
            Bench b(names[random() % names.size()]);
            const auto car = bent(b, random);
            const kit::Assembly assembly(car, b.catalogue);
            const nets::Nets nets(assembly);
            const CarNetwork net(nets);
            Conditions c;
            c.charge = static_cast<kit::Charge>(random() % 3);
            c.moving = random() % 2 == 0 ? Moving::Idle : Moving::Running;
            c.driven = c.moving == Moving::Running;
            std::vector<Level> levels(net.outputs().size());
            for (auto &l : levels)
                l = random() % 2 == 0 ? Level::High : Level::Low;
            const auto mine = net.solve(c, levels);
            QVERIFY(mine.solved);
            const auto network = net.network(c, levels, mine.halves);
            const auto theirs = oracle.solve(network, mine.solution.volts_V);
            // Where what flows in does not flow out, the library has stopped short of an answer.
            if (theirs.empty() || missing_A(network, theirs) > 1e-5) {
                ++unanswered;
                continue;
            }
            ++answered;
            const auto held = driven(net, network, mine);
            for (const auto &[node, volts] : theirs) {
                if (held.count(node) == 0)
                    continue;
                const double off =
                    std::abs(volts - mine.solution.volts_V[static_cast<size_t>(node)]);
                worst_V = std::max(worst_V, off);
                QVERIFY2(off < 1e-3,
                         qPrintable(QString("network %1, node %2: %3 V, the library %4 V")
                                        .arg(i)
                                        .arg(node)
                                        .arg(mine.solution.volts_V[size_t(node)])
                                        .arg(volts)));
                ++compared;
            }
        }
        qInfo("%d nets compared, worst %.6f V, %d networks without the library's answer", compared,
              worst_V, unanswered);
        QVERIFY(answered == 120 && compared > 1200);
    }

    /// Slips of a hand, drawn from all there are on the demo's cars: what the library's volts call
    /// harmful has a new finding. Nothing of this program's own volts decides.
    void theLibraryDecidesOfAHundredSlips()
    {
        Oracle oracle;
        std::mt19937 random(4);
        int decided = 0;
        int harmful = 0;
        for (const auto &car : test::demo().cars) {
            const kit::Assembly right(car, io::shippedCatalogue());
            const auto before = outsideByTheLibrary(oracle, right);
            const auto known = said(right);
            std::vector<kit::Car> drawn;
            int number = 0;
            int next = static_cast<int>(random() % 100);
            campaign::eachMutation(right, [&](const campaign::Mutation &m) {
                if (number++ < next)
                    return;
                next += 1 + static_cast<int>(random() % 400);
                drawn.push_back(m.car);
            });
            for (size_t i = 0; before && i < drawn.size() && decided < 80; ++i) {
                const kit::Assembly slip(drawn[i], io::shippedCatalogue());
                const auto after = outsideByTheLibrary(oracle, slip);
                if (!after)
                    continue;
                ++decided;
                const bool worse = std::any_of(after->begin(), after->end(), [&](const auto &at) {
                    return before->count(at) == 0;
                });
                if (!worse)
                    continue;
                ++harmful;
                const auto now = said(slip);
                QVERIFY2(std::any_of(now.begin(), now.end(),
                                     [&](const auto &key) { return known.count(key) == 0; }),
                         (car.name + ": " + *after->begin()).c_str());
            }
        }
        qInfo("%d slips decided by the library, %d of them harmful", decided, harmful);
        QVERIFY(decided >= 40 && harmful >= 4);
    }
};

BADGER_TEST(TestOracle)
#include "test_oracle.moc"
