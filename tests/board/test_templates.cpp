// SPDX-License-Identifier: GPL-3.0-or-later
// Every template, in each style: written out, compiled for the real chip, and its machine code run
// on an emulated one against the interpreter.
#include "board/boards.h"
#include "board/equal.h"
#include "core/judge/program_around.h"

#include <QTemporaryDir>

using namespace badger;
using boardcode::Style;

class TestTemplates final : public QObject
{
    Q_OBJECT
private slots:
    void eachTemplateInEachStyle_data()
    {
        QTest::addColumn<QString>("name");
        QTest::addColumn<bool>("timed");
        for (const auto &t : io::templates())
            for (const bool timed : {false, true})
                QTest::newRow((t.name + (timed ? " timed" : " blocking")).c_str())
                    << QString::fromStdString(t.name) << timed;
    }

    void eachTemplateInEachStyle()
    {
        QFETCH(QString, name);
        QFETCH(bool, timed);
        test::Bench b(test::carFor(name.toStdString()));
        equal(b, name.toStdString(), timed ? Style::Timed : Style::Blocking, 1);
    }

    /// The bare chip: the same texts for other pins, half the clock and an eighth of the memory.
    void onTheBareChip_data() { eachTemplateInEachStyle_data(); }
    void onTheBareChip()
    {
        QFETCH(QString, name);
        QFETCH(bool, timed);
        const auto id = name.toStdString();
        test::Bench b(test::carFor(id));
        test::putOn(b, "chip-14-pin");
        static const std::map<std::string, const char *> refused = {
            {"guarded-drive", "has no link that brings them"},
            {"fixed-rangers", "the program has no pin for it"}, // three rangers: 12 lines
        };
        const auto it = refused.find(id);
        if (it == refused.end()) {
            equal(b, id, timed ? Style::Timed : Style::Blocking, 1);
            return;
        }
        const kit::Assembly car(b.car, b.catalogue);
        const auto program = test::briefly(id, car);
        VERIFY_OK(program);
        const auto code =
            boardcode::boardCode(*program, car, judge::writing(b.workshop, car, *program));
        QVERIFY(!code);
        QVERIFY2(english(code.error().text()).find(it->second) != std::string::npos,
                 english(code.error().text()).c_str());
    }

private:
    static void equal(test::Bench &b, const std::string &id, Style style, std::uint32_t seeds)
    {
        const kit::Assembly car(b.car, b.catalogue);
        const auto program = test::briefly(id, car);
        VERIFY_OK(program);
        QTemporaryDir folder;
        auto writing = judge::writing(b.workshop, car, *program);
        writing.style = style;
        const auto compiled = board::compiled(*program, car, writing, folder.path().toStdString());
        VERIFY_OK(compiled);
        const bool chip = compiled->kind == board::Kind::Chip;
        QVERIFY2(compiled->bytes < (chip ? 8192 : 32768 - 512),
                 qPrintable(QString::number(compiled->bytes)));
        QVERIFY2(compiled->variables < (chip ? 400 : 1700),
                 qPrintable(QString::number(compiled->variables)));
        size_t entries = 0;
        double latest_us = 0.0;
        for (std::uint32_t seed = 1; seed <= seeds; ++seed) {
            const auto feed = board::feedFor(compiled->program, compiled->machine, seed, 60);
            const auto ran = board::onChip(*compiled, feed);
            const auto model = board::onModel(*compiled, ran, chip ? 3000.0 : 1500.0);
            const auto parts = board::difference(ran, model);
            QVERIFY2(parts.empty(), (std::to_string(seed) + ": " + parts).c_str());
            entries += ran.told.size();
            latest_us = std::max(latest_us, model.latest_us);
        }
        QVERIFY(entries > 3);
        qInfo("%d bytes, %d of memory, %d entries, sums %.0f us at most", compiled->bytes,
              compiled->variables, int(entries), latest_us);
    }
};

BADGER_TEST(TestTemplates)
#include "test_templates.moc"
