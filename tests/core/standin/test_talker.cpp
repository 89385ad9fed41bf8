// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/link/assembler.h"
#include "core/sense/ultrasonic.h"
#include "core/standin/talker.h"
#include "support/fixture.h"

using namespace badger;
using standin::Fault;
using standin::Settings;
using standin::Talker;

namespace
{

std::string spoken(const Settings &s, std::uint64_t seed, double for_s, std::uint32_t baud = 115200)
{
    Talker talker(seed, baud);
    std::string all;
    while (static_cast<double>(talker.nextAt_us()) < for_s * 1e6)
        all += talker.next(s).bytes;
    return all;
}

/// The values of one channel, as a listener takes them.
std::vector<link::Value> channel(const std::string &text, const std::string &name)
{
    link::Assembler a;
    std::vector<link::Value> values;
    for (const auto &e : a.take(text, 0.0))
        if (const auto *s = std::get_if<link::SampleCame>(&e))
            for (size_t i = 0; i < a.header()->channels.size(); ++i)
                if (a.header()->channels[i].name == name)
                    values.push_back(s->sample.values[i]);
    return values;
}

double mean(const std::vector<link::Value> &values)
{
    double sum = 0.0;
    for (const auto &v : values)
        sum += v.number;
    return sum / static_cast<double>(values.size());
}

} // namespace

class TestTalker final : public QObject
{
    Q_OBJECT
private slots:
    void theSameSeedSaysTheSameToTheByte()
    {
        Settings s;
        s.faults = {Fault::Jitter, Fault::LostEchoes, Fault::LostLines};
        QVERIFY(spoken(s, 7, 20.0) == spoken(s, 7, 20.0));
        QVERIFY(spoken(s, 7, 20.0) != spoken(s, 8, 20.0));
    }

    void aHeaderComesAtOnceEveryThreeSecondsAndWhenAsked()
    {
        Settings s;
        const auto text = spoken(s, 1, 10.0);
        QVERIFY(text.starts_with("badger 1 "));
        QCOMPARE(QString::fromStdString(text).count("badger 1 "), 4);
        Talker talker(1, 115200);
        talker.next(s);
        talker.next(s);
        talker.ask();
        QVERIFY(talker.next(s).bytes.starts_with("badger 1 "));
        // Another rate or another choice of sensors is another header.
        s.sensors = {"ahead"};
        QVERIFY(talker.next(s).bytes.starts_with("badger 1 standin-1 every=50 ahead:us !"));
    }

    /// An echo of 40 cm at 22 degrees takes 2 x 0.4 / 344.4 s.
    void theReadingsAreThoseOfTheBench()
    {
        Settings s;
        const auto text = spoken(s, 3, 30.0);
        const double expected_us = sense::echoTime_us(0.4, *sense::speedOfSound_mps(22.0));
        const auto ahead = channel(text, "ahead");
        QVERIFY(ahead.size() > 590);
        QVERIFY(std::abs(mean(ahead) - expected_us) < 4.0);
        // (0.008 + 0.009)^2 = 2.89e-4; 0.2635 x 0.85 / that = 775, + 12 dark + 19 of ambient.
        QVERIFY(std::abs(mean(channel(text, "line")) - 806.0) < 2.0);
        QVERIFY(std::abs(mean(channel(text, "battery")) - 7200.0) < 3.0);
        s.light = false;
        QVERIFY(std::abs(mean(channel(spoken(s, 3, 30.0), "line")) - 213.4) < 2.0);
    }

    void openSpaceIsWhatTheFaultSays()
    {
        Settings s;
        s.distance_m.reset();
        QVERIFY(std::abs(mean(channel(spoken(s, 1, 5.0), "ahead")) - 38000.0) < 4.0);
        s.faults = {Fault::NoEchoLong};
        QVERIFY(std::abs(mean(channel(spoken(s, 1, 5.0), "ahead")) - 190000.0) < 1.0);
        s.faults = {Fault::NoEchoZero};
        QCOMPARE(mean(channel(spoken(s, 1, 5.0), "ahead")), 0.0);
        s.faults = {Fault::LateEcho}; // 2 x 2.6 / 344.4 s less 12 ms
        QVERIFY(std::abs(mean(channel(spoken(s, 1, 5.0), "ahead")) - 3098.0) < 3.0);
    }

    void digitalModulesFollowTheirTrimmer()
    {
        Settings s;
        for (const auto &[trimmer, light, dark] :
             {std::tuple{0.10, 1.0, 1.0}, {0.50, 1.0, 0.0}, {0.95, 0.0, 0.0}}) {
            s.trimmer = trimmer;
            s.light = true;
            QCOMPARE(mean(channel(spoken(s, 1, 3.0), "right")), light);
            s.light = false;
            QCOMPARE(mean(channel(spoken(s, 1, 3.0), "right")), dark);
        }
        s.trimmer = 0.5;
        s.faults = {Fault::Inverted};
        const auto text = spoken(s, 1, 3.0);
        QCOMPARE(mean(channel(text, "left")), 1.0);
        QCOMPARE(mean(channel(text, "right")), 0.0);
    }

