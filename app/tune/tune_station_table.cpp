// SPDX-License-Identifier: GPL-3.0-or-later
// Readings in columns, from a file or pasted: looked at first, and kept by hand.
#include "app/tune/tune_station.h"
#include "app/widgets/text.h"
#include "core/sense/ultrasonic.h"
#include "core/tune/csv.h"

#include <QClipboard>
#include <QFile>
#include <QFileDialog>
#include <QFileInfo>
#include <QGuiApplication>
#include <QKeyEvent>
#include <QLineEdit>
#include <QPushButton>

namespace badger::app
{

using tune::What;
using Column = tune::WantedColumn;

namespace
{

/// The columns of what is measured; empty where it is read off by a person.
std::vector<Column> columnsOf(What what)
{
    switch (what) {
    case What::Ruler:
        return {{"true", Column::Kind::Length, {}, false},
                {"reading", Column::Kind::Length, {}, true}};
    case What::Reflectance:
        return {{"distance", Column::Kind::Length, {}, false},
                {"reading", Column::Kind::Number, {}, false}};
    case What::Surfaces:
    case What::Trimmer:
        return {{"surface", Column::Kind::Word, {"light", "dark"}, false},
                {"reading", Column::Kind::Number, {}, false}};
    case What::Lamp:
        return {{"surface", Column::Kind::Word, {"light", "dark", "room"}, false},
                {"reading", Column::Kind::Number, {}, false}};
    case What::NoEcho:
        return {{"reading", Column::Kind::Number, {}, true}};
    default:
        return {};
    }
}

/// Rows with one truth or one word belong together, in the order in which they first come.
std::vector<tune::Stretch> stretchesOf(const tune::CsvColumns &got,
                                       const std::vector<Column> &wanted, What what,
                                       double sound_mps)
{
    std::vector<tune::Stretch> stretches;
    for (size_t row = 0; row < got.rows.size(); ++row) {
        const auto &last = got.columns.back()[row];
        double value = last.value_or(tune::nothingCame);
        if (what == What::Ruler && last)
            value = sense::echoTime_us(*last, sound_mps);
        tune::Stretch key;
        if (what == What::NoEcho)
            key.label = "open";
        else if (wanted.front().kind == Column::Kind::Word)
            key.label = wanted.front().words[static_cast<size_t>(*got.columns[0][row])];
        else
            key.truth = *got.columns[0][row];
        auto same = std::find_if(stretches.begin(), stretches.end(), [&](const tune::Stretch &s) {
            return s.label == key.label && s.truth == key.truth;
        });
        if (same == stretches.end())
            same = stretches.insert(stretches.end(), key);
        same->readings.push_back(value);
    }
    return stretches;
}

} // namespace

void TuneStation::fromFile()
{
    const auto *i = item();
    if (i == nullptr)
        return;
    const auto path = QFileDialog::getOpenFileName(this, tr("Readings from a file"), {},
                                                   tr("Columns (*.csv *.tsv *.txt)"));
    if (!path.isEmpty())
        takeFile(path);
}

void TuneStation::takeFile(const QString &path)
{
    const auto *i = item();
    QFile file(path);
    if (i == nullptr)
        return;
    if (!QFileInfo(path).isFile()) // a device or a pipe would never end
        return emit session().said(tr("%1 is no file.").arg(path), true);
    if (!file.open(QIODevice::ReadOnly))
        return emit session().said(tr("%1 cannot be read: %2.").arg(path, file.errorString()),
                                   true);
    const auto wanted = columnsOf(i->what);
    tune::CsvReader reader(path.toStdString(), wanted);
    while (!file.atEnd()) {
        const auto part = file.read(1 << 16);
        if (part.isEmpty())
            return emit session().said(
                tr("%1 cannot be read to its end: %2.").arg(path, file.errorString()), true);
        reader.take({part.constData(), static_cast<size_t>(part.size())});
    }
    takeTable(reader.finish(), wanted);
}

void TuneStation::takeText(const QString &text)
{
    const auto *i = item();
    if (i == nullptr)
        return;
    const auto wanted = columnsOf(i->what);
    const auto bytes = text.toStdString();
    takeTable(tune::readCsv(bytes, tr("what was pasted").toStdString(), wanted), wanted);
}

void TuneStation::takeTable(const Result<tune::CsvColumns> &got, const std::vector<Column> &wanted)
{
    const auto *i = item();
    if (wanted.empty())
        return emit session().said(tr("This is measured by hand and typed, step by step."), true);
    if (!got)
        return emit session().said(str(got.error().text()), true);
    const double sound = *sense::speedOfSound_mps(m_air_degC.value_or(tune::usualAir_degC));
    m_pending.reset();
    m_table = {};
    m_table.stretches = stretchesOf(*got, wanted, i->what, sound);
    constexpr size_t mostListed = 4;
    QStringList words;
    for (const auto &line : tune::wordsOf(*got, mostListed))
        words << str(line);
    m_table.words = words.join("\n");
    refreshPicture();
    refreshHand();
    m_keep->setFocus();
}

/// As it would stand if it were kept.
std::shared_ptr<const tune::Record> TuneStation::tableRecord() const
{
    const auto *i = item();
    if (i == nullptr || m_table.stretches.empty())
        return nullptr;
    auto record = std::make_shared<tune::Record>();
    record->what = i->what;
    record->instance = i->instance;
    record->basis = basisNow();
    record->stretches = m_table.stretches;
    return record;
}

void TuneStation::keepTable()
{
    const auto *i = item();
    if (i == nullptr)
        return;
    const bool done = session().edit(
        tr("Keep readings"), [&, what = i->what, part = i->instance](workshop::Workshop &w) {
            tune::Record fresh;
            fresh.id = newId<tune::Record>(session().document().ids());
            fresh.car = session().car()->id;
            fresh.what = what;
            fresh.instance = part;
            fresh.basis = basisNow();
            fresh.stretches = m_table.stretches;
            w.records.push_back(std::move(fresh));
        });
    if (!done) // said why; the table is still there
        return;
    m_table = {};
    m_anew = false;
    refresh();
    emit sumChanged();
}

/// Several lines that are pasted are a table, not one long row of readings.
bool TuneStation::eventFilter(QObject *watched, QEvent *event)
{
    if (watched == m_typed && event->type() == QEvent::KeyPress &&
        static_cast<QKeyEvent *>(event)->matches(QKeySequence::Paste)) {
        const auto text = QGuiApplication::clipboard()->text();
        const auto first = text.section('\n', 0, 0);
        if (text.trimmed().contains('\n') &&
            std::any_of(first.begin(), first.end(), [](QChar c) { return c.isLetter(); })) {
            takeText(text);
            return true;
        }
    }
    return StationView::eventFilter(watched, event);
}

} // namespace badger::app
