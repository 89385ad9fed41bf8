// SPDX-License-Identifier: GPL-3.0-or-later
// Every slip of a hand on every demo car: does what burns or fails have a finding, and is nothing
// blamed that is right?
//
//   badger_campaign [--car NAME] [--kind WORDS] [--every N] [--show COUNT] [--fixes 1]
//   badger_campaign --pairs N [--show COUNT]      two slips on one car
//   badger_campaign --prefixes N [--show COUNT]   every Nth half-drawn harness, alone and with a
//   slip
//
// With --built N all of these are of N faultless cars that are built on those of the demo.
// With --fixes every fix that is offered is made and read off the network, too: the finding has to
// be gone, no limit passed that was not, and nothing worse than on the car with the slip.
#include "bench/campaign/built.h"
#include "bench/campaign/facts.h"
#include "bench/campaign/mutations.h"
#include "bench/campaign/slips.h"
#include "core/diagnose/diagnose.h"
#include "core/edit/fixed_car.h"
#include "core/io/shipped.h"
#include "core/io/workshop_file.h"
#include "core/power/check.h"
#include "core/wiring/check.h"

#include <chrono>
#include <cstdio>
#include <cstring>

using namespace badger;

namespace
{

std::vector<Finding> findingsOf(const kit::Assembly &car)
{
    auto all = wiring::check(car).findings;
    for (auto &f : power::check(car, power::report(car)).findings)
        all.push_back(std::move(f));
    return all;
}

std::string key(const Finding &f)
{
    return f.code + "|" + name(f.severity) + "|" + english(f.where);
}

/// And what is said to follow from it.
std::string keyOfAll(const Finding &f)
{
    auto all = key(f);
    for (const auto &line : f.then)
        all += "|" + english(line);
    return all;
}

/// Does a finding speak of one of these places, or of a part of theirs? Of a board it has to name
/// the pin: nearly every sentence names the board. An advice is no answer to harm.
bool speaksOf(const Finding &f, const std::set<std::string> &places)
{
    if (f.severity == Severity::Advice)
        return false;
    auto text = english(f.where) + " " + english(f.what) + " " + english(f.mend) + " " +
                english(f.why) + " " + f.target();
    for (const auto &line : f.then)
        text += " " + english(line);
    return std::any_of(places.begin(), places.end(), [&](const std::string &place) {
        const auto instance = place.substr(0, place.find('.'));
        return text.find(place) != std::string::npos ||
               (instance != "board" && text.find(instance) != std::string::npos);
    });
}

struct Count {
    int all = 0;
    int harmful = 0;
    int silent = 0;
    int blamed = 0;
    int unsolved = 0;
    int fixes = 0;
    int restored = 0; ///< harmful ones of which one mend makes the car as it was
    int unsafe = 0;   ///< fixes that pass a limit, make more worse and undo no slip, or leave the
                      ///< finding
};

struct Options {
    std::string car;
    std::string kind;
    int every = 1;
    int show = 0;
    bool fixes = false;
    int pairs = 0;
    int prefixes = 0;
    int built = 0;
};

/// The cars that are asked for, of the demo or built on those.
std::vector<kit::Car> carsOf(const Options &o, const workshop::Workshop &demo)
{
    std::vector<kit::Car> cars;
    for (const auto &car : demo.cars)
        if (o.car.empty() || car.name == o.car)
            cars.push_back(car);
    constexpr unsigned seed = 11;
    return o.built > 0 ? campaign::built(cars, io::catalogueOf(demo), o.built, seed) : cars;
}

/// What is said of a car that was built on and not of the one below it, more than advice.
int alarmsOf(const Options &o, const workshop::Workshop &demo)
{
    const auto catalogue = io::catalogueOf(demo);
    std::set<std::string> known;
    for (const auto &car : demo.cars)
        for (const auto &f : findingsOf({car, catalogue}))
            known.insert(car.name + f.code);
    int alarms = 0;
    for (const auto &car : carsOf(o, demo))
        for (const auto &f : findingsOf({car, catalogue}))
            if (f.severity != Severity::Advice &&
                known.count(car.name.substr(0, car.name.find(' ')) + f.code) == 0) {
                ++alarms;
                std::printf("%s: %s: %s\n", car.name.c_str(), f.code.c_str(),
                            english(f.what).c_str());
            }
    return alarms;
}

int slipsOf(const Options &o)
{
    const auto demo = *io::readWorkshop(io::demoWorkshop());
    const auto cars = carsOf(o, demo);
    const auto catalogue = io::catalogueOf(demo);
    constexpr unsigned seed = 7;
    if (o.pairs > 0) {
        const auto c = campaign::pairsOn(cars, catalogue, o.pairs, seed, o.show);
        std::printf("pairs=%d named=%d silent=%d restored=%d fixes=%d unsafe=%d\n", c.all, c.named,
                    c.silent, c.restored, c.fixes, c.unsafe);
        return c.silent + c.unsafe == 0 ? 0 : 1;
    }
    const auto c = campaign::prefixesOf(cars, catalogue, o.prefixes, seed, o.show);
    std::printf("prefixes=%d blamed=%d offered=%d slips=%d named=%d silent=%d\n", c.unfinished,
                c.blamed, c.offered, c.all, c.named, c.silent);
    return c.blamed + c.offered + c.silent == 0 ? 0 : 1;
}

class Campaign
{
public:
    explicit Campaign(Options options) : m_options(std::move(options)) {}