    /// No byte leaves before the one before has: at 1200 baud a line of 50 characters takes 0.4 s.
    void bytesLeaveNoFasterThanTheLineAllows()
    {
        for (const auto baud : {1200U, 9600U, 115200U}) {
            Talker talker(1, baud);
            Settings s;
            s.rate_hz = 100.0;
            std::uint64_t free_us = 0;
            for (int i = 0; i < 300; ++i) {
                const auto burst = talker.next(s);
                QVERIFY(burst.at_us >= free_us);
                free_us = burst.at_us + burst.bytes.size() * 10 * 1000000ULL / baud;
                // A send buffer of 64 characters is all that a board can be ahead.
                QVERIFY(talker.nextAt_us() + 64ULL * 10 * 1000000 / baud + 20 >= free_us);
            }
        }
    }

    void lostLinesAreFoundByTheirNumbers()
    {
        Settings s;
        s.faults = {Fault::LostLines};
        link::Assembler a;
        a.take(spoken(s, 2, 100.0), 0.0);
        const auto &t = a.tally();
        QVERIFY(t.samples + t.lost >= 1990);
        const double share = static_cast<double>(t.lost) / static_cast<double>(t.samples + t.lost);
        QVERIFY(share > 0.03 && share < 0.07);
        QCOMPARE(t.badLines, 0ULL);
    }

    /// Every pair of usual rates: what is heard in two seconds is rubbish, and names the sender's
    /// rate; where it does not, it does not say that it is sure.
    void aWrongRateIsRecognisedAndTheRightOneNamed()
    {
        Settings s;
        int right = 0;
        int sure = 0;
        int wrongButSure = 0;
        int all = 0;
        for (const auto sends : link::usualRates()) {
            if (sends < 4800)
                continue; // such a board cannot say twenty samples a second
            for (const auto listens : link::usualRates()) {
                if (sends == listens)
                    continue;
                Talker talker(11, sends);
                standin::Wire wire(sends, listens);
                link::Assembler a(listens);
                double time_s = 0.0;
                while (time_s < 2.0) {
                    const auto burst = talker.next(s);
                    time_s = static_cast<double>(burst.at_us) * 1e-6;
                    a.take(wire.heard(burst), time_s);
                }
                const auto hearing = a.hearing(time_s);
                QVERIFY2(hearing != link::Hearing::Fine, qPrintable(QString::number(listens)));
                QCOMPARE(a.tally().samples, 0ULL);
                const auto guess = a.likelyRate();
                if (!guess)
                    continue;
                ++all;
                right += guess->likely_baud == sends ? 1 : 0;
                sure += guess->isSure() ? 1 : 0;
                wrongButSure += guess->isSure() && guess->likely_baud != sends ? 1 : 0;
                // A receiver many times faster than the sender hears nothing but zeros.
                if (listens < 12 * sends && listens < 1000000)
                    QCOMPARE(guess->likely_baud, sends);
            }
        }
        QCOMPARE(wrongButSure, 0);
        QVERIFY(sure * 10 >= all * 8);
        QVERIFY(right >= sure);
    }

    void withinTwoSecondsTheRightRateIsProposed()
    {
        Settings s;
        Talker talker(1, 115200);
        standin::Wire wire(115200, 9600);
        link::Assembler a(9600);
        double time_s = 0.0;
        while (time_s < 1.9) {
            const auto burst = talker.next(s);
            time_s = static_cast<double>(burst.at_us) * 1e-6;
            a.take(wire.heard(burst), time_s);
        }
        QCOMPARE(a.hearing(time_s), link::Hearing::Rubbish);
        QVERIFY(a.likelyRate());
        QCOMPARE(a.likelyRate()->likely_baud, 115200U);
        QVERIFY(a.likelyRate()->isSure());
    }

    void aWrongSettingIsRefusedAndChangesNothing()
    {
        Settings s;
        for (const auto &[key, value] :
             std::vector<std::pair<const char *, const char *>>{{"distance", "40"},
                                                                {"distance", "-3cm"},
                                                                {"distance", "11m"},
                                                                {"surface", "grey"},
                                                                {"trimmer", "1.2"},
                                                                {"ambient", "nan"},
                                                                {"air", "90C"},
                                                                {"rate", "0"},
                                                                {"sensors", "ahead,ahead"},
                                                                {"sensors", "ahead,"},
                                                                {"fault", "rust"},
                                                                {"colour", "red"}}) {
            const auto got = standin::set(s, key, value);
            QVERIFY2(!got, value);
            QVERIFY(!english(got.error().what).empty());
        }
        QCOMPARE(*s.distance_m, 0.4);
        QVERIFY(standin::set(s, "distance", "none"));
        QVERIFY(!s.distance_m);
        QVERIFY(standin::set(s, "fault", "jitter") && standin::set(s, "no-fault", "jitter"));
        QVERIFY(s.faults.empty());
    }
};

BADGER_TEST(TestTalker)
#include "test_talker.moc"
