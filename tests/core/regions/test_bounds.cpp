// SPDX-License-Identifier: GPL-3.0-or-later
// What is too near to be measured, and too far to be meant, counts as its own policy says.
#include "core/machine/made.h"
#include "core/machine/play.h"
#include "core/machine/runner.h"
#include "core/regions/check.h"
#include "core/regions/mend.h"
#include "core/sentences/rewrite.h"
#include "support/fixture.h"

#include <cmath>

using namespace badger;
using rules::NoEcho;
using test::made;

namespace
{

io::Choices apart(const char *none, const char *tooNear, const char *tooFar)
{
    return {{"no-echo", none},    {"too-near", "5cm"},    {"too-near-as", tooNear},
            {"too-far", "200cm"}, {"too-far-as", tooFar}, {"limit", "300cm"},
            {"threshold", "30cm"}};
}

/// "2 none 250" as looks, one after the other; what the rules compare after each, nothing as "-".
std::string compared(const rules::Program &program, const std::vector<std::optional<double>> &looks)
{
    const auto m = *machine::lower(program);
    auto mind = machine::freshMind(m);
    std::string all;
    for (const auto &number : looks) {
        machine::hear(m, mind, 0, number);
        const auto &h = mind.held.front();
        all += (all.empty() ? "" : " ") + (h.has ? units::plain(h.number, 2) : std::string("-"));
    }
    return all;
}

std::vector<std::string> codes(const rules::Program &program, double deadZone_m = 0.03)
{
    regions::Around around;
    around.rangers["ahead"] = {deadZone_m, 4.0, 0.038, 0.0, 0.13};
    std::vector<std::string> all;
    for (const auto &f : regions::check(program, around).findings)
        all.push_back(f.code);
    return all;
}

bool has(const std::vector<std::string> &all, const char *code)
{
    return std::find(all.begin(), all.end(), code) != all.end();
}

const sentences::Sentence &sentence(const std::vector<sentences::Sentence> &all,
                                    const std::string &about)
{
    return *std::find_if(all.begin(), all.end(),
                         [&](const auto &one) { return one.about == about; });
}

std::string said(const sentences::Sentence &one)
{
    std::string text;
    for (const auto &t : one.tokens)
        text += (text.empty() ? "" : " ") + english(t.text);
    return text;
}

} // namespace

class TestBounds final : public QObject
{
    Q_OBJECT
private slots:
    void eachCountsByItsOwnPolicy()
    {
        const std::vector<std::optional<double>> looks = {100, 4, 5, 201, 200, std::nullopt};
        QCOMPARE(compared(made("halt", apart("clear", "blocked", "hold")), looks),
                 std::string("100 0 5 5 200 300"));
        QCOMPARE(compared(made("halt", apart("blocked", "hold", "clear")), looks),
                 std::string("100 100 5 300 200 0"));
        QCOMPARE(compared(made("halt", apart("hold", "stop", "skip")), looks),
                 std::string("100 - 5 - 200 200"));
    }

    /// Whatever came back from right before the ranger was heard; a number that cannot be meant was
    /// not.
    void tooNearIsHeardAndTooFarIsLost()
    {
        const auto m = *machine::lower(made("halt", apart("clear", "blocked", "clear")));
        auto mind = machine::freshMind(m);
        const auto lost = [&](std::optional<double> number) {
            machine::hear(m, mind, 0, number);
            return mind.held.front().lost;
        };
        QCOMPARE(lost(std::nullopt), 1);
        QCOMPARE(lost(250.0), 2);
        QCOMPARE(lost(2.0), 0);
        QCOMPARE(lost(250.0), 1);
        QCOMPARE(lost(100.0), 0);
    }

