// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/base/medium.h"
#include "support/fixture.h"

#include <QXmlStreamReader>
#include <csv.h>
#include <random>

using namespace badger;

namespace
{

/// Texts that mean something somewhere.
const std::vector<std::string> &hostile()
{
    static const std::vector<std::string> all = {"plain",
                                                 "",
                                                 "<img src=\"file:///etc/hostname\">",
                                                 "</title><script>x</script>",
                                                 "a & b",
                                                 "two\nlines",
                                                 "quote\"and\\slash",
                                                 "\x1b[31mred\x1b[0m",
                                                 "bell\a tab\t",
                                                 "=1+1",
                                                 "+1",
                                                 "-140",
                                                 "-x",
                                                 "@cmd",
                                                 "'=1",
                                                 "''-3",
                                                 "\tlead",
                                                 " space ",
                                                 "a,b;c",
                                                 "\r\nline",
                                                 "nul-like \x01",
                                                 "c1 \xc2\x9b"
                                                 "31m",
                                                 "rtl \xe2\x80\xae"
                                                 "evil",
                                                 "bad \xff\xfe utf",
                                                 "cut \xe2\x82",
                                                 "é ü 好 🦡",
                                                 "what?"
                                                 "?/",
                                                 "\xef\xbb\xbf"
                                                 "bom",
                                                 "'",
                                                 "*/ // #include <x>",
                                                 "$(rm)",
                                                 "%1 %2 %n"};
    return all;
}

/// Random bytes, most of them from the characters that mean something.
std::string randomText(std::mt19937 &random)
{
    static const std::string loaded = "<>&\"'\\\n\r\t,;=+-@?/*\x1b\x7f\xc2\x9b\xe2\x80\xae\xff 0a";
    std::string text;
    const auto n = random() % 12;
    for (unsigned i = 0; i < n; ++i)
        text += loaded[random() % loaded.size()];
    return text;
}

std::vector<std::vector<std::string>> readCsv(const std::string &text)
{
    csv_parser parser;
    csv_init(&parser, CSV_APPEND_NULL);
    std::vector<std::vector<std::string>> rows = {{}};
    const auto field = [](void *data, size_t size, void *to) {
        static_cast<std::vector<std::vector<std::string>> *>(to)->back().emplace_back(
            static_cast<const char *>(data), size);
    };
    const auto row = [](int, void *to) {
        static_cast<std::vector<std::vector<std::string>> *>(to)->emplace_back();
    };
    csv_parse(&parser, text.data(), text.size(), field, row, &rows);
    csv_fini(&parser, field, row, &rows);
    csv_free(&parser);
    return rows;
}

bool hasControl(const std::string &text, const std::string &allowed = {})
{
    const auto wide = QString::fromStdString(text);
    for (const auto c : wide) {
        const auto u = c.unicode();
        if ((u < 0x20 || (u >= 0x7F && u <= 0x9F)) && allowed.find(char(u)) == std::string::npos)
            return true;
        if (u >= 0x202A && u <= 0x202E)
            return true;
    }
    return false;
}

} // namespace

class TestMedium final : public QObject
{
    Q_OBJECT
private slots:
    void whatMeansNothingStaysAsItIs()
    {
        for (const std::string text : {"Avocet", "é ü 好 🦡", "a < b & c", "D5 (PWM)"})
            QCOMPARE(medium::line(text), text);
        QCOMPARE(medium::source("Ines & Otto's car"), std::string("Ines & Otto's car"));
        QCOMPARE(medium::csv("board.D5"), std::string("board.D5"));
        QCOMPARE(medium::terminal("two\nlines\tand"), std::string("two\nlines\tand"));
    }

    void controlsAreShownNotObeyed()
    {
        QCOMPARE(medium::line("a\x1b[31m\n"), std::string("a␛[31m␊"));
        QCOMPARE(medium::line("\xc2\x9b"), std::string("\xef\xbf\xbd"));
        QCOMPARE(medium::line("\x7f"), std::string("␡"));
        QCOMPARE(medium::line("\xff\xe2\x82"), std::string("\xef\xbf\xbd\xef\xbf\xbd\xef\xbf\xbd"));
        for (const auto &text : hostile()) {
            QVERIFY(!hasControl(medium::line(text)));
            QVERIFY(!hasControl(medium::terminal(text), "\n\t"));
        }
    }

