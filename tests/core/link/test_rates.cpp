// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/link/rate_guess.h"
#include "core/link/wire_bits.h"
#include "support/fixture.h"

#include <numeric>
#include <random>

using namespace badger;
using link::Receiver;

namespace
{

/// The same receiver worked out another way: the whole line as levels in small steps of time, and
/// then a walk over it.
std::string walked(const std::string &sent, const std::vector<int> &restsAfter, unsigned sends,
                   unsigned listens)
{
    const unsigned common = std::gcd(sends, listens);
    const unsigned senderBit = 2 * listens / common; // steps
    const unsigned listenerBit = 2 * sends / common;
    std::vector<bool> line(senderBit * 3, true);
    const auto put = [&](bool high, unsigned bits) {
        line.insert(line.end(), static_cast<size_t>(senderBit) * bits, high);
    };
    for (size_t i = 0; i < sent.size(); ++i) {
        put(false, 1);
        for (int b = 0; b < 8; ++b)
            put((static_cast<unsigned char>(sent[i]) >> b) & 1, 1);
        put(true, 1 + static_cast<unsigned>(restsAfter[i]));
    }
    std::string heard;
    size_t at = 1;
    while (at < line.size()) {
        if (!(line[at - 1] && !line[at])) {
            ++at;
            continue;
        }
        const size_t first = at + listenerBit / 2;
        if (first + 9 * static_cast<size_t>(listenerBit) >= line.size())
            break;
        if (line[first]) {
            at = first + 1;
            continue;
        }
        unsigned data = 0;
        for (unsigned b = 0; b < 8; ++b)
            data |= static_cast<unsigned>(line[first + (b + 1) * listenerBit]) << b;
        heard.push_back(static_cast<char>(data));
        at = first + 9 * listenerBit + 1;
    }
    return heard;
}

} // namespace

class TestRates final : public QObject
{
    Q_OBJECT
private slots:
    void atTheSameRateEveryByteArrives()
    {
        Receiver receiver(9600, 9600);
        std::string heard;
        std::string all;
        for (int b = 0; b < 256; ++b) {
            all.push_back(static_cast<char>(b));
            receiver.byte(static_cast<std::uint8_t>(b), heard);
        }
        QCOMPARE(heard, all);
    }

    /// Two per cent off, as clocks are, nothing is lost; with six per cent the last bits are.
    void aReceiverForgivesASmallDifference()
    {
        for (const unsigned listens : {98000U, 102000U}) {
            Receiver receiver(100000, listens);
            std::string heard;
            for (const char c : std::string("=14 10 500 2324 816 1 1 337 7209 !5477\n"))
                receiver.byte(static_cast<std::uint8_t>(c), heard);
            receiver.rest(20, heard);
            QCOMPARE(heard, std::string("=14 10 500 2324 816 1 1 337 7209 !5477\n"));
        }
        Receiver receiver(100000, 107000);
        std::string heard;
        for (int i = 0; i < 20; ++i)
            receiver.byte(0x7F, heard);
        QVERIFY(heard != std::string(20, 0x7F));
    }

    void itHearsWhatAWalkOverTheLineHears()
    {
        std::mt19937 random(3);
        const unsigned rates[] = {300, 1200, 9600, 14400, 38400, 57600, 115200};
        int bytes = 0;
        for (const auto sends : rates)
            for (const auto listens : rates) {
                std::string sent;
                std::vector<int> rests;
                for (int i = 0; i < 40; ++i) {
                    sent.push_back(static_cast<char>(random() % 256));
                    rests.push_back(random() % 4 == 0 ? static_cast<int>(random() % 30) : 0);
                }
                rests.back() = static_cast<int>(20 * std::max(1U, sends / listens));
                Receiver receiver(sends, listens);
                std::string heard;
                for (size_t i = 0; i < sent.size(); ++i) {
                    receiver.byte(static_cast<std::uint8_t>(sent[i]), heard);
                    receiver.rest(static_cast<std::uint64_t>(rests[i]), heard);
                }
                QCOMPARE(QByteArray::fromStdString(heard).toHex(),
                         QByteArray::fromStdString(walked(sent, rests, sends, listens)).toHex());
                bytes += static_cast<int>(heard.size());
            }
        QVERIFY(bytes > 1000);
    }

    void tooFewBytesGiveNoGuess()
    {
        link::ByteCounts counts{};
        QVERIFY(!link::guessRate(counts, 9600));
        counts[0x80] = 11;
        QVERIFY(!link::guessRate(counts, 9600));
        counts[0xF8] = 1;
        QVERIFY(link::guessRate(counts, 9600));
        QVERIFY(!link::guessRate(counts, 0));
    }
};

BADGER_TEST(TestRates)
#include "test_rates.moc"