    /// Below one whole number an echo is cut to nought, which else is none.
    void noughtIsTooNearWhereThatIsSetApart()
    {
        auto choices = apart("clear", "blocked", "clear");
        choices["unit"] = "in";
        const auto bounded = *machine::lower(made("halt", choices));
        choices.erase("too-near");
        choices.erase("too-near-as");
        const auto bare = *machine::lower(made("halt", choices));
        const std::uint32_t echo_us = 100; // 1.7 cm, less than an inch
        QVERIFY(!machine::numberOf(bare, bare.sensors[0], echo_us));
        QCOMPARE(*machine::numberOf(bounded, bounded.sensors[0], echo_us), 0.0);
        QVERIFY(!machine::numberOf(bounded, bounded.sensors[0], 0)); // nothing came back at all
    }

    void aPassStopsOrIsSkipped()
    {
        for (const auto &[tooNear, settled] : {std::pair("stop", machine::Settled::Stop),
                                               {"skip", machine::Settled::Skip},
                                               {"hold", machine::Settled::Skip},
                                               {"blocked", machine::Settled::Rules}}) {
            const auto m = *machine::lower(made("halt", apart("clear", tooNear, "stop")));
            auto mind = machine::freshMind(m);
            machine::hear(m, mind, 0, 3.0);
            QVERIFY(machine::settle(m, mind) == settled);
            machine::hear(m, mind, 0, 250.0);
            QVERIFY(machine::settle(m, mind) == machine::Settled::Stop);
            machine::hear(m, mind, 0, 80.0);
            QVERIFY(machine::settle(m, mind) == machine::Settled::Rules);
        }
    }

    /// A scan: each look by itself.
    void looksOfAScan()
    {
        auto p = made("fan", {{"no-echo", "clear"}});
        for (auto &r : p.readings)
            if (r.source == rules::Source::Scan) {
                r.nearest_m = 0.05;
                r.farthest_m = 2.0;
                r.limit_m = 3.0;
                r.wild = NoEcho::Blocked;
                r.tooNear = NoEcho::Ignore;
            }
        const auto m = *machine::lower(p);
        const auto it = std::find_if(m.sensors.begin(), m.sensors.end(),
                                     [](const auto &s) { return s.source == rules::Source::Scan; });
        const int scan = static_cast<int>(it - m.sensors.begin());
        auto mind = machine::freshMind(m);
        const std::vector<machine::ScanLook> looks = {
            {2.0, 40}, {250.0, 60}, {90.0, 80}, {89.0, 100}};
        machine::hearScan(m, mind, scan, looks.data(), 4);
        const auto &h = mind.held[static_cast<size_t>(scan)];
        QVERIFY(h.has && h.heard);
        QCOMPARE(h.number, 90.0);
        QCOMPARE(h.angle_deg, 80.0);
        machine::hearScan(m, mind, scan, looks.data(), 1); // nothing but what is left out
        QVERIFY(!mind.held[static_cast<size_t>(scan)].has);
        QVERIFY(mind.held[static_cast<size_t>(scan)].heard);
    }

    void tooNearThatGoesIsFound()
    {
        const auto goes = codes(made("halt", apart("stop", "clear", "stop")));
        QVERIFY(has(goes, "too-near-goes"));
        for (const char *policy : {"blocked", "hold", "stop", "skip"})
            QVERIFY(!has(codes(made("halt", apart("stop", policy, "stop"))), "too-near-goes"));
        QVERIFY(!has(codes(made("halt", {{"no-echo", "clear"}})), "too-near-goes"));
    }

    /// Each way out was tried: the finding is gone with it.
    void bothHaveWaysOut()
    {
        regions::Around around;
        around.rangers["ahead"] = {0.06, 4.0, 0.038, 0.0, 0.13};
        const auto p = made("halt", apart("stop", "clear", "stop"));
        int seen = 0;
        for (const auto &f : regions::check(p, around).findings)
            if (f.code == "too-near-goes" || f.code == "bound-in-dead-zone") {
                const auto mends = regions::mends(p, around, f);
                QVERIFY2(!mends.empty(), f.code.c_str());
                for (const auto &m : mends)
                    for (const auto &after : regions::check(m.program, around).findings)
                        QVERIFY(after.code != f.code);
                ++seen;
            }
        QCOMPARE(seen, 2);
    }

