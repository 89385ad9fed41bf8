// SPDX-License-Identifier: GPL-3.0-or-later
// The station's commands: its pages, and what is printed, saved and read.
#include "app/wire/wire_station.h"

#include "app/widgets/text.h"
#include "app/wire/wire_card.h"
#include "app/wire/wire_edits.h"
#include "core/boardcode/part_tests.h"
#include "core/io/storage.h"
#include "core/wiring/wire_list.h"

#include <QAction>
#include <QDir>
#include <QFileDialog>
#include <array>

namespace badger::app
{

void WireStation::makeActions()
{
    const auto add = [this](const QString &text, const QKeySequence &keys, auto call) {
        auto *a = new QAction(text, this);
        a->setShortcut(keys);
        connect(a, &QAction::triggered, this, call);
        m_actions << a;
        return a;
    };
    m_add = add(tr("&Add a wire"), QKeySequence(Qt::CTRL | Qt::Key_Return), [this] {
        session().selectStation(judge::Station::Wire);
        showPage(Page::Harness);
        addWire();
    });
    m_remove = add(tr("Remove the &wire"), QKeySequence(Qt::CTRL | Qt::Key_Backspace),
                   [this] { removeWire(); });
    add(tr("Wire as the &kit says"), QKeySequence(Qt::CTRL | Qt::SHIFT | Qt::Key_W),
        [this] { propose(); });
    m_takePins = add(tr("Take the program's &pins from the wires"), {}, [this] { takePins(); });
    const std::array<std::pair<QString, Page>, 4> pages = {
        {{tr("The &harness"), Page::Harness},
         {tr("&Motion from the wires"), Page::Motion},
         {tr("&Changes and the pin plan"), Page::Changes},
         {tr("Wire it at the &bench"), Page::Bench}}};
    for (const auto &[text, page] : pages)
        add(text, page == Page::Bench ? QKeySequence(Qt::CTRL | Qt::Key_B) : QKeySequence(),
            [this, page] {
                session().selectStation(judge::Station::Wire);
                showPage(page);
            });
    const auto content = [this] {
        return CardContent{*session().car(), session().catalogue(), str(session().workshop().name)};
    };
    add(tr("Print the wiring &card to PDF ..."), {}, [this, content] {
        askAndSave(tr("Save the wiring card"), "-wiring.pdf", tr("PDF (*.pdf)"),
                   [&](const QString &path) { return saveCardPdf(path, content()); });
    });
    add(tr("Save the harness as S&VG ..."), {}, [this, content] {
        askAndSave(tr("Save the harness"), "-harness.svg", tr("SVG (*.svg)"),
                   [&](const QString &path) { return saveHarnessSvg(path, content()); });
    });
    add(tr("Save the wire &list as CSV ..."), {}, [this] {
        askAndSave(tr("Save the wire list"), "-wires.csv", tr("CSV (*.csv)"),
                   [&](const QString &path) -> Result<void> {
                       const auto saved =
                           io::saveFile(path.toStdString(), wiring::wireListCsv(*session().car()));
                       return saved ? Result<void>() : tl::unexpected(saved.error());
                   });
    });
    add(tr("&Read wires from a CSV ..."), {}, [this] { askAndImport(); });
    add(tr("&Write the part tests for the board ..."), {}, [this] {
        const auto folder = QFileDialog::getExistingDirectory(this, tr("Folder for the programs"));
        if (!folder.isEmpty())
            writePartTests(folder);
    });
}

void WireStation::askAndSave(const QString &what, const QString &ending, const QString &filter,
                             const std::function<Result<void>(const QString &)> &save)
{
    if (session().car() == nullptr)
        return emit session().said(tr("There is no car yet."), true);
    const auto path = QFileDialog::getSaveFileName(
        this, what, session().carName().toLower().replace(' ', '-') + ending, filter);
    if (path.isEmpty())
        return;
    const auto ok = save(path);
    emit session().said(ok ? tr("Saved to %1.").arg(path) : str(ok.error().text()), !ok);
}

void WireStation::writePartTests(const QString &folder)
{
    const auto *car = session().car();
    if (car == nullptr)
        return emit session().said(tr("There is no car yet."), true);
    const auto files =
        boardcode::partTests({*car, session().catalogue()}, session().workshop().name);
    if (!files)
        return emit session().said(str(files.error().text()), true);
    QStringList names;
    for (const auto &f : *files) {
        const auto path = QDir(folder).filePath(str(f.name));
        if (const auto saved = io::saveFile(path.toStdString(), f.text); !saved)
            return emit session().said(str(saved.error().text()), true);
        names << str(f.name);
    }
    emit session().said(tr("Written to %1: %2. Wheels off the ground while they are loaded.")
                            .arg(folder, names.join(", ")),
                        false);
}

void WireStation::askAndImport()
{
    const auto path =
        QFileDialog::getOpenFileName(this, tr("Read wires"), {}, tr("CSV (*.csv);;All files (*)"));
    if (path.isEmpty())
        return;
    importFile(path);
}

void WireStation::importFile(const QString &path)
{
    const auto text = io::readFile(path.toStdString()); // no folder, device or pipe
    if (!text)
        return emit session().said(str(text.error().text()), true);
    importList(QByteArray::fromStdString(*text));
}

void WireStation::importList(const QByteArray &text)
{
    const auto *car = session().car();
    if (car == nullptr)
        return emit session().said(tr("Add a car first: Ctrl+Shift+N."), true);
    const auto read = wiring::readWireList(text.toStdString(), {*car, session().catalogue()});
    if (!read)
        return emit session().said(str(read.error().text()), true);
    const auto fresh = read->wires.size() + read->recoloured.size();
    if (fresh > 0 && !editWiring(session(), tr("Read wires from a list"), [&](kit::Car &edited) {
            edited = wiring::withImported(std::move(edited), *read);
        }))
        return;
    QStringList problems;
    constexpr int mostNamed = 12; // more would fill the window
    for (const auto &p : read->problems) {
        if (problems.size() == mostNamed) {
            problems << tr("and %1 rows more").arg(int(read->problems.size()) - mostNamed);
            break;
        }
        problems << tr("row %1, %2: %3").arg(p.row).arg(str(p.text).left(60), str(p.what));
    }
    const auto done = tr("%1 wires added, %2 recoloured, %3 already there")
                          .arg(read->wires.size())
                          .arg(read->recoloured.size())
                          .arg(read->known);
    emit session().said(problems.isEmpty() ? done + "."
                                           : tr("%1. Left out: %2.").arg(done, problems.join("; ")),
                        !problems.isEmpty());
}

} // namespace badger::app
