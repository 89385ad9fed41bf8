// SPDX-License-Identifier: GPL-3.0-or-later
// Ranger programs with every unit, number, policy, driver and way to wait: their machine code
// against the interpreter. And the comparison itself: it has to notice what is not the same.
#include "board/equal.h"
#include "core/boardcode/board_variants.h"
#include "core/judge/program_around.h"
#include "core/kit/roles.h"

#include <QTemporaryDir>

using namespace badger;
using test::Bench;
using test::variants;

namespace
{

Result<board::Compiled> compiledFor(Bench &b, const QTemporaryDir &folder)
{
    const kit::Assembly car(b.car, b.catalogue);
    return board::compiled(b.program, car, judge::writing(b.workshop, car, b.program),
                           folder.path().toStdString());
}

/// Goes where the farthest of three looks is far, else stands; what is too near and too far counts
/// apart.
rules::Program scanning(const Bench &b, rules::NoEcho policy)
{
    using rules::ValueKind;
    rules::Program p = rules::haltProgram(Id<rules::Program>{"scan"}, "scan");
    p.values = {{"halt", "stop at this distance", ValueKind::Distance, 0.3},
                {"speed", "", ValueKind::Speed, 120.0},
                {"pause", "", ValueKind::Duration, 0.001},
                {"dwell", "", ValueKind::Duration, 0.003}};
    auto &r = p.readings.front();
    r.source = rules::Source::Scan;
    r.instance = kit::roles({b.car, b.catalogue}).at("ranger");
    r.swivel = rules::Swivel{kit::roles({b.car, b.catalogue}).at("servo"), {50, 90, 130}, "dwell"};
    r.choice.emplace();
    r.air_degC = 20.0;
    r.limit_m = 1.0;
    r.noEcho = policy;
    r.nearest_m = 0.04;
    r.tooNear = rules::NoEcho::Blocked;
    r.farthest_m = 0.8;
    r.wild = rules::NoEcho::Ignore;
    return p;
}

} // namespace

class TestVariants final : public QObject
{
    Q_OBJECT
private slots:
    void doesWhatTheInterpreterDoes_data()
    {
        QTest::addColumn<int>("index");
        for (size_t i = 0; i < variants().size(); ++i)
            QTest::newRow(variants()[i].name) << int(i);
    }
    void doesWhatTheInterpreterDoes()
    {
        QFETCH(int, index);
        Bench b;
        variants()[size_t(index)].bend(b);
        for (auto &v : b.program.values)
            if (v.kind == rules::ValueKind::Duration && v.si)
                v.si = *v.si / 20.0; // the emulated chip is slow
        QTemporaryDir folder;
        const auto compiled = compiledFor(b, folder);
        VERIFY_OK(compiled);
        auto feed = board::feedFor(compiled->program, compiled->machine, 17, 60);
        auto &echoes = feed.echoes_us.at("ranger");
        // Each microsecond round the threshold's own echo.
        for (std::uint32_t us = 1840; us <= 1930; us += 7)
            echoes.push_back(us);
        // A print makes a pass as long as its line.
        const double sums_us = b.program.prints.on ? 60'000.0 : 1500.0;
        const auto chip = board::onChip(*compiled, feed);
        const auto parts = board::difference(chip, board::onModel(*compiled, chip, sums_us));
        QVERIFY2(parts.empty(), parts.c_str());
        QVERIFY(chip.told.size() > 5);
        QCOMPARE(chip.heard.echoes_us.at("ranger").size(), echoes.size());
        for (size_t i = 0; i < echoes.size(); ++i)
            if (chip.heard.echoes_us.at("ranger")[i] != 0) {
                const auto off = double(chip.heard.echoes_us.at("ranger")[i]) - double(echoes[i]);
                QVERIFY2(std::abs(off) <= 24.0, qPrintable(QString::number(off)));
            }
        if (b.program.prints.on)
            QVERIFY2(chip.printed.find("ahead ") != std::string::npos, chip.printed.c_str());
    }

    /// A scan that is taken anew again and again, while the rules wait for its end.
    void aScanInEveryPass_data()
    {
        QTest::addColumn<int>("policy");
        QTest::addColumn<bool>("timed");
        for (const auto policy : {rules::NoEcho::Clear, rules::NoEcho::Stop, rules::NoEcho::Ignore})
            for (const bool timed : {false, true})
                QTest::addRow("%s, %s", rules::word(policy), timed ? "timed" : "blocking")
                    << int(policy) << timed;
    }
    void aScanInEveryPass()
    {
        QFETCH(int, policy);
        QFETCH(bool, timed);
        Bench b("Redshank");
        const auto program = scanning(b, rules::NoEcho(policy));
        QTemporaryDir folder;
        const kit::Assembly car(b.car, b.catalogue);
        auto writing = judge::writing(b.workshop, car, program);
        writing.style = timed ? boardcode::Style::Timed : boardcode::Style::Blocking;
        const auto compiled = board::compiled(program, car, writing, folder.path().toStdString());
        VERIFY_OK(compiled);
        const auto chip =
            board::onChip(*compiled, board::feedFor(compiled->program, compiled->machine, 3, 60));
        const auto parts = board::difference(chip, board::onModel(*compiled, chip));
        QVERIFY2(parts.empty(), parts.c_str());
        QVERIFY(chip.told.size() > 20);
    }

    /// One count of speed, one centimetre, one state: each is noticed.
    void whatIsNotTheSameIsNoticed_data()
    {
        QTest::addColumn<int>("kind");
        QTest::newRow("a speed") << 0;
        QTest::newRow("a threshold") << 1;
        QTest::newRow("a comparison") << 2;
        QTest::newRow("where a rule leads") << 3;
        QTest::newRow("a pause") << 4;
        QTest::newRow("what no echo means") << 5;
    }
    void whatIsNotTheSameIsNoticed()
    {
        QFETCH(int, kind);
        Bench b;
        QTemporaryDir folder;
        b.value(b.program.passWait.c_str()).si = 0.004;
        auto compiled = compiledFor(b, folder);
        VERIFY_OK(compiled);
        auto feed = board::feedFor(compiled->program, compiled->machine, 5, 80);
        for (const double cm : {60.5, 60.5, 32.5, 32.5, 60.5, 20.5, 20.5}) // 32 is the threshold
            feed.echoes_us.at("ranger").push_back(
                static_cast<std::uint32_t>(cm / compiled->machine.sensors.front().unitsPer_us));
        auto &p = compiled->program;
        switch (kind) {
        case 0:
            b.value("speed").si = *b.value("speed").si + 1.0;
            break;
        case 1:
            b.value("halt").si = *b.value("halt").si + 0.01;
            break;
        case 2:
            b.program.everywhere[0].when[0].compare = rules::Compare::Less;
            break;
        case 3:
            b.program.everywhere[0].go = b.program.everywhere[1].go;
            break;
        case 4:
            b.value(b.program.passWait.c_str()).si = 0.007;
            break;
        default:
            b.reading().noEcho = rules::NoEcho::Blocked;
        }
        p = b.program;
        compiled->machine = *machine::lower(p);
        const auto chip = board::onChip(*compiled, feed);
        QVERIFY(chip.error.empty());
        QVERIFY(!board::difference(chip, board::onModel(*compiled, chip)).empty());
    }
};

BADGER_TEST(TestVariants)
#include "test_variants.moc"