    void aBoundInsideTheDeadZoneIsFound()
    {
        const auto p = made("halt", apart("stop", "blocked", "stop"));
        QVERIFY(has(codes(p, 0.06), "bound-in-dead-zone"));
        QVERIFY(!has(codes(p, 0.05), "bound-in-dead-zone"));
    }

    /// A number that cannot be meant is a lost target, too.
    void aWildNumberIsNotChased()
    {
        auto choices = apart("stop", "blocked", "clear");
        choices.erase("threshold");
        QVERIFY(has(codes(made("keep-station", choices)), "lost-target-chased"));
        choices["too-far-as"] = "stop";
        QVERIFY(!has(codes(made("keep-station", choices)), "lost-target-chased"));
    }

    void boundsThatCannotBeAreRefused()
    {
        const auto p = made("halt", apart("stop", "blocked", "clear"));
        QVERIFY(rules::broken(p).empty());
        const auto with = [&](auto bend) {
            auto bent = p;
            bend(bent.readings.front());
            return rules::broken(bent).size();
        };
        QCOMPARE(with([](auto &r) { r.nearest_m = 2.5; }), size_t(1));  // beyond what is too far
        QCOMPARE(with([](auto &r) { r.farthest_m = 3.0; }), size_t(1)); // at the limit
        QCOMPARE(with([](auto &r) { r.limit_m = 1.5; }), size_t(1));
        QVERIFY(with([](auto &r) { r.source = rules::Source::Analogue; }) >= 1);
        auto noStop = p;
        noStop.stopState.clear();
        noStop.readings.front().noEcho = NoEcho::Clear;
        noStop.readings.front().tooNear = NoEcho::Stop;
        QCOMPARE(rules::broken(noStop).size(), size_t(1));
    }

    void oneWithoutTheOtherIsUnset()
    {
        auto p = made("halt", apart("stop", "blocked", "clear"));
        QVERIFY(rules::unset(p).empty());
        p.readings.front().tooNear = NoEcho::Unset;
        QCOMPARE(rules::unset(p).size(), size_t(1));
        p.readings.front().farthest_m.reset();
        QCOMPARE(rules::unset(p).size(), size_t(2));
        QVERIFY(!machine::lower(p));
    }

    /// Set apart by a menu, typed over, chosen, and taken back.
    void itIsSaidAndChangedInItsSentence()
    {
        auto p = made("halt", {{"no-echo", "clear"}});
        const auto before = p;
        const auto at = [&] { return sentence(sentences::sentences(p), "reading:ahead"); };
        QVERIFY(said(at()).find("nearer than") == std::string::npos);
        const auto target = sentences::rewrite(p, at(), sentences::Rewrite::TooNear);
        VERIFY_OK(target);
        QCOMPARE(*target, std::string("nearest:ahead"));
        QVERIFY(said(at()).find("nearer than … counts as blocked") != std::string::npos);
        QCOMPARE(rules::unset(p).size(), size_t(1)); // no distance is invented
        VERIFY_OK(sentences::typeOver(p, "nearest:ahead", "4,5 cm"));
        QVERIFY(rules::unset(p).empty());
        QVERIFY(sentences::choose(p, "near:ahead", 3));
        QVERIFY(p.readings.front().tooNear == NoEcho::Stop);
        QVERIFY(said(at()).find("nearer than 4.5 cm counts as stop") != std::string::npos);
        VERIFY_OK(sentences::rewrite(p, at(), sentences::Rewrite::Wild));
        VERIFY_OK(sentences::typeOver(p, "farthest:ahead", "150cm"));
        QVERIFY(said(at()).find("farther than 150 cm counts as blocked") != std::string::npos);
        VERIFY_OK(sentences::rewrite(p, at(), sentences::Rewrite::Wild));
        VERIFY_OK(sentences::rewrite(p, at(), sentences::Rewrite::TooNear));
        QVERIFY(p == before);
    }

    // Buttons.

