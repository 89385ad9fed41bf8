// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/regions/mend.h"

#include "core/sentences/sentences.h"

#include <algorithm>
#include <cmath>
#include <map>
#include <set>

namespace badger::regions
{

namespace
{

using units::quantity;
using units::Unit;

/// How many findings of each code, by severity; a mend must not add to any but advice.
std::map<std::string, int> counted(const Findings &all)
{
    std::map<std::string, int> codes;
    for (const auto &f : all.findings)
        if (f.severity != Severity::Advice)
            ++codes[f.code];
    return codes;
}

/// Is the finding gone, and nothing as severe there that was not before?
bool isMended(const rules::Program &copy, const Around &around, const Finding &finding,
              const std::map<std::string, int> &before)
{
    if (!rules::broken(copy).empty())
        return false;
    const auto after = check(copy, around);
    for (const auto &f : after.findings)
        if (f.code == finding.code &&
            (f.what == finding.what ||
             (f.places == finding.places && f.places.front().kind == Spot::Kind::Value)))
            return false; // of one value that others need larger still
    for (const auto &[code, count] : counted(after)) {
        const auto it = before.find(code);
        const int was = it == before.end() ? 0 : it->second;
        if (count > was || (code == finding.code && count >= was))
            return false;
    }
    return true;
}

/// Words that say how a thing is done; those that would make another program of it are no mends.
bool mayMend(const sentences::Token &token)
{
    for (const auto *w : {"policy:", "ties:", "beyond:", "seeks:", "level:", "wait:", "actions:",
                          "compare:", "ends:", "bits:", "near:", "wild:"})
        if (token.target.starts_with(w))
            return true;
    return false;
}

/// Of a comparison only the limit itself may change its side.
bool turnsRound(const sentences::Token &token, std::size_t standing, std::size_t option)
{
    return token.target.starts_with("compare:") && standing / 2 != option / 2;
}

void addWords(const rules::Program &program, std::vector<Mend> &all)
{
    std::set<std::string> seen;
    for (const auto &sentence : sentences::sentences(program))
        for (const auto &token : sentence.tokens) {
            if (token.kind != sentences::Token::Kind::Word || !mayMend(token) ||
                !seen.insert(token.target).second)
                continue;
            const auto words = sentences::options(program, token.target);
            const auto now = sentences::standing(program, token.target);
            for (std::size_t i = 0; i < words.size(); ++i) {
                auto copy = program;
                if (turnsRound(token, now, i) || !sentences::choose(copy, token.target, i) ||
                    copy == program)
                    continue;
                all.push_back(
                    {sentence.kind == sentences::Sentence::Kind::Rule
                         ? say("Say {} for {} in rule {}", words[i], token.text, sentence.number)
                         : say("Say {} for {}", words[i], token.text),
                     std::move(copy)});
            }
        }
}

rules::Value *valueOf(rules::Program &program, const std::string &name)
{
    for (auto &v : program.values)
        if (v.name == name)
            return &v;
    return nullptr;
}

/// The dwell that a servo needs, in steps of 10 ms from what is there on.
void addDwell(const rules::Program &program, const Finding &finding, std::vector<Mend> &all)
{
    if (finding.places.front().kind != Spot::Kind::Value)
        return;
    const auto name = finding.places.front().name;
    for (int step = 1; step <= 100; ++step) {
        auto copy = program;
        auto *v = valueOf(copy, name);
        if (v == nullptr || !v->si)
            return;
        v->si = (std::floor(*v->si * 100.0 + 1e-9) + step) / 100.0;
        all.push_back(
            {say("Set '{}' to {}", name, quantity(*v->si, Unit::Millisecond, 0)), std::move(copy)});
    }
}

/// Turns of one angle to both sides: the mean of the two, in steps of 10 degrees.
void addTurns(const rules::Program &program, const Around &around, std::vector<Mend> &all)
{
    if (!around.leftTurn_deg_s || !around.rightTurn_deg_s)
        return;
    const rules::State *sides[2] = {nullptr, nullptr};
    for (const auto &s : program.states)
        if (s.wait && s.wait->length == rules::Length::Fixed &&
            rules::actOf(s.motion) == rules::Act::Turn)
            sides[s.motion.right.sense > s.motion.left.sense ? 0 : 1] = &s;
    if (!sides[0] || !sides[1])
        return;
    auto copy = program;
    auto *left = valueOf(copy, sides[0]->wait->duration);
    auto *right = valueOf(copy, sides[1]->wait->duration);
    if (!left || !right || left == right || !left->si || !right->si)
        return;
    const double angle =
        std::round((*left->si * *around.leftTurn_deg_s + *right->si * *around.rightTurn_deg_s) /
                   20.0) *
        10.0;
    left->si = std::round(angle / *around.leftTurn_deg_s * 1000.0) / 1000.0;
    right->si = std::round(angle / *around.rightTurn_deg_s * 1000.0) / 1000.0;
    all.push_back(
        {say("Turn {}° both ways: {} left, {} right", units::number(angle, 0),
             quantity(*left->si, Unit::Millisecond, 0), quantity(*right->si, Unit::Millisecond, 0)),
         std::move(copy)});
}

/// A rule before all others: stand after three readings without an echo.
void addLost(const rules::Program &program, const Finding &finding, std::vector<Mend> &all)
{
    constexpr int readings = 3;
    if (finding.places.front().kind != Spot::Kind::Policy || program.stopState.empty() ||
        program.value("lost-after"))
        return;
    auto copy = program;
    copy.values.push_back({"lost-after",
                           "stop after so many readings without an echo",
                           rules::ValueKind::Times,
                           double(readings),
                           {},
                           true});
    rules::Condition lost;
    lost.test = rules::Test::Lost;
    lost.reading = finding.places.front().name;
    lost.value = "lost-after";
    copy.everywhere.insert(copy.everywhere.begin(), {"lost", {lost}, program.stopState});
    all.push_back({say("Stand after {} readings without an echo", readings), std::move(copy)});
}

/// What the ranger cannot measure begins where its dead zone ends.
void addBound(const rules::Program &program, const Around &around, const Finding &finding,
              std::vector<Mend> &all)
{
    for (std::size_t i = 0; i < program.readings.size(); ++i) {
        const auto &name = program.readings[i].name;
        const auto facts = around.rangers.find(name);
        if (finding.places.front() != at::policy(name) || facts == around.rangers.end())
            continue;
        auto copy = program;
        copy.readings[i].nearest_m = facts->second.deadZone_m;
        all.push_back({say("Set it to {}", quantity(facts->second.deadZone_m, Unit::Centimetre, 2)),
                       std::move(copy)});
    }
}

/// Of a value that is nought a tolerance.
void addTolerance(const rules::Program &program, std::vector<Mend> &all)
{
    for (const auto &v : program.values)
        if (v.name == "tolerance" && v.si == 0.0) {
            auto copy = program;
            auto *changed = valueOf(copy, v.name);
            changed->si = 0.03; // three readings' worth of a ranger's own spread
            changed->suggested = true;
            all.push_back({say("Set '{}' to {}", v.name, quantity(0.03, Unit::Centimetre, 0)),
                           std::move(copy)});
        }
}

} // namespace

namespace
{

/// Two comparisons that take their limits in: each closes its own hole.
void addPairs(const rules::Program &program, std::vector<Mend> &all)
{
    std::vector<std::pair<std::string, std::size_t>> other; // a comparison and its other word
    for (const auto &sentence : sentences::sentences(program))
        for (const auto &token : sentence.tokens)
            if (token.target.starts_with("compare:"))
                other.emplace_back(token.target, sentences::standing(program, token.target) ^ 1U);
    for (std::size_t i = 0; i < other.size(); ++i)
        for (std::size_t k = i + 1; k < other.size(); ++k) {
            auto copy = program;
            if (!sentences::choose(copy, other[i].first, other[i].second))
                continue;
            const auto once = copy;
            if (!sentences::choose(copy, other[k].first, other[k].second) || copy == program ||
                copy == once)
                continue;
            all.push_back({say("Let both limits belong to a rule"), std::move(copy)});
        }
}

} // namespace

std::vector<Mend> mends(const rules::Program &program, const Around &around, const Finding &finding,
                        std::size_t most, const std::function<bool()> &stopped)
{
    // Of a finding that check() does not make it could not be seen whether it is gone.
    const auto lines = checkLines();
    if (std::none_of(lines.begin(), lines.end(),
                     [&](const CheckLine &line) { return line.code == finding.code; }))
        return {};
    std::vector<Mend> candidates;
    if (finding.code == "dwell-too-short")
        addDwell(program, finding, candidates);
    else if (finding.code == "turns-unequal")
        addTurns(program, around, candidates);
    else if (finding.code == "comparison-without-tolerance")
        addTolerance(program, candidates);
    else if (finding.code == "bound-in-dead-zone")
        addBound(program, around, finding, candidates);
    if (finding.code == "lost-target-chased")
        addLost(program, finding, candidates);
    addWords(program, candidates);
    const auto ones = candidates.size();
    if (finding.code == "reading-without-action")
        addPairs(program, candidates);
    const auto before = counted(check(program, around));
    std::vector<Mend> found;
    for (std::size_t i = 0; i < candidates.size(); ++i) {
        auto &candidate = candidates[i];
        if ((i >= ones && !found.empty()) || (stopped && stopped()))
            break; // one word is enough
        if (found.size() < most && isMended(candidate.program, around, finding, before)) {
            const bool steps = finding.code == "dwell-too-short";
            found.push_back(std::move(candidate));
            if (steps || i >= ones)
                break; // more of the same is no other way
        }
    }
    return found;
}

} // namespace badger::regions
