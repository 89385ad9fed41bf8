// SPDX-License-Identifier: GPL-3.0-or-later
#include "bench/campaign/slips.h"

#include "bench/campaign/facts.h"
#include "core/diagnose/diagnose.h"
#include "core/edit/fixed_car.h"

#include <algorithm>
#include <cstdio>
#include <optional>
#include <random>

namespace badger::campaign
{

namespace
{

struct Drawn {
    std::string words;
    std::set<std::string> touched;
};

/// One slip: a wire off, an end elsewhere, two ends of a part exchanged, a wire too many. `among`
/// are how many of the first wires it may touch.
Drawn slip(kit::Car &car, const kit::Assembly &as, std::mt19937 &random, size_t among)
{
    std::vector<std::string> terminals;
    for (const auto &f : as.fitted())
        for (const auto &t : f.part->terminals)
            terminals.push_back(f.instance->id + "." + t.name);
    const auto any = [&] { return terminals[random() % terminals.size()]; };
    auto &w = car.wires[random() % among];
    switch (random() % 4) {
    case 0: {
        const Drawn drawn{"off " + w.from + "–" + w.to, {w.from, w.to}};
        car.wires.erase(car.wires.begin() + (&w - car.wires.data()));
        return drawn;
    }
    case 1: {
        auto &end = random() % 2 == 0 ? w.from : w.to;
        const auto was = end;
        end = any();
        return {"end " + was + " to " + end + " of " + w.from + "–" + w.to, {was, w.from, w.to}};
    }
    case 2: {
        auto &end = random() % 2 == 0 ? w.from : w.to;
        const auto part = kit::splitTerminal(end).instance;
        std::vector<std::string *> others;
        for (size_t i = 0; i < among; ++i)
            for (auto *o : {&car.wires[i].from, &car.wires[i].to})
                if (*o != end && kit::splitTerminal(*o).instance == part)
                    others.push_back(o);
        if (others.empty())
            return {"nothing", {}};
        auto *o = others[random() % others.size()];
        std::swap(*o, end);
        return {"exchanged " + *o + " and " + end, {*o, end}};
    }
    default: {
        const auto a = any();
        const auto b = any();
        if (a == b)
            return {"nothing", {}};
        car.wires.insert(car.wires.begin() + static_cast<std::ptrdiff_t>(among),
                         {a, b, "pink", {}});
        return {"wire " + a + "–" + b, {a, b}};
    }
    }
}

/// A finding names a place that was touched, or stands at it.
bool isNamed(const std::vector<Finding> &all, const std::set<std::string> &touched)
{
    return std::any_of(all.begin(), all.end(), [&](const Finding &f) {
        if (f.severity == Severity::Advice)
            return false;
        auto text = english(f.where) + " " + english(f.what) + " " + english(f.mend) + " ";
        for (const auto &line : f.then)
            text += english(line) + " ";
        return std::any_of(touched.begin(), touched.end(), [&](const std::string &t) {
            return text.find(t) != std::string::npos ||
                   std::find(f.places.begin(), f.places.end(), at::terminal(t)) != f.places.end();
        });
    });
}

class Judge
{
public:
    Judge(const kit::Assembly &right)
        : m_right(right), m_nets(right), m_net(m_nets), m_patterns(drivingPatterns(m_net)),
          m_before(factsOf(m_net, m_patterns))
    {
    }
    std::map<std::string, std::string> worseOn(const kit::Car &car) const
    {
        return worse(m_before, facts(car));
    }
    const kit::Car &right() const { return m_right.car(); }
    Facts facts(const kit::Car &car) const
    {
        const nets::Nets nets({car, m_right.catalogue()});
        return factsOf(circuit::CarNetwork(nets), m_patterns);
    }

private:
    const kit::Assembly &m_right;
    nets::Nets m_nets;
    circuit::CarNetwork m_net;
    std::vector<Pattern> m_patterns;
    Facts m_before;
};

/// Makes the mends that are offered, one diagnosis after the other, and looks at each.
bool mendAll(kit::Car car, const Judge &judge, const parts::Catalogue &catalogue,
             std::vector<Finding> found, SlipCounts &counts, std::string &wrong)
{
    constexpr int most = 4;
    for (int step = 0; step < most; ++step) {
        const Finding *next = nullptr;
        for (const auto &f : found)
            if (f.fix && f.severity != Severity::Advice && next == nullptr)
                next = &f;
        if (next == nullptr)
            break;
        const auto was = judge.facts(car);
        const auto bad = judge.worseOn(car);
        const auto after = edit::applied({car, catalogue}, *next->fix);
        const auto is = judge.facts(after);
        ++counts.fixes;
        for (const auto &limit : is.over)
            if (was.over.count(limit) == 0)
                wrong = english(next->mend) + " passes " + limit;
        if (const auto still = judge.worseOn(after);
            next->fix->pins.empty() && still.size() > bad.size() &&
            wiresApart(after, judge.right()) >= wiresApart(car, judge.right()))
            wrong = english(next->mend) + " leaves more";
        counts.unsafe += !wrong.empty();
        car = after;
        if (!wrong.empty() || judge.worseOn(car).empty())
            break;
        found = diagnose::wires({car, catalogue});
    }
    return judge.worseOn(car).empty();
}

void print(const kit::Assembly &car, const std::string &slips, const char *what,
           const std::vector<Finding> &found)
{
    std::printf("%s, %s: %s\n", car->name.c_str(), slips.c_str(), what);
    for (const auto &f : found)
        if (f.severity != Severity::Advice)
            std::printf("    %s: %s%s%s\n", f.code.c_str(), english(f.what).c_str(),
                        f.fix ? " -> " : "", f.fix ? english(f.mend).c_str() : "");
}

} // namespace

SlipCounts pairsOn(const std::vector<kit::Car> &cars, const parts::Catalogue &catalogue, int many,
                   unsigned seed, int show)
{
    SlipCounts counts;
    std::mt19937 random(seed);
    const int each = std::max(1, many / static_cast<int>(cars.size()));
    for (const auto &right : cars) {
        const kit::Assembly as(right, catalogue);
        const Judge judge(as);
        for (int n = 0, tries = 0; n < each && tries < 20 * each; ++tries) {
            auto one = right;
            const auto first = slip(one, as, random, one.wires.size());
            auto two = right;
            auto both = one;
            auto again = random;
            const auto second = slip(two, as, random, two.wires.size());
            const auto onBoth = slip(both, as, again, both.wires.size());
            const bool apart =
                std::none_of(first.touched.begin(), first.touched.end(),
                             [&](const std::string &t) { return onBoth.touched.count(t) != 0; });
            if (second.words != onBoth.words || !apart || judge.worseOn(one).empty() ||
                judge.worseOn(two).empty())
                continue;
            ++n;
            ++counts.all;
            const auto found = diagnose::wires({both, catalogue});
            const bool a = isNamed(found, first.touched);
            const bool b = isNamed(found, second.touched);
            counts.named += a && b;
            counts.silent += !a && !b;
            std::string wrong;
            const bool restored = mendAll(both, judge, catalogue, found, counts, wrong);
            counts.restored += restored;
            if ((!a || !b || !wrong.empty() || !restored) && show-- > 0)
                print(as, first.words + "; " + second.words,
                      !a || !b         ? "not both named"
                      : !wrong.empty() ? wrong.c_str()
                                       : "not restored",
                      found);
        }
    }
    return counts;
}

SlipCounts prefixesOf(const std::vector<kit::Car> &cars, const parts::Catalogue &catalogue,
                      int every, unsigned seed, int show)
{
    SlipCounts counts;
    std::mt19937 random(seed);
    int number = 0;
    for (const auto &right : cars) {
        const kit::Assembly as(right, catalogue);
        const Judge judge(as);
        std::set<std::string> known; // what is said of the whole car
        for (const auto &f : diagnose::wires(as))
            known.insert(f.code);
        for (size_t drawn = 1; drawn < right.wires.size(); ++drawn) {
            if (number++ % every != 0)
                continue;
            auto prefix = right;
            prefix.wires.resize(drawn);
            ++counts.unfinished;
            const auto found = diagnose::wires({prefix, catalogue});
            bool blamed = false;
            bool offered = false;
            for (const auto &f : found) {
                blamed |= f.severity == Severity::Error && known.count(f.code) == 0;
                offered |= f.fix && !f.fix->out.empty() && known.count(f.code) == 0;
            }
            // The last few may as well have come off: they are asked for by name.
            constexpr size_t few = 3;
            if (drawn + few >= right.wires.size())
                blamed = false;
            counts.blamed += blamed;
            counts.offered += offered;
            if ((blamed || offered) && show-- > 0)
                print(as, std::to_string(drawn) + " wires", "unfinished", found);
            // One slip in what is drawn, judged with the rest as it should be.
            auto wrong = prefix;
            const auto slipped = slip(wrong, as, random, drawn);
            auto whole = wrong;
            whole.wires.insert(whole.wires.end(),
                               right.wires.begin() + static_cast<std::ptrdiff_t>(drawn),
                               right.wires.end());
            if (slipped.words.starts_with("off ") || judge.worseOn(whole).empty())
                continue;
            ++counts.all;
            const auto said = diagnose::wires({wrong, catalogue});
            const bool named = isNamed(said, slipped.touched);
            counts.named += named;
            counts.silent += !named;
            if (!named && show-- > 0)
                print(as, std::to_string(drawn) + " wires, " + slipped.words, "silent", said);
        }
    }
    return counts;
}

} // namespace badger::campaign