    void aStartWaitsForItsButton()
    {
        auto p = made("halt", {{"start", "button"}, {"pressed-level", "0"}, {"no-echo", "clear"}});
        QCOMPARE(p.start.size(), size_t(1));
        const auto m = *machine::lower(p);
        const auto button = std::find_if(p.readings.begin(), p.readings.end(), [](const auto &r) {
            return r.source == rules::Source::Button;
        });
        const auto column = static_cast<size_t>(button - p.readings.begin());
        QCOMPARE(m.sensors[column].seenLevel, 0);
        const auto heard = [&](double cm, double pressed) {
            std::vector<machine::Heard> all(2, {machine::Heard::Kind::Number, cm});
            all[column].number = pressed;
            return all;
        };
        // Pressed after 400 ms; till then nothing moves, however clear it is.
        const auto told = machine::play(
            p, m, {{0, heard(90, 0)}, {400'000, heard(90, 1)}, {900'000, heard(10, 0)}});
        for (const auto &t : told) {
            const bool stands = t.orders.left.kind == machine::WheelOrder::Kind::Brake;
            QVERIFY2(stands == (t.time_us < 400'000 || t.time_us >= 900'000),
                     std::to_string(t.time_us).c_str());
        }
        QVERIFY(told.size() >= 3);
        // Never pressed: it stands for ever, and the run ends.
        for (const auto &t : machine::play(p, m, {{0, heard(90, 0)}, {900'000, heard(90, 0)}}))
            QVERIFY(t.orders.left.kind == machine::WheelOrder::Kind::Brake);
    }

    void aButtonIsAskedForInTheStartAlone()
    {
        auto p = made("halt", {{"start", "button"}, {"pressed-level", "1"}, {"no-echo", "clear"}});
        QVERIFY(rules::broken(p).empty());
        auto elsewhere = p;
        elsewhere.states.front().actions = p.start;
        QCOMPARE(rules::broken(elsewhere).size(), size_t(1));
        auto other = p;
        other.start.front().what = "ahead";
        QCOMPARE(rules::broken(other).size(), size_t(1));
        p.readings.back().lightLevel.reset();
        QCOMPARE(rules::unset(p).size(), size_t(1));
    }

    void theStartIsASentenceThatGrows()
    {
        auto p = made("halt", {{"start", "button"}, {"pressed-level", "1"}, {"no-echo", "clear"}});
        const auto at = [&] { return sentence(sentences::sentences(p), "start:"); };
        QVERIFY2(said(at()).find("waits until button is pressed") != std::string::npos,
                 said(at()).c_str());
        VERIFY_OK(sentences::rewrite(p, at(), sentences::Rewrite::AddPause));
        QCOMPARE(p.start.size(), size_t(2));
        VERIFY_OK(sentences::rewrite(p, at(), sentences::Rewrite::DropAction));
        VERIFY_OK(sentences::rewrite(p, at(), sentences::Rewrite::DropAction));
        QVERIFY(p.start.empty());
        QVERIFY(rules::unset(p).empty()); // the pause's time went with it
        VERIFY_OK(sentences::rewrite(p, at(), sentences::Rewrite::AddAwait));
        QVERIFY(p.start.front().does == rules::Does::Await);
        QVERIFY(rules::broken(p).empty());
    }

    /// One wheel, then the other, and no rule is asked meanwhile: then it begins.
    void aSelfTestTriesEachWheel()
    {
        for (const auto &t : io::templates()) {
            if (!t.choice("start"))
                continue;
            const auto plain = made(t.name);
            auto choices = test::enough(t.name);
            choices["start"] = "self-test";
            choices["test-time"] = "300ms";
            const auto p = made(t.name, choices);
            QCOMPARE(p.states.size(), plain.states.size() + 2);
            QVERIFY(p.states[0].motion.right.sense == 0 && p.states[0].motion.left.sense == 1);
            QVERIFY(p.states[1].motion.left.sense == 0 && p.states[1].motion.right.sense == 1);
            QCOMPARE(p.states[0].wait->then, p.states[1].name);
            QCOMPARE(p.states[1].wait->then, plain.states[0].name);
            QVERIFY(rules::broken(p).empty());
            VERIFY_OK(machine::lower(p));
        }
    }
};

BADGER_TEST(TestBounds)
#include "test_bounds.moc"