    void on(const kit::Assembly &car)
    {
        const nets::Nets nets(car);
        m_nets = &nets;
        const circuit::CarNetwork net(nets);
        m_patterns = campaign::drivingPatterns(net);
        m_before = campaign::factsOf(net, m_patterns);
        m_known.clear();
        for (const auto &f : findingsOf(car))
            m_known.insert({key(f), keyOfAll(f)});
        campaign::eachMutation(car, [&](const campaign::Mutation &m) {
            if ((m_options.kind.empty() || m.kind == m_options.kind) &&
                m_number++ % m_options.every == 0)
                judge(car, m);
        });
    }

    Count total() const
    {
        Count t;
        for (const auto &[kind, c] : m_counts) {
            t.all += c.all;
            t.harmful += c.harmful;
            t.silent += c.silent;
            t.blamed += c.blamed;
            t.unsolved += c.unsolved;
            t.fixes += c.fixes;
            t.unsafe += c.unsafe;
            t.restored += c.restored;
        }
        return t;
    }
    const std::map<std::string, Count> &counts() const { return m_counts; }

private:
    void judge(const kit::Assembly &right, const campaign::Mutation &m)
    {
        const kit::Assembly car(m.car, right.catalogue());
        const nets::Nets nets(car);
        const circuit::CarNetwork net(nets);
        const auto facts = campaign::factsOf(net, m_patterns);
        const auto bad = campaign::worse(m_before, facts);
        auto &count = m_counts[m.kind];
        ++count.all;
        count.unsolved += !facts.solved;
        auto places = m.touched;
        for (const auto &t : m.touched) // and what stood on the same wire before
            if (const int was = m_nets->of(t); !m_nets->isGround(was) && !m_nets->isSupply(was))
                places.insert(m_nets->members(was).begin(), m_nets->members(was).end());
        for (const auto &[where, why] : bad)
            places.insert(where);
        bool said = false;
        std::string codes;
        const Finding *error = nullptr;
        const auto findings = findingsOf(car);
        for (const auto &f : findings)
            if (m_known.count(keyOfAll(f)) == 0) {
                said |= speaksOf(f, places);
                codes += ", " + f.code + " " + english(f.where);
                if (f.severity == Severity::Error && m_known.count(key(f)) == 0)
                    error = &f;
            }
        count.harmful += !bad.empty();
        if (!bad.empty() && !said) {
            ++count.silent;
            show(right, m,
                 "silent: " + bad.begin()->first + " " + bad.begin()->second + "; said" + codes);
        }
        if (m_options.fixes)
            tryFixes(right, m, facts, bad);
        if (bad.empty() && error && !nowKnown(facts)) {
            ++count.blamed;
            show(right, m, "blamed: " + error->code + ": " + english(error->what));
        }
    }

