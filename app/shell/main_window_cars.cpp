// SPDX-License-Identifier: GPL-3.0-or-later
// Cars come, get another name, and go.
#include "app/shell/main_window.h"
#include "app/widgets/text.h"
#include "core/io/shipped.h"

#include <QInputDialog>
#include <QMenu>

namespace badger::app
{

/// The kits as a menu under the pointer or the button: letters, arrows and Enter choose one.
void MainWindow::askNewCar()
{
    auto *menu = new QMenu(this);
    menu->setObjectName("kits");
    menu->setAttribute(Qt::WA_DeleteOnClose);
    menu->setToolTipsVisible(true);
    const auto &kits = io::startingKits();
    for (size_t i = 0; i < kits.size(); ++i) {
        auto *a = menu->addAction(str(kits[i].name));
        a->setToolTip(str(kits[i].line));
        connect(a, &QAction::triggered, this, [this, i] { newCar(i); });
    }
    menu->setActiveAction(menu->actions().front());
    menu->popup(m_cars->mapToGlobal(m_cars->rect().center()));
}

void MainWindow::newCar(size_t kit)
{
    const auto &w = m_session.workshop();
    const auto &starting = io::startingKits().at(kit);
    auto car = starting.car;
    car.id = newId<kit::Car>(m_document.ids());
    car.name = workshop::freeCarName(w, "New car");
    // The one behaviour that can be written as a program here comes with its program.
    std::optional<rules::Program> program;
    if (car.mission && car.mission->behaviour == "halt") {
        program = rules::haltProgram(newId<rules::Program>(m_document.ids()),
                                     workshop::freeProgramName(w, "halt " + car.name));
        car.program = program->id;
    }
    const bool done = m_session.edit(tr("New car"), [&](workshop::Workshop &edited) {
        if (program)
            edited.programs.push_back(*program);
        edited.cars.push_back(car);
    });
    if (!done)
        return;
    m_session.selectCar(car.id);
    m_session.selectStation(judge::Station::Kit);
    say(tr("%1: %2. F2 gives it a name.").arg(str(starting.name), str(starting.line)), false);
}

void MainWindow::renameCar()
{
    const auto *car = m_session.car();
    if (car == nullptr)
        return;
    const auto old = str(car->name);
    bool accepted = false;
    const auto wish = QInputDialog::getText(this, tr("Rename the car"), tr("Name"),
                                            QLineEdit::Normal, old, &accepted)
                          .trimmed();
    if (!accepted || wish == old)
        return;
    constexpr int longestName = 80; // as in the schema
    if (wish.isEmpty() || wish.size() > longestName)
        return say(tr("A name has 1 to %1 characters.").arg(longestName), true);
    m_session.editCar(tr("Rename the car"), [&](kit::Car &c) { c.name = wish.toStdString(); });
}

void MainWindow::removeCar()
{
    const auto *car = m_session.car();
    if (car == nullptr)
        return;
    const auto [id, name] = std::pair(car->id, car->name);
    const bool done = m_session.edit(tr("Remove the car"), [&](workshop::Workshop &w) {
        w.cars.eraseIf([&](const kit::Car &c) { return c.id == id; });
        w.trials.eraseIf([&](const auto &t) { return t.car == id; });
        w.records.eraseIf([&](const auto &r) { return r.car == id; });
    });
    if (!done)
        return;
    m_messages->say(tr("%1 and its runs are removed.").arg(str(name)), MessageBar::Kind::Quiet,
                    MessageBar::Until::NextEdit,
                    {{tr("Undo"), [this] { m_document.undoStack().undo(); }}});
}

} // namespace badger::app
