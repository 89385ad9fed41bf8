// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/link/lines.h"
#include "support/fixture.h"

#include <random>

using namespace badger;
using link::ChannelUnit;
using link::Header;
using link::Line;
using link::Sample;
using link::Words;

namespace
{

const Header avocet{
    "avocet-w3", 50, {{"ahead", ChannelUnit::Microseconds}, {"left", ChannelUnit::Level}}};

Line anyLine(std::mt19937 &random)
{
    const auto upTo = [&](unsigned most) { return static_cast<unsigned>(random()) % (most + 1); };
    const auto name = [&](size_t i) {
        std::string text(1, static_cast<char>('a' + i));
        for (auto n = upTo(5); n > 0; --n)
            text += "abz09-"[upTo(5)];
        return text;
    };
    if (upTo(3) == 0) {
        Header h{"b" + std::to_string(random()), static_cast<int>(1 + upTo(59999)), {}};
        for (size_t i = 0; i <= upTo(7); ++i)
            h.channels.push_back({name(i), static_cast<ChannelUnit>(upTo(5))});
        return h;
    }
    if (upTo(4) == 0)
        return Words{std::string(upTo(100), ' ' + static_cast<char>(1)) == "" ? "" : "motor left"};
    Sample s{static_cast<std::uint8_t>(upTo(255)),
             static_cast<std::uint16_t>(upTo(65535)),
             static_cast<std::uint32_t>(random()),
             {}};
    for (size_t i = 0; i <= upTo(9); ++i)
        s.values.push_back(upTo(5) == 0 ? link::none
                           : upTo(5) == 0
                               ? link::notRead
                               : link::number(static_cast<double>(random()) / 64.0 - 1e6));
    return s;
}

} // namespace

class TestLines final : public QObject
{
    Q_OBJECT
private slots:
    /// The published check value of this law.
    void theCheckIsTheUsualOne()
    {
        QCOMPARE(link::check("123456789"), std::uint16_t(0x29B1));
        QCOMPARE(link::check(""), std::uint16_t(0xFFFF));
    }

    void aHeaderReadsAsItIsDocumented()
    {
        const auto text = link::written(avocet);
        QVERIFY(text);
        QVERIFY(text->starts_with("badger 1 avocet-w3 every=50 ahead:us left:level !"));
        QVERIFY(text->ends_with("\n"));
        // A sample begins with the first two figures of that check.
        const auto sample =
            link::written(Sample{link::tagOf(avocet), 17, 53420, {link::number(1738), link::none}});
        QVERIFY(sample);
        QCOMPARE(QString::fromStdString(sample->substr(1, 2)),
                 QString::fromStdString(text->substr(text->find('!') + 1, 2)));
        QCOMPARE(QString::fromStdString(sample->substr(3, 20)), QString(" 17 53420 1738 none "));
    }

    void whatIsWrittenReadsBack()
    {
        std::mt19937 random(7);
        for (int i = 0; i < 3000; ++i) {
            const auto line = anyLine(random);
            auto text = link::written(line);
            QVERIFY(text);
            text->pop_back();
            const auto back = link::read(*text);
            QVERIFY2(back && *back == line, text->c_str());
            const auto withReturn = link::read(*text + "\r");
            QVERIFY(withReturn && *withReturn == line);
        }
    }

    /// The law finds every burst of up to 16 bits, so every bent byte.
    void aBentByteIsNeverRead()
    {
        std::mt19937 random(8);
        for (int i = 0; i < 60; ++i) {
            auto text = *link::written(anyLine(random));
            text.pop_back();
            for (size_t at = 0; at < text.size(); ++at)
                for (int bit = 0; bit < 8; ++bit) {
                    auto bent = text;
                    bent[at] = static_cast<char>(bent[at] ^ (1 << bit));
                    const auto got = link::read(bent);
                    // The figures of the check may be written in small letters.
                    QVERIFY2(!got || at + 4 >= text.size(), bent.c_str());
                }
        }
    }

    void halfALineIsNone()
    {
        const auto whole =
            *link::written(Sample{link::tagOf(avocet), 1, 2, {link::number(3), link::number(4)}});
        for (size_t n = 0; n + 1 < whole.size(); ++n)
            QVERIFY(!link::read(std::string_view(whole).substr(0, n)));
    }

    void whatCannotStandInALineIsRefused()
    {
        const auto refused = [](const Line &line) { return !link::written(line); };
        auto h = avocet;
        h.build = "two words";
        QVERIFY(refused(h));
        h = avocet;
        h.channels[1].name = "ahead";
        QVERIFY(refused(h));
        h.channels[1].name = "Left";
        QVERIFY(refused(h));
        h.channels.clear();
        QVERIFY(refused(h));
        h = avocet;
        h.every_ms = 0;
        QVERIFY(refused(h));
        h = avocet;
        for (int i = 0; i < 14; ++i)
            h.channels.push_back({"a-very-long-name-number" + std::string(1, char('a' + i)),
                                  ChannelUnit::Millimetres});
        QVERIFY(refused(h)); // sixteen may be, but not in one line of 240
        QVERIFY(refused(Sample{}));
        QVERIFY(refused(Sample{0, 0, 0, {link::number(std::nan(""))}}));
        QVERIFY(refused(Sample{0, 0, 0, {link::number(1e10)}}));
        QVERIFY(refused(Words{"so!"}));
        QVERIFY(refused(Words{"two\nlines"}));
    }

    void aWrongPartIsNamed()
    {
        const auto why = [](const std::string &body) {
            char check[8];
            std::snprintf(check, sizeof check, "!%04X", link::check(body + " "));
            const auto got = link::read(body + " " + check);
            return got ? std::string("read") : english(got.error().what);
        };
        QCOMPARE(why("#fine"), std::string("read"));
        QVERIFY(why("badger 1 b every=x a:us").find("whole number") != std::string::npos);
        QVERIFY(why("badger 1 b every=5 a:furlong").find("unit") != std::string::npos);
        QVERIFY(why("badger 1 b every=5 a:us a:us").find("two channels") != std::string::npos);
        QVERIFY(why("=AB 1 2 3x").find("value 1") != std::string::npos);
        QVERIFY(why("=AB 1 2 nan").find("value 1") != std::string::npos);
        QVERIFY(why("=AB 1 2  3").find("value 1") != std::string::npos);
        QVERIFY(why("=AB 70000 2 3").find("number") != std::string::npos);
        QVERIFY(why("=A 1 2 3").find("sign") != std::string::npos);
        QVERIFY(why("hello").find("neither") != std::string::npos);
    }
};

BADGER_TEST(TestLines)
#include "test_lines.moc"