    void xmlIsReadBackAsText()
    {
        std::mt19937 random(7);
        for (int i = 0; i < 3000; ++i) {
            const auto text = i < int(hostile().size()) ? hostile()[size_t(i)] : randomText(random);
            const auto xml = "<a b=\"" + medium::xml(text) + "\">" + medium::xml(text) + "</a>";
            QXmlStreamReader reader(QString::fromStdString(xml));
            QVERIFY(reader.readNextStartElement());
            QCOMPARE(reader.attributes().value("b").toString().toStdString(), medium::line(text));
            QCOMPARE(reader.readElementText().toStdString(), medium::line(text));
            QVERIFY2(!reader.hasError(), xml.c_str());
        }
    }

    void sourceEndsNoCommentAndNoString()
    {
        std::mt19937 random(11);
        for (int i = 0; i < 3000; ++i) {
            const auto out = medium::source(randomText(random));
            QVERIFY(out.find_first_of("\n\r\"\\") == std::string::npos);
            QVERIFY(!hasControl(out));
            QVERIFY(out.find("??") == std::string::npos);
        }
        QCOMPARE(medium::source("what?"
                                "?/"),
                 std::string("what?_/"));
    }

    void csvGoesThereAndBack()
    {
        std::mt19937 random(3);
        for (int i = 0; i < 3000; ++i) {
            const auto a = i < int(hostile().size()) ? hostile()[size_t(i)] : randomText(random);
            const auto b = randomText(random);
            const auto rows = readCsv(medium::csv(a) + "," + medium::csv(b) + ",end\r\n");
            QCOMPARE(rows[0].size(), size_t(3));
            QVERIFY2(medium::csvValue(rows[0][0]) == a,
                     (medium::line(a) + " became " + medium::line(rows[0][0])).c_str());
            QCOMPARE(medium::csvValue(rows[0][1]), b);
        }
    }

    void formulasAreTextAndNumbersAreNumbers_data()
    {
        QTest::addColumn<QString>("text");
        QTest::addColumn<QString>("field");
        QTest::newRow("formula") << "=1+1"
                                 << "'=1+1";
        QTest::newRow("at") << "@cmd"
                            << "'@cmd";
        QTest::newRow("minus text") << "-x"
                                    << "'-x";
        QTest::newRow("number") << "-140"
                                << "-140";
        QTest::newRow("plus number") << "+3.5"
                                     << "+3.5";
        QTest::newRow("quoted already") << "'=1"
                                        << "''=1";
        QTest::newRow("apostrophe alone") << "'tis"
                                          << "'tis";
        QTest::newRow("formula with comma") << "=a,b"
                                            << "\"'=a,b\"";
    }
    void formulasAreTextAndNumbersAreNumbers()
    {
        QFETCH(QString, text);
        QFETCH(QString, field);
        QCOMPARE(QString::fromStdString(medium::csv(text.toStdString())), field);
        QCOMPARE(
            QString::fromStdString(medium::csvValue(readCsv(field.toStdString() + ",x\r\n")[0][0])),
            text);
    }

    void terminalJsonKeepsTheValue()
    {
        const std::string json = "{\"a\": \"x\xc2\x9b\x7f\xe2\x80\xae\"}";
        QCOMPARE(medium::terminalJson(json), std::string("{\"a\": \"x\\u009b\\u007f\\u202e\"}"));
        QCOMPARE(medium::terminalJson("{\"name\": \"é 🦡\"}"),
                 std::string("{\"name\": \"é 🦡\"}"));
    }

    void cutsWholeCharacters()
    {
        QCOMPARE(medium::shortened("héé", 2), std::string("hé..."));
        QCOMPARE(medium::shortened("hé", 2), std::string("hé"));
        QCOMPARE(medium::shortened("🦡🦡🦡", 1), std::string("🦡..."));
    }

    void knowsUtf8()
    {
        QVERIFY(medium::isUtf8("é 🦡 \xef\xbf\xbd"));
        for (const std::string bad :
             {"\xe9", "\xc0\x80", "\xed\xa0\x80", "\xf5\x80\x80\x80", "\xe2\x82"})
            QVERIFY(!medium::isUtf8(bad));
    }
};

BADGER_TEST(TestMedium)
#include "test_medium.moc"
