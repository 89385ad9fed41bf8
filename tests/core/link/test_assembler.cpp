// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/link/assembler.h"
#include "fuzz/link_checks.h"
#include "support/fixture.h"
#include "support/places.h"

#include <QDir>
#include <random>

using namespace badger;
using link::Assembler;
using link::Hearing;

namespace
{

const link::Header header{
    "b1", 50, {{"ahead", link::ChannelUnit::Microseconds}, {"line", link::ChannelUnit::Counts}}};

std::string sample(int number, unsigned time_ms, double ahead = 1700.0)
{
    return *link::written(link::Sample{link::tagOf(header),
                                       static_cast<std::uint16_t>(number),
                                       time_ms,
                                       {link::number(ahead), link::number(500)}});
}

std::string head()
{
    return *link::written(header);
}

template <class Kind> int count(const std::vector<link::Event> &events)
{
    int n = 0;
    for (const auto &e : events)
        n += std::holds_alternative<Kind>(e) ? 1 : 0;
    return n;
}

} // namespace

class TestAssembler final : public QObject
{
    Q_OBJECT
private slots:
    /// However the bytes are parted, the same comes out.
    void partsDoNotMatter()
    {
        std::string text = head();
        for (int i = 0; i < 40; ++i)
            text += sample(i, 1000U + 50U * static_cast<unsigned>(i)) +
                    (i % 9 == 0 ? "rub\xFFish\n" : "");
        Assembler whole;
        const auto expected = whole.take(text, 1.0).size();
        std::mt19937 random(5);
        for (int round = 0; round < 50; ++round) {
            Assembler a;
            size_t events = 0;
            for (size_t at = 0; at < text.size();) {
                const auto n = std::min<size_t>(1 + random() % 30, text.size() - at);
                events += a.take(std::string_view(text).substr(at, n), 1.0).size();
                at += n;
            }
            QCOMPARE(events, expected);
            QCOMPARE(a.tally().samples, 40ULL);
            QCOMPARE(a.tally().badLines, 5ULL);
            QCOMPARE(a.tally().bytes, text.size());
        }
    }

    void aSampleWithoutItsHeaderIsNotTaken()
    {
        Assembler a;
        QCOMPARE(count<link::SampleCame>(a.take(sample(1, 50), 0.0)), 0);
        QCOMPARE(a.tally().early, 1ULL);
        QCOMPARE(a.hearing(0.1), Hearing::Early);
        const auto events = a.take(head() + sample(2, 100), 0.2);
        QCOMPARE(count<link::SampleCame>(events), 1);
        QVERIFY(std::get<link::HeaderCame>(events[0]).another);
        QCOMPARE(a.hearing(0.3), Hearing::Fine);
        // The header of another program: samples of the one before are not read by it.
        auto other = header;
        other.channels[0].unit = link::ChannelUnit::Millimetres;
        a.take(*link::written(other), 0.4);
        QCOMPARE(count<link::SampleCame>(a.take(sample(3, 150), 0.5)), 0);
    }

    void aHeaderThatComesAgainIsNoOther()
    {
        Assembler a;
        a.take(head() + sample(7, 350), 0.0);
        const auto events = a.take(head() + sample(8, 400), 0.1);
        QVERIFY(!std::get<link::HeaderCame>(events[0]).another);
        QCOMPARE(a.tally().lost, 0ULL);
    }

    void missingNumbersAreCountedAcrossTheTurn()
    {
        Assembler a;
        a.take(head() + sample(65534, 100), 0.0);
        const auto events = a.take(sample(65535, 150) + sample(2, 300), 0.1);
        QCOMPARE(count<link::SamplesLost>(events), 1);
        QCOMPARE(std::get<link::SamplesLost>(events[1]).count, 2);
        QCOMPARE(a.tally().lost, 2ULL);
    }

