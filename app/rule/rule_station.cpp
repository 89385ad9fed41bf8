// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/rule/rule_station.h"

#include "app/document/edits.h"
#include "app/widgets/text.h"
#include "core/judge/sums.h"

#include <QAction>
#include <QFileDialog>
#include <QMessageBox>
#include <QPushButton>
#include <QScrollArea>
#include <QStackedWidget>
#include <QVBoxLayout>

namespace badger::app
{

using units::Unit;

RuleStation::RuleStation(Session &session, const Theme &theme, QWidget *parent)
    : StationView(session, theme, parent), m_pages(new QStackedWidget),
      m_start(new RuleStart(session, theme)), m_program(new ProgramPage(session, theme))
{
    m_export = new QAction(tr("&Write the board program ..."), this);
    m_export->setShortcut(QKeySequence(Qt::CTRL | Qt::Key_E));
    connect(m_export, &QAction::triggered, this, &RuleStation::exportProgram);
    // Where the page is too low for all of it (a projector's type), the station scrolls.
    auto *scroll = new QScrollArea;
    scroll->setWidgetResizable(true);
    scroll->setFrameShape(QFrame::NoFrame);
    scroll->setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
    scroll->setWidget(m_program);
    m_pages->addWidget(scroll);
    m_pages->addWidget(m_start);
    auto *outer = new QVBoxLayout(this);
    outer->setContentsMargins(0, 0, 0, 0);
    outer->addWidget(m_pages);
}

void RuleStation::refresh()
{
    const bool any = session().program() != nullptr;
    m_pages->setCurrentIndex(any ? 0 : 1);
    m_export->setEnabled(any);
    if (any)
        m_program->refresh();
    else
        m_start->refresh();
}

Sum RuleStation::sum() const
{
    const auto *j = session().current();
    if (!j || !j->budget)
        return {};
    const auto &b = *j->budget;
    Sum sum;
    const auto cm = [](double m, int decimals = 2) {
        return str(units::fixed(m, Unit::Centimetre, decimals));
    };
    sum.result = cm(b.budget.worstGap_m, 1);
    sum.parts.push_back({"= " + str(units::quantity(b.setup.threshold_m, Unit::Centimetre, 2)),
                         tr("your threshold")});
    for (const auto &t : b.terms)
        if (t.worst_m != 0.0)
            sum.parts.push_back(
                {QStringLiteral("− ") + str(t.how),
                 t.key == "latency" ? tr("age and loop: %1").arg(cm(t.worst_m, 1)) : str(t.name)});
    sum.unfold(judge::whyGap(b, session().car()->wantedGap_m));
    sum.aside = tr("at worst · typically %1").arg(cm(b.budget.typicalGap_m, 1));
    return sum;
}

void RuleStation::reveal(const QString &target)
{
    m_program->reveal(target);
}

void RuleStation::exportProgram()
{
    const auto errors = m_program->codeSheet().errors();
    if (!errors.empty() && !isWanted(errors))
        return;
    const auto folder = QFileDialog::getExistingDirectory(this, tr("Folder for the board program"));
    if (!folder.isEmpty())
        exportTo(folder);
}

/// A program that the check finds an error in is only written when somebody says so.
bool RuleStation::isWanted(const std::vector<Say> &errors)
{
    QStringList all;
    for (const auto &error : errors)
        all << str(error);
    QMessageBox box(QMessageBox::Warning, tr("Board program"),
                    tr("The check finds what stands against this program:"), QMessageBox::Cancel,
                    this);
    box.setTextFormat(Qt::PlainText);
    box.setInformativeText(all.join("\n\n"));
    auto *write = box.addButton(tr("Write it all the same"), QMessageBox::AcceptRole);
    box.setDefaultButton(QMessageBox::Cancel);
    box.exec();
    return box.clickedButton() == static_cast<QAbstractButton *>(write);
}

void RuleStation::exportTo(const QString &folder)
{
    const auto *car = session().car();
    const auto *program = session().program();
    if (car == nullptr || program == nullptr)
        return;
    const auto code = m_program->codeSheet().code();
    if (!code)
        return emit session().said(str(code.error().text()), true);
    for (const auto &file : code->files) {
        const auto path = folder + "/" + str(file.name);
        if (const auto saved = io::saveFile(path.toStdString(), file.text); !saved)
            return emit session().said(str(saved.error().text()), true);
    }
    const int version = program->version;
    session().editProgram(tr("Write the board program"),
                          [](rules::Program &p) { p.writtenVersion = p.version; });
    emit session().said(tr("Version %1 is written to %2. Motor supply open or wheels off the "
                           "ground while it is loaded.")
                            .arg(version)
                            .arg(folder),
                        false);
}

} // namespace badger::app
