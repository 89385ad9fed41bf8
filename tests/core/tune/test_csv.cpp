// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/tune/csv.h"
#include "support/fixture.h"

using namespace badger;
using namespace badger::tune;
using Column = WantedColumn;

namespace
{

Result<CsvColumns> ruler(const std::string &text)
{
    return readCsv(
        text, "readings.csv",
        {{"true", Column::Kind::Length, {}, false}, {"reading", Column::Kind::Length, {}, true}});
}

Result<CsvColumns> surfaces(const std::string &text)
{
    return readCsv(text, "readings.csv",
                   {{"surface", Column::Kind::Word, {"light", "dark"}, false},
                    {"reading", Column::Kind::Number, {}, false}});
}

std::string why(const Result<CsvColumns> &r)
{
    return r ? std::string("it was taken") : english(r.error().text());
}

bool says(const Result<CsvColumns> &r, const char *words)
{
    if (why(r).find(words) != std::string::npos)
        return true;
    qWarning("%s", why(r).c_str());
    return false;
}

} // namespace

class TestCsv final : public QObject
{
    Q_OBJECT
private slots:
    void columnsComeByNameAndUnit()
    {
        for (const auto *text : {"true_cm,reading_cm\n20,19.5\n30,none\n",
                                 "reading_mm;note;true_m\r\n195;;0,2\r\n-;x;0,3",
                                 "\xEF\xBB\xBF True_CM \t Reading_CM \n20\t 19,5 \n30\t\n\n",
                                 "\"true_mm\",\"reading_cm\"\n\"200\",19.5\n300,-\n"}) {
            const auto got = ruler(text);
            QVERIFY2(got, why(got).c_str());
            QCOMPARE(got->rows.size(), size_t(2));
            QVERIFY(std::abs(*got->columns[0][0] - 0.20) < 1e-12);
            QVERIFY(std::abs(*got->columns[1][0] - 0.195) < 1e-12);
            QVERIFY(!got->columns[1][1]);
            QCOMPARE(got->badCount, size_t(0));
        }
    }

    void badRowsAreNamedAndGoodOnesGiven()
    {
        const auto got =
            ruler("true_cm,reading_cm\n20,19.5\n3o,29\n40\n50,49,1\n60,inf\n70,69\n,5\n" +
                  std::string("80,7\0", 5) + "9\n");
        QVERIFY(got);
        QCOMPARE(got->rows, (std::vector<size_t>{2, 7}));
        QCOMPARE(got->badCount, size_t(6));
        QCOMPARE(got->bad[0].row, size_t(3));
        QCOMPARE(got->bad[0].column, std::string("true"));
        QVERIFY(english(got->bad[0].what).find("3o") != std::string::npos);
        QVERIFY(english(got->bad[1].what).find("1 cell where") == 0);
        QVERIFY(english(got->bad[4].what).find("empty") != std::string::npos);
        QVERIFY(english(got->bad[5].what).find("NUL") != std::string::npos);
    }

    void whatCannotBeUsedSaysHowToMendIt()
    {
        QVERIFY(says(ruler(""), "nothing in it"));
        QVERIFY(says(ruler("true_cm,reading_cm\n"), "no row below"));
        QVERIFY(says(ruler("true,reading_cm\n1,2\n"), "column true has no unit; call it true_cm"));
        QVERIFY(says(ruler("wahr_cm,reading_cm\n1,2\n"), "there is no column true_cm; there are"));
        QVERIFY(says(ruler("true_cm,true_mm,reading_cm\n1,2,3\n"), "twice"));
        QVERIFY(says(ruler("true_cm,reading_cm\n20,5,19,2\n30,5,29,1\n"),
                     "with decimal commas, part the columns by semicolons"));
        QVERIFY(says(ruler("true_cm,reading_cm\nx,2\n"), "row 2: 'x' is no number"));
        QVERIFY(
            says(surfaces("surface,reading\n812,light\n233,dark\n"), "the columns are exchanged"));
        QVERIFY(says(surfaces("surface,reading\ngrey,5\n"), "'grey' is none of light, dark"));
        QVERIFY(surfaces("surface,reading\n LIGHT ,812\nDark,233\n"));
    }

    /// However it arrives, the same comes out.
    void partsDoNotMatter()
    {
        const std::string text = "true_cm;reading_cm\n20,5;19,5\n3x;4\n\"40\";39\n";
        const auto whole = ruler(text);
        QVERIFY(whole);
        for (size_t n = 1; n < text.size(); ++n) {
            CsvReader reader("readings.csv", {{"true", Column::Kind::Length, {}, false},
                                              {"reading", Column::Kind::Length, {}, true}});
            for (size_t at = 0; at < text.size(); at += n)
                reader.take(std::string_view(text).substr(at, n));
            const auto got = reader.finish();
            QVERIFY(got);
            QCOMPARE(got->columns[0], whole->columns[0]);
            QCOMPARE(got->badCount, size_t(1));
        }
    }

    /// Beyond the greatest number rows are counted only.
    void aBoundIsKept()
    {
        CsvReader reader("readings.csv", {{"reading", Column::Kind::Number, {}, false}});
        reader.take("reading\n");
        std::string block;
        for (int i = 0; i < 1000; ++i)
            block += "512\n";
        for (size_t i = 0; i < mostRows / 1000 + 3; ++i)
            reader.take(block);
        const auto got = reader.finish();
        QVERIFY(got);
        QCOMPARE(got->rows.size(), mostRows);
        QCOMPARE(got->beyond, size_t(3000));
    }
};

BADGER_TEST(TestCsv)
#include "test_csv.moc"