    void tryFixes(const kit::Assembly &right, const campaign::Mutation &m,
                  const campaign::Facts &facts, const std::map<std::string, std::string> &bad)
    {
        const kit::Assembly car(m.car, right.catalogue());
        auto &count = m_counts[m.kind];
        bool restored = false;
        std::string told;
        for (const auto &f : diagnose::wires(car)) {
            if (m_known.count(key(f)) > 0)
                continue;
            told += "\n    " + f.code + ": " + english(f.what);
            if (!f.fix)
                continue;
            told += " -> " + english(f.mend);
            ++count.fixes;
            const auto mended = edit::applied(car, *f.fix);
            const kit::Assembly after(mended, right.catalogue());
            const nets::Nets nets(after);
            const auto now = campaign::factsOf(circuit::CarNetwork(nets), m_patterns);
            std::string wrong;
            for (const auto &limit : now.over)
                if (facts.over.count(limit) == 0)
                    wrong = "passes " + limit;
            restored |= campaign::worse(m_before, now).empty();
            // Pins that change with the program are other pins than those the car had.
            if (const auto still = campaign::worse(m_before, now);
                f.fix->pins.empty() && still.size() > bad.size() &&
                campaign::wiresApart(mended, right.car()) >=
                    campaign::wiresApart(m.car, right.car()))
                wrong = still.begin()->first + " " + still.begin()->second;
            for (const auto &g : findingsOf(after))
                if (key(g) == key(f))
                    wrong = "the finding stays";
            if (wrong.empty())
                continue;
            ++count.unsafe;
            show(right, m,
                 "unsafe: " + f.code + ": " + english(edit::words(car, *f.fix)) + " " + wrong);
        }
        if (bad.empty())
            return;
        count.restored += restored;
        if (!restored)
            show(right, m, "not restored:" + told);
    }

    /// An input that hung in the air before is held now: what it did was never known.
    bool nowKnown(const campaign::Facts &facts) const
    {
        return std::any_of(m_before.open.begin(), m_before.open.end(),
                           [&](const std::string &i) { return facts.open.count(i) == 0; });
    }

    void show(const kit::Assembly &car, const campaign::Mutation &m, const std::string &what)
    {
        if (m_options.show > 0 && m_shown[m.kind + what.substr(0, 6)]++ < m_options.show)
            std::printf("%s, %s, %s: %s\n", car->name.c_str(), m.kind.c_str(), m.words.c_str(),
                        what.c_str());
    }

    Options m_options;
    int m_number = 0;
    const nets::Nets *m_nets = nullptr; ///< of the car as it was
    std::vector<campaign::Pattern> m_patterns;
    campaign::Facts m_before;
    std::set<std::string> m_known;
    std::map<std::string, Count> m_counts;
    std::map<std::string, int> m_shown;
};

} // namespace

int main(int argc, char **argv)
{
    Options o;
    for (int i = 1; i + 1 < argc; i += 2) {
        if (std::strcmp(argv[i], "--car") == 0)
            o.car = argv[i + 1];
        if (std::strcmp(argv[i], "--kind") == 0)
            o.kind = argv[i + 1];
        if (std::strcmp(argv[i], "--every") == 0)
            o.every = std::max(1, std::atoi(argv[i + 1]));
        if (std::strcmp(argv[i], "--show") == 0)
            o.show = std::atoi(argv[i + 1]);
        if (std::strcmp(argv[i], "--fixes") == 0)
            o.fixes = std::atoi(argv[i + 1]) != 0;
        if (std::strcmp(argv[i], "--pairs") == 0)
            o.pairs = std::atoi(argv[i + 1]);
        if (std::strcmp(argv[i], "--prefixes") == 0)
            o.prefixes = std::atoi(argv[i + 1]);
        if (std::strcmp(argv[i], "--built") == 0)
            o.built = std::atoi(argv[i + 1]);
    }
    if (o.pairs > 0 || o.prefixes > 0)
        return slipsOf(o);
    const auto start = std::chrono::steady_clock::now();
    Campaign campaign(o);
    const auto demo = *io::readWorkshop(io::demoWorkshop());
    const auto catalogue = io::catalogueOf(demo);
    for (const auto &car : carsOf(o, demo))
        campaign.on({car, catalogue});
    const int alarms = o.built > 0 ? alarmsOf(o, demo) : 0;
    for (const auto &[kind, c] : campaign.counts())
        std::printf("%-15s %6d, harmful %6d, silent %5d, blamed %5d, unsolved %d\n", kind.c_str(),
                    c.all, c.harmful, c.silent, c.blamed, c.unsolved);
    const auto t = campaign.total();
    const double s =
        std::chrono::duration<double>(std::chrono::steady_clock::now() - start).count();
    std::printf("mutations=%d harmful=%d silent=%d blamed=%d unsolved=%d per_second=%.0f\n", t.all,
                t.harmful, t.silent, t.blamed, t.unsolved, t.all / s);
    if (o.built > 0)
        std::printf("built=%d alarms=%d\n", o.built, alarms);
    if (o.fixes)
        std::printf("fixes=%d unsafe=%d restored=%d\n", t.fixes, t.unsafe, t.restored);
    return t.silent + t.blamed + t.unsolved + t.unsafe + alarms == 0 ? 0 : 1;
}