    /// A board that is cut off in a line and starts anew: the half line and the new beginning make
    /// one bad line; nothing of it is a reading.
    void aRestartInMidLineIsNoReading()
    {
        Assembler a;
        a.take(head() + sample(200, 10000), 0.0);
        const auto cut = sample(201, 10050).substr(0, 12);
        auto events = a.take(cut + head(), 0.5);
        QCOMPARE(count<link::NoLine>(events), 1);
        QCOMPARE(count<link::SampleCame>(events), 0);
        events = a.take(head() + sample(0, 40), 3.0);
        QCOMPARE(count<link::Restarted>(events), 1);
        QCOMPARE(count<link::SamplesLost>(events), 0);
        QCOMPARE(count<link::SampleCame>(events), 1);
        QCOMPARE(a.tally().restarts, 1ULL);
    }

    void aLostPortGivesUpItsHalfLine()
    {
        Assembler a;
        a.take(head() + sample(1, 50).substr(0, 9), 0.0);
        a.interrupted();
        const auto events = a.take(sample(2, 100), 5.0);
        QCOMPARE(count<link::SampleCame>(events), 1);
        QCOMPARE(a.tally().badLines, 1ULL);
    }

    void theRateIsThatOfTheLastTwoSeconds()
    {
        Assembler a;
        a.take(head(), 0.0);
        for (int i = 0; i < 100; ++i)
            a.take(sample(i, static_cast<unsigned>(50 * i)), 0.05 * i);
        QVERIFY(std::abs(a.rate_hz(5.0) - 20.0) < 0.3);
        for (int i = 0; i < 100; ++i)
            a.take(sample(100 + i, static_cast<unsigned>(5000 + 10 * i)), 5.0 + 0.01 * i);
        QVERIFY(a.rate_hz(6.0) > 50.0);
        QCOMPARE(a.rate_hz(20.0), 0.0);
    }

    void silenceIsSaidAfterASecondOrThreeSamples()
    {
        Assembler a;
        a.take("", 10.0);
        QCOMPARE(a.hearing(10.5), Hearing::Waiting);
        QCOMPARE(a.hearing(11.5), Hearing::Silent);
        auto slow = header;
        slow.every_ms = 5000;
        a.take(*link::written(slow), 12.0);
        QCOMPARE(a.hearing(20.0), Hearing::Fine);
        QCOMPARE(a.hearing(28.0), Hearing::Silent);
    }

    void textOfAnotherProgramIsNoRubbish()
    {
        Assembler a(9600);
        for (int i = 0; i < 30; ++i)
            a.take("distance: 23.4 cm\r\n", 0.1 * i);
        QCOMPARE(a.hearing(3.0), Hearing::Stranger);
        QVERIFY(a.lastStrange().find("23.4 cm") != std::string::npos);
    }

    /// The fuzzer's laws, on the seeds that are kept and on a thousand bent ones.
    void theFuzzersLawsHoldOnItsSeeds()
    {
        QDir seeds(test::places::fuzzSeeds);
        const auto names = seeds.entryList(QDir::Files);
        QVERIFY(names.size() >= 6);
        std::mt19937 random(2);
        for (const auto &name : names) {
            QFile file(seeds.filePath(name));
            QVERIFY(file.open(QIODevice::ReadOnly));
            const auto bytes = file.readAll().toStdString();
            fuzz::checkLink(bytes);
            for (int i = 0; i < 170; ++i) {
                auto bent = bytes;
                for (int n = 0; n < 1 + i % 5; ++n)
                    bent[random() % bent.size()] = static_cast<char>(random() % 256);
                fuzz::checkLink(bent);
            }
        }
    }

    /// However much comes without an end of line, one line is kept.
    void anEndlessLineIsNotKept()
    {
        Assembler a;
        const std::string block(1 << 16, 'x');
        int bad = 0;
        for (int i = 0; i < 100; ++i)
            bad += count<link::NoLine>(a.take(block, 0.0));
        QCOMPARE(bad, 1);
        const auto events = a.take("\n" + head() + sample(1, 50), 0.0);
        QCOMPARE(count<link::SampleCame>(events), 1);
    }
};

BADGER_TEST(TestAssembler)

#include "test_assembler.moc"
