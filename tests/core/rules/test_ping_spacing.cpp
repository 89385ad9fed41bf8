// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/rules/ping_spacing.h"
#include "support/fixture.h"

#include <numbers>
#include <random>

using namespace badger;
using rules::RangerFacts;
using test::Bench;

namespace
{

constexpr double degree = std::numbers::pi / 180.0;

RangerFacts looking(double looks_deg)
{
    return {0.03, 4.0, 0.038, looks_deg * degree, 7.5 * degree};
}

/// The demo's program with a second ranger, read after the first.
struct Two : Bench {
    std::map<std::string, RangerFacts> facts = {{"ahead", looking(0.0)}, {"side", looking(0.0)}};

    Two()
    {
        auto side = reading();
        side.name = "side";
        side.instance = "ranger-left";
        program.readings.push_back(side);
    }
    rules::PingSpacing spacing() { return rules::pingSpacing(program, facts); }
    const Finding *found()
    {
        m_found = rules::check(program, facts);
        return test::find(m_found.findings, "ping-too-soon");
    }

private:
    Findings m_found;
};

} // namespace

class TestPingSpacing final : public QObject
{
    Q_OBJECT
private slots:
    void theSecondRangerPingsTooSoon()
    {
        Two t;
        const auto *soon = t.found();
        QVERIFY(soon && soon->severity == Severity::Warning);
        // Trigger 12 us and the echo of the dead zone: 6 cm at 344.38 m/s are 174 us.
        QVERIFY2(english(soon->what)
                     .starts_with("'side' may ping 0.2 ms after 'ahead'; 40 ms is the least"),
                 english(soon->what).c_str());
        QCOMPARE(soon->target(), std::string("reading:side"));
    }

    /// A flat wall answers both only while their beams share a direction: up to 15 degrees here.
    void rangersThatLookApartAreAnAdvice()
    {
        for (const auto &[looks_deg, meet] : {std::pair{14.9, true},
                                              {15.1, false},
                                              {90.0, false},
                                              {-90.0, false},
                                              {355.0, true},
                                              {180.0, false}}) {
            Two t;
            t.facts["side"] = looking(looks_deg);
            QCOMPARE(t.spacing().inPass.front().beamsMeet, meet);
            const auto *soon = t.found();
            QVERIFY(soon);
            QVERIFY(soon->severity == (meet ? Severity::Warning : Severity::Advice));
        }
    }

    void twoReadingsOfOneRanger()
    {
        Two t;
        t.program.readings[1].instance = t.program.readings[0].instance;
        const auto *soon = t.found();
        QVERIFY(soon && english(soon->mend).starts_with("Read each ranger once a pass"));
    }

    /// A pause from the start of the pass shrinks when the first reading waits for its time-out:
    /// 1.2 m there and back at 344.38 m/s are 6.97 ms. The side's ping comes 7 ms late in one pass,
    /// the next pass on time.
    void aTimedPauseIsEatenByATimeOut()
    {
        Two t;
        t.program.passWaitKind = rules::WaitKind::Timed;
        t.value("pause").si = 0.045;
        const auto late = t.spacing();
        QVERIFY(late.nextPass && late.nextPass->first == "side");
        QVERIFY(std::abs(late.nextPass->gap_s - (0.045 - 0.006981)) < 5e-5);
        t.program.passWaitKind = rules::WaitKind::Blocking;
        QVERIFY(!t.spacing().nextPass);
    }

    /// The written program waits for a line that is still held: no ping comes too soon by it, and
    /// the pass is as long as the hold.
    void aLongHoldMakesALongPass()
    {
        Two t;
        const auto before = t.spacing();
        t.facts["side"].noEchoHold_s = 0.2;
        const auto spacing = t.spacing();
        QCOMPARE(spacing.nextPass.has_value(), before.nextPass.has_value());
        QCOMPARE(spacing.inPass.front().least_s, 0.04);
        const auto pass = rules::passTime(t.program, {{"side", {0.03, 0.2}}});
        QVERIFY(std::abs(pass.longest_s - 0.2) < 1e-9);
        QVERIFY(rules::passTime(t.program, {{"side", {0.03, 0.038}}}).longest_s < 0.2);
    }

    void readingsWithoutFactsAreNotJudged()
    {
        Two t;
        t.facts.erase("side");
        QVERIFY(t.spacing().inPass.empty());
    }

    /// The pause that is named is enough, and a millisecond less is not: for any program.
    void theNamedPauseIsTheLeast()
    {
        std::mt19937 random(8);
        const auto between = [&](double low, double high) {
            return std::uniform_real_distribution(low, high)(random);
        };
        int named = 0;
        Bench b;
        const auto first = b.reading();
        for (int round = 0; round < 500; ++round) {
            std::map<std::string, RangerFacts> facts;
            b.program.readings.clear();
            const int readings = std::uniform_int_distribution(1, 4)(random);
            for (int i = 0; i < readings; ++i) {
                auto r = first;
                r.name = "r" + std::to_string(i);
                r.instance = "ranger" + std::to_string(std::uniform_int_distribution(0, 3)(random));
                r.limit_m = between(0.3, 4.0);
                r.air_degC = between(5.0, 35.0);
                b.program.readings.push_back(r);
                facts[r.name] = {between(0.02, 0.05), between(1.0, 6.0), between(0.03, 0.2),
                                 between(-3.0, 3.0), between(0.1, 0.3)};
            }
            b.program.passWaitKind = round % 2 ? rules::WaitKind::Timed : rules::WaitKind::Blocking;
            b.value("pause").si = between(0.0, 0.08);
            const auto spacing = rules::pingSpacing(b.program, facts);
            if (!spacing.nextPass)
                continue;
            ++named;
            b.value("pause").si = *spacing.pause_s;
            QVERIFY(!rules::pingSpacing(b.program, facts).nextPass);
            b.value("pause").si = *spacing.pause_s - 0.0011;
            QVERIFY(*b.value("pause").si < 0.0 || rules::pingSpacing(b.program, facts).nextPass);
        }
        QVERIFY(named > 100);
    }
};

BADGER_TEST(TestPingSpacing)
#include "test_ping_spacing.moc"
